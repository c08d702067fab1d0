import { Link } from 'react-router';
import { type ReplyOf } from '../../../../contract/endpoint';
import type { listPolicies } from '../../../../contract/setup/policy';
import { Said } from '../../../kit/note';
import { State } from '../../../kit/state';
import { Day, Small } from '../../../kit/text';
import { BeforeLive } from './before-live';

export type Version = ReplyOf<typeof listPolicies>['rows'][number];

function VersionState({ version }: { version: Version }) {
  if (version.state === 'draft') return <State is="draft" />;
  return version.inForce ? (
    <State is="live" word="in force" />
  ) : version.inNotice ? (
    <State is="in notice" word="in its notice" />
  ) : (
    <State is="done" word="replaced" />
  );
}

/** The versions, each with where it stands. */
export function VersionList({
  rows,
  id,
  show,
}: {
  rows: Version[];
  id: string | null;
  show: (id: string | null) => void;
}) {
  return (
    <section
      className="flex w-[270px] shrink-0 flex-col overflow-auto border-r border-rule px-4 pt-3"
      tabIndex={0}
      aria-label="Versions"
    >
      <h1>Policy</h1>
      <Said>
        What affiliates agree to.{' '}
        <Link className="link-lined" to="/as">
          As they see it
        </Link>
      </Said>
      <ul className="-mx-4 mt-3">
        {rows.map((r) => (
          <li
            key={r.id}
            className={`border-b border-rule2 ${r.id === id ? 'bg-sheet shadow-[inset_3px_0_var(--color-copper)]' : ''}`}
          >
            <button
              type="button"
              aria-current={r.id === id}
              onClick={() => show(r.id)}
              className="block w-full px-4 py-2 text-left"
            >
              <span className="flex justify-between">
                <b className="font-semibold">Version {r.number}</b>
                <VersionState version={r} />
              </span>
              <Small>
                {r.state === 'draft' ? (
                  <>by {r.by}</>
                ) : (
                  <>
                    from <Day at={r.holdsFrom} /> · accepted by {r.accepted}
                    {r.outstanding > 0 && <span className="text-ochre">, {r.outstanding} outstanding</span>}
                  </>
                )}
              </Small>
            </button>
          </li>
        ))}
      </ul>
      <BeforeLive />
    </section>
  );
}

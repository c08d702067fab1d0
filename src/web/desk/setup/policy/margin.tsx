import { Link } from 'react-router';
import { type ReplyOf } from '../../../../contract/endpoint';
import type { readPolicy } from '../../../../contract/setup/policy';
import { Said } from '../../../kit/note';
import { PolicyChanges } from '../../../kit/policy';
import { Day, Sums } from '../../../kit/text';

export type Whole = ReplyOf<typeof readPolicy>;

export const endWords = {
  remind: 'reminded',
  'hold-pay': 'not paid until they do',
  pause: 'paused until they do',
} as const;

/** Acceptance, and what differs from the version before. */
export function PolicyMargin({ p }: { p: Whole }) {
  return (
    <aside
      className="w-[360px] shrink-0 overflow-auto border-l border-rule px-[18px] py-4"
      tabIndex={0}
      aria-label="Margin"
    >
      <Acceptance p={p} />
      <h2 className={p.state === 'published' ? 'mt-5' : ''}>
        {p.changes.length
          ? `What differs from version ${p.number - 1}`
          : p.number === 1
            ? 'The first version'
            : 'Nothing differs from the version before'}
      </h2>
      <PolicyChanges sections={p.changes} />
    </aside>
  );
}

/** Who has accepted it, and what becomes of those who have not. */
function Acceptance({ p }: { p: Whole }) {
  if (!(p.state === 'published')) return null;
  return (
    <>
      <h2>Acceptance</h2>
      <div className="mt-1">
        <Sums
          rows={[
            { label: 'Published', figure: <Day at={p.publishedAt} /> },
            {
              label: p.inNotice ? 'Will hold from' : 'Holds from',
              figure: <Day at={p.holdsFrom} />,
            },
            { label: 'Accepted by', figure: p.accepted },
            { label: 'Outstanding', figure: p.outstanding, weight: 'sum' },
          ]}
        />
      </div>
      {p.outstanding > 0 && (
        <Said gap={2}>
          At the end of the notice they are {endWords[p.content.atEnd]}:{' '}
          {p.unacceptedSample.map((a, i) => (
            <span key={a.id}>
              {i > 0 && ', '}
              <Link className="link" to={`/affiliates/${a.id}`}>
                {a.name}
              </Link>
            </span>
          ))}
          {p.outstanding > p.unacceptedSample.length && (
            <>
              {' '}
              and{' '}
              <Link className="link" to="/affiliates?only=unaccepted">
                {p.outstanding - p.unacceptedSample.length} more
              </Link>
            </>
          )}
          .
        </Said>
      )}
    </>
  );
}

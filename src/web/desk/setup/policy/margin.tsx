import { Link } from 'react-router';
import { type ReplyOf } from '../../../../contract/endpoint';
import type { readPolicy } from '../../../../contract/setup/policy';
import { counted } from '../../../../core/text/counted';
import { Said } from '../../../kit/note';
import { countOfChanges, PolicyChanges } from '../../../kit/policy';
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
      className={`shrink-0 overflow-auto border-l border-rule px-[18px] py-4 ${p.state === 'draft' ? 'w-[260px]' : 'w-[360px]'}`}
      tabIndex={0}
      aria-label="Margin"
    >
      <Acceptance p={p} />
      <h2 className={p.state === 'published' ? 'mt-5' : ''}>
        {countOfChanges(p.changes)
          ? `What differs from version ${p.number - 1}`
          : p.number === 1
            ? 'The first version'
            : 'Nothing differs from the version before'}
      </h2>
      <PolicyChanges changes={p.changes} />
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
      {p.closedFor !== null && (
        <Said gap={2}>
          Its notice ended on <Day at={p.closedAt} />: {counted(p.closedFor, 'affiliate')} had not accepted it
          {p.closedFor > 0 && ` and ${p.closedFor === 1 ? 'is' : 'are'} ${endWords[p.content.atEnd]}`}.
        </Said>
      )}
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

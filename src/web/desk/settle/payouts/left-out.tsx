import { useState } from 'react';
import { Link } from 'react-router';
import { listLeftOut, type LeftOutRow, type RunOut } from '../../../../contract/settle/payouts';
import { type Id } from '../../../../core/text/id';
import { DottedItem } from '../../../kit/dotted';
import { under, useList } from '../../../kit/lists';
import { Failed } from '../../../kit/place';
import { Money } from '../../../kit/text';

type Reason = LeftOutRow['reason'];

/** Who is left out of a draft: how many for which reason, and the names behind one of them, some at a time. */
export function LeftOut({
  run,
  takeIn,
}: {
  run: RunOut;
  takeIn: ((affiliate: Id<'affiliate'>) => void) | null;
}) {
  const [chosen, setReason] = useState<Reason | null>(null);
  // whoever is taken in again may have been the last for that reason
  const reason = run.leftOutSums.some((s) => s.reason === chosen) ? chosen : null;
  const list = useList(under(listLeftOut, run.id), reason ? { reason } : {}, 50);
  const all = run.leftOutSums.reduce((sum, s) => sum + s.count, 0);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  const ofReason = run.leftOutSums.find((s) => s.reason === reason)?.count ?? all;
  return (
    <section aria-label="Left out">
      <h2 className="mt-5">Left out</h2>
      {run.leftOutSums.length > 1 && (
        <ul className="mb-2">
          {run.leftOutSums.map((s) => (
            <li key={s.reason} className="flex justify-between gap-2 py-[2px]">
              <button
                type="button"
                className="link text-left"
                aria-pressed={reason === s.reason}
                onClick={() => setReason(reason === s.reason ? null : s.reason)}
              >
                <span className={reason === s.reason ? 'font-semibold' : ''}>
                  {s.count.toLocaleString('en-GB')} {s.said}
                </span>
              </button>
              <Money value={s.amount} />
            </li>
          ))}
        </ul>
      )}
      <ul className="border-t border-rule">
        {list.rows.map((l) => (
          <DottedItem key={l.affiliate}>
            <div className="flex justify-between gap-2">
              <Link className="link" to={`/affiliates/${l.affiliate}`}>
                {l.name}
              </Link>
              <Money value={l.amount} />
            </div>
            <div className="text-ink3">
              {l.why}
              {l.byHand && takeIn && (
                <>
                  {' '}
                  ·{' '}
                  <button type="button" className="link" onClick={() => takeIn(l.affiliate)}>
                    take in again
                  </button>
                </>
              )}
            </div>
          </DottedItem>
        ))}
      </ul>
      {list.onEnd && (
        <button type="button" className="link mt-2" onClick={list.onEnd}>
          show more of {ofReason.toLocaleString('en-GB')}
        </button>
      )}
    </section>
  );
}

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { listEarnings, readEarning } from '../../contract/portal/portal';
import type { Id } from '../../core/text/id';
import { asking } from '../kit/asking';
import { Button } from '../kit/button';
import { Dialog, DialogFoot } from '../kit/dialog';
import { useList } from '../kit/lists';
import { Empty, Failed, Skeleton } from '../kit/place';
import { State } from '../kit/state';
import { Day, Money } from '../kit/text';
import { Working } from '../kit/working';

/** A figure that a phone has no room for. */
const wide = 'figure hidden sm:table-cell';

/** Own orders and commissions, each with its working. */
export function Earnings() {
  const list = useList(listEarnings, {});
  const [opened, setOpened] = useState<Id<'commission'> | null>(null);
  if (list.failed) return <Failed fault={list.failed} retry={list.again} />;
  return (
    <>
      <h1>Earnings</h1>
      {list.loading && list.rows.length === 0 && <Skeleton />}
      {!list.loading && list.rows.length === 0 && (
        <div className="mt-3">
          <Empty title="Nothing earned yet">
            Every sale that a visitor from you brings appears here, with how its amount came about.
          </Empty>
        </div>
      )}
      {list.rows.length > 0 && (
        <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Earnings">
          <table className="mt-3 table">
            <thead>
              <tr>
                <th>Sold</th>
                <th>Product</th>
                <th className={wide}>Value</th>
                <th className="figure">Commission</th>
                <th>State</th>
                <th className={wide}>Clears</th>
                <th className="hidden sm:table-cell" />
              </tr>
            </thead>
            <tbody>
              {list.rows.map((r) => (
                <tr key={r.id} data-open="" onClick={() => setOpened(r.id)}>
                  <td>
                    <Day at={r.soldAt} />
                  </td>
                  <td className="max-sm:whitespace-normal!">
                    <button
                      type="button"
                      className="text-left sm:pointer-events-none"
                      onClick={(e) => {
                        e.stopPropagation();
                        setOpened(r.id);
                      }}
                    >
                      {r.kind === 'commission' ? (
                        r.products
                      ) : (
                        <>
                          {r.kind === 'referral' ? 'Referral share' : 'Co-owner share'} ·{' '}
                          <span className="text-ink3">{r.products}</span>
                        </>
                      )}
                    </button>
                  </td>
                  <td className={wide}>
                    <Money value={r.value} />
                  </td>
                  <td className="figure">
                    <Money value={r.left} />
                    {r.left.amount !== r.granted.amount && (
                      <span className="text-ink3 max-sm:hidden">
                        {' '}
                        of <Money value={r.granted} />
                      </span>
                    )}
                  </td>
                  <td>
                    <State is={r.state} />
                  </td>
                  <td className={wide}>
                    <Day at={r.clearsAt} />
                  </td>
                  <td className="hidden sm:table-cell">
                    <button
                      type="button"
                      className="link"
                      onClick={(e) => {
                        e.stopPropagation();
                        setOpened(r.id);
                      }}
                    >
                      how it came about
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {list.onEnd && (
        <Button className="mt-3" onClick={list.onEnd}>
          Earlier
        </Button>
      )}
      {opened && <EarningDialog id={opened} onClose={() => setOpened(null)} />}
    </>
  );
}

function EarningDialog({ id, onClose }: { id: Id<'commission'>; onClose: () => void }) {
  const query = useQuery(asking(readEarning, { params: { id } }));
  return (
    <Dialog
      wide
      open
      onClose={onClose}
      title="How this amount came about"
      about={
        query.data && (
          <>
            {query.data.row.products}, sold <Day at={query.data.row.soldAt} />
            {query.data.row.declined && (
              <span className="text-madder"> · declined: {query.data.row.declined}</span>
            )}
          </>
        )
      }
    >
      {query.isPending && <Skeleton lines={5} />}
      {query.error && <Failed fault={query.error} />}
      {query.data && <Working working={query.data.working} />}
      <DialogFoot>
        <Button onClick={onClose}>Close</Button>
      </DialogFoot>
    </Dialog>
  );
}

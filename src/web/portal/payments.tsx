import { useQuery } from '@tanstack/react-query';
import { listOwnPayments, ownStatement } from '../../contract/portal/portal';
import { paymentLabels } from '../../core/payouts/lists';
import { addressOf } from '../kit/api';
import { asking } from '../kit/asking';
import { Empty, Failed, Skeleton } from '../kit/place';
import { State } from '../kit/state';
import { Day, Money } from '../kit/text';

/** Own payments, each with its statement. */
export function Payments() {
  const query = useQuery(asking(listOwnPayments));
  if (query.isPending) return <Skeleton />;
  if (query.error) return <Failed fault={query.error} retry={() => void query.refetch()} />;
  const { rows } = query.data;
  return (
    <>
      <h1>Payouts</h1>
      {rows.length === 0 ? (
        <div className="mt-3">
          <Empty title="No payout yet">
            When your cleared balance is paid, the payment and its statement are here.
          </Empty>
        </div>
      ) : (
        <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Payouts">
          <table className="mt-3 table">
            <thead>
              <tr>
                <th>Run</th>
                <th className="figure">Amount</th>
                <th>State</th>
                <th>Since</th>
                <th>Promised by</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.id}>
                  <td>{r.run}</td>
                  <td className="figure font-semibold">
                    <Money value={r.amount} />
                  </td>
                  <td>
                    <State is={r.state} word={paymentLabels[r.state]} />
                    {r.reason && r.state !== 'settled' && <span className="text-ink3"> {r.reason}</span>}
                  </td>
                  <td>
                    <Day at={r.at} />
                  </td>
                  <td>
                    <Day at={r.promisedAt} />
                  </td>
                  <td>
                    <a className="link" href={addressOf(ownStatement, { id: r.id })} download>
                      statement
                    </a>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}

import { Link, useNavigate } from 'react-router';
import { Said } from '../../../../kit/note';
import { State } from '../../../../kit/state';
import { Code, Day, Money } from '../../../../kit/text';
import { type View } from './view';

export function Commissions({ affiliate }: { affiliate: View }) {
  const navigate = useNavigate();
  if (!affiliate.commissions.length) return <Said>No commission yet.</Said>;
  return (
    <table className="table">
      <thead>
        <tr>
          <th>Sold</th>
          <th>Order</th>
          <th>Product</th>
          <th className="figure">Value</th>
          <th className="figure">Commission</th>
          <th>State</th>
          <th className="figure">Clears</th>
        </tr>
      </thead>
      <tbody>
        {affiliate.commissions.map((c) => (
          <tr key={c.id} data-open="" onClick={() => void navigate(`/sales/${c.order}`)}>
            <td>
              <Day at={c.soldAt} />
            </td>
            <td>
              <Link className="link" to={`/sales/${c.order}`} onClick={(e) => e.stopPropagation()}>
                <Code>{c.reference}</Code>
              </Link>
            </td>
            <td>
              {c.kind === 'commission' ? (
                c.product
              ) : (
                <>
                  {c.kind === 'referral' ? 'Referral share' : 'Co-owner share'},{' '}
                  <span className="text-ink3">{c.product}</span>
                </>
              )}
            </td>
            <td className="figure">
              <Money value={c.value} />
            </td>
            <td className="figure">
              <Money value={c.left} />
            </td>
            <td>
              <State is={c.state} />
            </td>
            <td className="figure">
              <Day at={c.clearsAt} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

import { Link } from 'react-router';
import type { ReplyOf } from '../../../contract/endpoint';
import type { previewPlaces } from '../../../contract/setup/sets';
import { Said } from '../../kit/note';

type Change = Pick<ReplyOf<typeof previewPlaces>, 'affiliate' | 'name' | 'handle' | 'changes'>;

/** What people earn before and after a change of their terms, product by product, only where it differs. */
export function BeforeAfter({
  changes,
  total,
  alone = false,
}: {
  changes: Change[];
  total: number;
  alone?: boolean;
}) {
  const changed = changes.filter((c) => c.changes.length > 0);
  if (changes.length === 0) return null;
  if (changed.length === 0)
    return (
      <Said gap={3}>
        {alone ? 'Nothing changes: every rate stays as it is.' : 'Nobody’s terms change by it.'}
      </Said>
    );
  return (
    <div
      className="mt-3 max-h-[300px] overflow-auto"
      tabIndex={0}
      role="region"
      aria-label="Before and after"
    >
      <table className="table">
        <thead>
          <tr>
            {!alone && <th>Affiliate</th>}
            <th>Product</th>
            <th className="figure">Before</th>
            <th className="figure">After</th>
          </tr>
        </thead>
        <tbody>
          {changed.flatMap((c) =>
            c.changes.map((p, i) => (
              <tr key={`${c.affiliate}-${p.product}`}>
                {!alone && (
                  <td>
                    {i === 0 ? (
                      <Link className="link" to={`/affiliates/${c.affiliate}`}>
                        {c.name}
                      </Link>
                    ) : (
                      ''
                    )}
                  </td>
                )}
                <td>{p.product}</td>
                <td className="figure text-ink2">{p.before}</td>
                <td className="figure font-semibold">{p.after}</td>
              </tr>
            )),
          )}
        </tbody>
      </table>
      {total > changes.length && (
        <Said faint>
          The first {changes.length} of {total.toLocaleString('en-GB')}.
        </Said>
      )}
    </div>
  );
}

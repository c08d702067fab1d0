import type { ReplyOf } from '../../../../../contract/endpoint';
import type { weighDecision } from '../../../../../contract/recruit/applications';
import { Note } from '../../../../kit/note';
import { Money, Share } from '../../../../kit/text';

type Weighed = ReplyOf<typeof weighDecision>;

function weakInWords(weak: number, all: number): string {
  if (weak < all) return `The evidence of ${weak} is weak`;
  return weak === 1 ? 'The evidence is weak' : 'The evidence of all is weak';
}

/** What could be lost by paying these applicants at sale: who is weak, and the loss in 100 sales of each. */
export function Risk({ weighed }: { weighed: Weighed }) {
  const weak = weighed.rows.filter((r) => r.weak);
  return (
    <>
      {weak.length > 0 && (
        <Note role="alert" className="mb-2">
          <b className="font-semibold">{weakInWords(weak.length, weighed.rows.length)}</b>: fewer than 10
          cleared sales, or refunds above your line. At sale, refunds after payment are out of your pocket
          until they are netted.
        </Note>
      )}
      <div className="max-h-[220px] overflow-auto" tabIndex={0} role="region" aria-label="What could be lost">
        <table className="sums">
          <thead>
            <tr className="text-[12px] text-ink3">
              <th className="text-left font-normal">Applicant</th>
              <th className="text-right font-normal">Cleared</th>
              <th className="text-right font-normal">Refund rate</th>
              <th className="pl-3 text-right font-normal">Lost in 100 sales</th>
            </tr>
          </thead>
          <tbody>
            {[...weighed.rows]
              .sort((a, b) => Number(b.weak) - Number(a.weak))
              .map((r) => (
                <tr key={r.id} className={r.weak ? 'text-ochre' : ''}>
                  <td className="private">{r.name}</td>
                  <td className="text-right">{r.cleared}</td>
                  <td className="text-right">
                    <Share ppm={r.refundRate} />
                  </td>
                  <td>
                    <Money value={r.loss} />
                  </td>
                </tr>
              ))}
            {weighed.rows.length > 1 && (
              <tr className="sum">
                <td>Together, with 100 sales each</td>
                <td />
                <td />
                <td>
                  <Money value={weighed.loss} />
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
    </>
  );
}

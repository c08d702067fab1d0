import { timingWords } from '../../../../../core/ledger/timing';
import { Copy } from '../../../../kit/copy';
import { Said } from '../../../../kit/note';
import { Code } from '../../../../kit/text';
import { type View } from './view';

/** What it earns with each product, by which link. */
export function TermsInForce({ affiliate }: { affiliate: View }) {
  if (affiliate.terms.length === 0) return <Said>Approved for nothing now.</Said>;
  return (
    <table className="table">
      <thead>
        <tr>
          <th>Product</th>
          <th className="figure">Earns</th>
          <th>From</th>
          <th>Paid</th>
          <th>Tracking link</th>
        </tr>
      </thead>
      <tbody>
        {affiliate.terms.map((t) => (
          <tr key={t.product}>
            <td>
              {t.name} <Code>{t.code}</Code>
            </td>
            <td className="figure max-w-[140px] whitespace-normal!">
              <span className="private font-semibold">{t.reward}</span>
              {t.renewals && <span className="private block text-ink3">renewals {t.renewals}</span>}
            </td>
            <td className="text-ink2">
              {t.rung ?? '—'}
              {t.locked && <span className="block text-[12px]">locked</span>}
              {t.raised && <span className="block text-[12px]">raised</span>}
            </td>
            <td className="text-ink2">{timingWords[t.timing]}</td>
            <td>
              {t.link ? (
                <>
                  <Code>{t.link.replace(/^https?:\/\//, '')}</Code> <Copy text={t.link} />
                </>
              ) : (
                '—'
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

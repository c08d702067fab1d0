import type { PortalHome } from '../../../contract/portal/home';
import { countChange, shareChange } from '../../../core/figures/change';
import { Small } from '../../kit/text';

type Both = PortalHome['going'];

const share = (ppm: number) => (ppm / 10_000).toFixed(1);

/** How it goes: the last thirty days, and how they differ from the thirty before. */
export function Going({ going: { now, before } }: { going: Both }) {
  return (
    <section aria-labelledby="going">
      <h2 id="going">How it goes</h2>
      <table className="mt-1 w-full">
        <tbody>
          <Line name="Clicks" value={now.clicks} was={before.clicks} asShare />
          <Line name="Orders" value={now.orders} was={before.orders} />
          <tr className="border-b border-rule2">
            <th scope="row" className="py-[6px] text-left font-normal text-ink2">
              Orders from 100 clicks
            </th>
            <td className="text-right">
              {now.conversion ? share(now.conversion.ppm) : '—'}{' '}
              {now.conversion && (
                <Small>
                  {share(now.conversion.low)}–{share(now.conversion.high)}
                </Small>
              )}
            </td>
            <td className="pl-3 text-right text-ink2">
              {shareChange(now.conversion?.ppm ?? null, before.conversion?.ppm ?? null)}
            </td>
          </tr>
          <Line name="Sent back" value={now.sentBack} was={before.sentBack} />
        </tbody>
      </table>
      <Small below>in 30 days, and against the 30 before</Small>
    </section>
  );
}

interface LineProps {
  name: string;
  value: number;
  was: number;
  /** many: the difference is said as a share */
  asShare?: boolean;
}

function Line({ name, value, was, asShare = false }: LineProps) {
  return (
    <tr className="border-b border-rule2">
      <th scope="row" className="py-[6px] text-left font-normal text-ink2">
        {name}
      </th>
      <td className="text-right">{value.toLocaleString('en-GB')}</td>
      <td className="pl-3 text-right text-ink2">{countChange(value, was, { asShare })}</td>
    </tr>
  );
}

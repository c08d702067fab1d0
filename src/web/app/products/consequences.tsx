import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { askRateBook } from '../../../contract/ratebook';
import type { ProductIn, ProductOut } from '../../../contract/products';
import { formatMoney, parseAmount } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { formatPercent, parsePercent } from '../../../core/money/percent';
import type { MarginRow } from '../../../core/pricing/economics';
import { marginOf, saleEconomics } from '../../../core/pricing/economics';
import type { Pay } from '../../../core/terms/rate';
import { call } from '../../kit/api';
import { Pick } from '../../kit/pick';
import { useProgramme } from '../../kit/programme';
import { Sums } from '../../kit/text';
import { findAffiliates } from '../terms/book';

interface Props { values: ProductIn; product: ProductOut | null; programmeRate: string }
const labels: Record<MarginRow['label'], string> = { price: 'Price', fees: 'Payment fees', refunds: 'Refunds, on average', commission: 'Commission, less what refunds take back', left: 'Left to you, before cost' };

function payOf(kind: ProductIn['rewardKind'] | undefined, reward: string, programmeRate: string, base: string): Pay | null {
  if (kind === 'flat') {
    const flat = parseAmount(reward, base);
    return flat.ok ? { type: 'flat-order', amount: flat.value } : null;
  }
  const percent = parsePercent(kind === 'percent' ? reward : programmeRate);
  return percent.ok ? { type: 'percent', ppm: percent.value } : null;
}

/** What a payment earns an affiliate and leaves the merchant, while it is typed; beside it, for a chosen affiliate. */
export function Consequences({ values, product, programmeRate }: Props) {
  const { base } = useProgramme();
  const [who, setWho] = useState<{ id: string; name: string } | null>(null);
  const costs = product?.economics ?? { feePpm: 0, feeFixed: 0, refundPpm: 50_000, lowEarning: 0 };
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const known = isCurrency(values.currency);
  const price = known && values.kind !== 'free' ? parseAmount(values.price, values.currency) : null;
  const pay = payOf(values.rewardKind, values.reward, programmeRate, base);
  const theirs = useQuery({ queryKey: ['ask', 'editor', who?.id, product?.id, values.price], enabled: who !== null && product !== null && Boolean(price?.ok), retry: false, queryFn: () => call(askRateBook, { query: { column: 'affiliate', who: who!.id, product: product!.id, value: values.price, currency: values.currency } }) });
  if (values.kind === 'free') return pay && pay.type === 'flat-order' ? <Sums rows={[{ label: 'Price', figure: say(0) }, { label: 'Commission a lead', figure: say(-pay.amount) }, { label: 'A lead costs you', figure: say(-pay.amount), weight: 'sum' }]} /> : <p className="text-ink2">An amount a lead shows here what a lead costs.</p>;
  if (!price?.ok || !pay) return <p className="text-ink2">A price and a commission show here what one sale earns an affiliate, and what it leaves you.</p>;
  if (values.currency !== base) return <p className="text-ink2">The price is in {values.currency}. Orders are converted to {base} at the rate of their day before commission is worked out.</p>;
  const { commission, per100Clicks } = saleEconomics(price.value, pay, product?.conversion ?? null);
  const renewal = values.kind === 'recurring' ? parseAmount(values.renewalPrice ?? '', base) : null;
  const later = renewal?.ok ? payOf(values.renewalRewardKind, values.renewalReward ?? '', '', base) : null;
  const laterCommission = renewal?.ok && later ? saleEconomics(renewal.value, later, null).commission : 0;
  const rows = marginOf(price.value, commission, costs);
  const left = rows.at(-1)!.amount;
  return (
    <>
      <Sums rows={rows.map((r) => ({ label: r.label === 'refunds' ? `${labels.refunds} ${formatPercent(Math.round(costs.refundPpm / 1000) * 1000)}` : labels[r.label], figure: say(r.amount), weight: r.label === 'left' ? 'sum' as const : 'part' as const }))} />
      {left < 0 && <p className="mt-1 text-madder">A sale would cost you more than it brings.</p>}
      {renewal?.ok && <div className="mt-3"><h3 className="font-semibold">Each renewal</h3><Sums rows={marginOf(renewal.value, laterCommission, costs).map((r) => ({ label: labels[r.label], figure: say(r.amount), weight: r.label === 'left' ? 'sum' as const : 'part' as const }))} /></div>}
      <h2 className="mt-4">To an affiliate</h2>
      <div className="mt-1"><Sums rows={[
        { label: values.kind === 'recurring' ? 'The first payment' : 'One sale', figure: say(commission) }, ...(renewal?.ok ? [{ label: 'Each renewal', figure: say(laterCommission) }] : []),
        per100Clicks === null ? { label: '100 clicks: no clicks yet to tell', figure: '—', weight: 'aside' as const } : { label: `100 clicks, at ${formatPercent(Math.round((product?.conversion ?? 0) / 1000) * 1000)} conversion`, figure: say(per100Clicks) },
      ]} /></div>
      {costs.lowEarning > 0 && commission < costs.lowEarning && <p className="mt-2 border-l-[3px] border-ochre bg-ochre-wash px-3 py-2">{say(commission)} a sale is too little for most affiliates to promote it; your line is {say(costs.lowEarning)}.</p>}
      {product && <p className="mt-2 text-ink2">For <Pick label="For a chosen affiliate" find={findAffiliates} onPick={setWho}>{who ? who.name : 'a chosen affiliate'}</Pick>{who && theirs.data && <>: <b className="font-semibold">{formatMoney(theirs.data.total)}</b> under the saved terms</>}</p>}
    </>
  );
}

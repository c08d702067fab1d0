import { formatMoney, parseAmount } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { formatPercent, parsePercent } from '../../../core/money/percent';
import { saleEconomics } from '../../../core/pricing/economics';
import type { Pay } from '../../../core/terms/rate';
import { useProgramme } from '../../kit/programme';
import { Sums } from '../../kit/text';

interface Props { price: string; currency: string; rewardKind: string; reward: string; conversion: number | null; programmeRate: string }

function rewardOf({ rewardKind, reward, programmeRate }: Props, base: string): { reward: Pay; from: string } | null {
  if (rewardKind === 'flat') {
    const flat = parseAmount(reward, base);
    return flat.ok ? { reward: { type: 'flat-order', amount: flat.value }, from: 'this product’s' } : null;
  }
  const text = rewardKind === 'percent' ? reward : programmeRate;
  const percent = parsePercent(text);
  return percent.ok ? { reward: { type: 'percent', ppm: percent.value }, from: rewardKind === 'percent' ? 'this product’s' : 'the programme’s' } : null;
}

/** What one sale earns an affiliate and leaves the merchant, while it is typed. */
export function Consequences(props: Props) {
  const { base } = useProgramme();
  const price = isCurrency(props.currency) ? parseAmount(props.price, props.currency) : null;
  const found = rewardOf(props, base);
  if (!price?.ok || !found) return <p className="text-ink2">A price and a commission show here what one sale earns an affiliate, and what it leaves you.</p>;
  if (props.currency !== base) return <p className="text-ink2">The price is in {props.currency}. Orders are converted to {base} at the rate of their day before commission is worked out.</p>;
  const { commission, left, per100Clicks } = saleEconomics(price.value, found.reward, props.conversion);
  const say = (amount: number) => formatMoney({ amount, currency: base });
  return (
    <>
      <Sums rows={[
        { label: 'Price', figure: say(price.value) },
        { label: `Commission, ${found.reward.type === 'percent' ? formatPercent(found.reward.ppm) : 'flat an order'}, ${found.from} rate`, figure: say(-commission) },
        { label: 'Left to you, before cost', figure: say(left), weight: 'sum' },
      ]} />
      <h2 className="mt-4">To an affiliate</h2>
      <div className="mt-1"><Sums rows={[
        { label: 'One sale', figure: say(commission) },
        per100Clicks === null ? { label: '100 clicks: no clicks yet to tell', figure: '—', weight: 'aside' } : { label: `100 clicks, at ${formatPercent(Math.round((props.conversion ?? 0) / 1000) * 1000)} conversion`, figure: say(per100Clicks) },
      ]} /></div>
    </>
  );
}

import type { ReplyOf } from '../../../../contract/endpoint';
import type { ProductIn, ProductOut } from '../../../../contract/setup/products';
import type { askRateBook } from '../../../../contract/setup/rate-book';
import type { readProgramme } from '../../../../contract/setup/settings';
import { parseAmount } from '../../../../core/money/amount';
import { formatPercent, parsePercent } from '../../../../core/money/percent';
import { steppedPrice } from '../../../../core/pricing/product';
import { shrunkRefundRate } from '../../../../core/recruiting/evidence';
import type { Pay } from '../../../../core/terms/rate';

type Costs = ProductOut['economics'];

type Settings = Pick<
  ReplyOf<typeof readProgramme>,
  'feePercent' | 'feeFixed' | 'lowEarning' | 'referralPercent' | 'referralOf'
>;

/** What a sale of a product costs that nobody has bought yet: fees, referral share and the line of small earnings as the settings say, refunds as usual. */
export function costsBeforeSales(settings: Settings | undefined, base: string): Costs {
  const percent = (text = '') => {
    const parsed = parsePercent(text || '0');
    return parsed.ok ? parsed.value : 0;
  };
  const amount = (text = '') => {
    const parsed = parseAmount(text || '0', base);
    return parsed.ok ? parsed.value : 0;
  };
  const referral = percent(settings?.referralPercent);
  return {
    feePpm: percent(settings?.feePercent),
    feeFixed: amount(settings?.feeFixed),
    lowEarning: amount(settings?.lowEarning),
    refundPpm: shrunkRefundRate(0, 0),
    discountPpm: 0,
    owners: [],
    referral: settings && referral > 0 ? { ppm: referral, of: settings.referralOf } : null,
    follow: [],
  };
}

/** The price that the next buyer is asked, minor units: what is typed, raised by what was sold where it is stepped. @param price where it begins, minor units */
export function priceOfNextSale(
  {
    step,
    stepEvery,
    stepCeiling,
    currency,
  }: Pick<ProductIn, 'step' | 'stepEvery' | 'stepCeiling' | 'currency'>,
  { price, sold }: { price: number; sold: number },
): number {
  const [rise, ceiling] = [parseAmount(step ?? '', currency), parseAmount(stepCeiling ?? '', currency)];
  const every = Number(stepEvery ?? '');
  if (!rise.ok || rise.value === 0 || !ceiling.ok || !every || ceiling.value <= price) return price;
  return steppedPrice(price, { step: rise.value, every, ceiling: ceiling.value }, sold + 1);
}
/** A share in whole thousandths, as a percentage. */
export const round = (ppm: number) => formatPercent(Math.round(ppm / 1000) * 1000);

/** What a reward as it is typed pays: a flat amount, or a percent, the programme’s own where the product has none. Null while it cannot be read. */
export function payOf(
  kind: ProductIn['rewardKind'] | undefined,
  reward: string,
  programmeRate: string,
  base: string,
): Pay | null {
  if (kind === 'flat') {
    const flat = parseAmount(reward, base);
    return flat.ok ? { type: 'flat-order', amount: flat.value } : null;
  }
  const percent = parsePercent(kind === 'percent' ? reward : programmeRate);
  return percent.ok ? { type: 'percent', ppm: percent.value } : null;
}

/** What decides for an affiliate: the rate that is typed here, or another of the saved book. */
export interface Decided {
  pay: Pay | null;
  /** the rung that won, ‘none’ where no rate applies */
  rung: string;
  /** true where it is the rate that is being typed */
  typed: boolean;
}

/** What an answer of the rate book comes to while a rate is typed: the typed one counts where the product’s or the programme’s own decided and nothing was raised. */
export function decidedBy(
  answer: Pick<ReplyOf<typeof askRateBook>, 'lines' | 'total'>,
  typed: Pay | null,
): Decided {
  const { rungs } = answer.lines[0]!;
  const wins = (rung: (typeof rungs)[number]) => rung.rows.some((row) => row.outcome === 'wins');
  const won = rungs.find(wins)?.rung ?? 'none';
  const raised = rungs.some((r) => r.rung === 'Uplift' && wins(r));
  const own = (won === 'Product' || won === 'Programme') && !raised;
  return {
    pay: own ? typed : { type: 'flat-order', amount: answer.total.amount },
    rung: won,
    typed: own,
  };
}

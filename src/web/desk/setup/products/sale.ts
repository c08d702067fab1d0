import type { ReplyOf } from '../../../../contract/endpoint';
import type { ProductIn, ProductOut } from '../../../../contract/setup/products';
import type { askRateBook } from '../../../../contract/setup/rate-book';
import { parseAmount } from '../../../../core/money/amount';
import { formatPercent, parsePercent } from '../../../../core/money/percent';
import {
  marginDown,
  marginOf,
  saleEconomics,
  usuallyPaid,
  type MarginRow,
  type SalePromises,
} from '../../../../core/pricing/economics';
import type { Pay } from '../../../../core/terms/rate';

type Costs = ProductOut['economics'];

export const noCosts: Costs = {
  feePpm: 0,
  feeFixed: 0,
  refundPpm: 50_000,
  lowEarning: 0,
  discountPpm: 0,
  owners: [],
  referral: null,
  follow: [],
};
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

/** A sale as it is typed, in the programme’s currency. */
export interface Sale {
  /** the list price, minor units */
  price: number;
  pay: Pay | null;
  renewal: { price: number; pay: Pay | null } | null;
  referral: SalePromises['referral'];
  /** orders by clicks in ppm, null as long as nothing tells */
  conversion: number | null;
}

/** What a sale earns an affiliate and leaves the merchant, its renewals, and what comes down the funnel. Amounts in minor units. */
export function consequencesOf(sale: Sale, costs: Costs) {
  const promises = (pay: Pay | null): SalePromises => ({
    pay,
    referral: sale.referral,
    owners: costs.owners,
  });
  const rows = marginOf(sale.price, promises(sale.pay), costs);
  const paid = usuallyPaid(sale.price, costs.discountPpm);
  const earned = sale.pay
    ? saleEconomics(paid, sale.pay, sale.conversion)
    : { commission: 0, per100Clicks: null };
  const offers = costs.follow.map((f) => ({
    takenPpm: f.takenPpm,
    rows: marginOf(
      f.price,
      { pay: { type: 'flat-order', amount: f.commission }, referral: sale.referral, owners: f.owners },
      { ...costs, discountPpm: 0, refundPpm: f.refundPpm },
    ),
  }));
  return {
    ...earned,
    rows,
    renewal: sale.renewal && {
      rows: marginOf(sale.renewal.price, promises(sale.renewal.pay), { ...costs, discountPpm: 0 }),
      commission: sale.renewal.pay ? saleEconomics(sale.renewal.price, sale.renewal.pay, null).commission : 0,
    },
    down: offers.length ? marginDown(rows, offers) : null,
  };
}

/** What is left of the rows of a margin, minor units. */
export const leftOf = (rows: MarginRow[]): number => rows.at(-1)!.amount;

/** True where a sale costs more than it brings. */
export const loses = (rows: MarginRow[]): boolean => leftOf(rows) < 0;

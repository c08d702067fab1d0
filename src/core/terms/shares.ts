import { type Span } from '../calendar/span';
import { percentOf, wholePpm } from '../money/percent';
import { mulDiv } from '../money/rounding';
import type { Id } from '../text/id';
import type { ShareBase, ShareKind } from './lists';
import { covers, type Pay, type Rate, type Sold } from './rate';

/** An affiliate was brought in by another, who earns a share of what it sells: one level only. */
export interface Referral extends Span {
  affiliate: string;
  by: Id<'affiliate'>;
  ppm: number;
  /** percent of the commissionable value, or of the commission */
  of: ShareBase;
}

/** A partner in a product, with its percent of what the sale leaves. */
export interface CoOwner extends Span {
  product: string;
  payee: Id<'affiliate'>;
  ppm: number;
}

/** Parts per million that co-owners share while lower shares wait for their notice: of each the larger of what was and what will be. @param next parts per million by payee */
export function sharedMeanwhile(
  current: readonly Pick<CoOwner, 'payee' | 'ppm'>[],
  next: ReadonlyMap<string, number>,
): number {
  const most = new Map(next);
  for (const { payee, ppm } of current) most.set(payee, Math.max(ppm, most.get(payee) ?? 0));
  return [...most.values()].reduce((a, b) => a + b, 0);
}

/**
 * What the one who brought an affiliate in earns from a line, rounded by itself: never more than the commission leaves of the
 * value, so that a lead, which has no value, shares nothing.
 * @param base, commission minor units of base
 */
export function referralShare(
  base: number,
  commission: number,
  referral: Pick<Referral, 'ppm' | 'of'>,
): number {
  return Math.max(
    0,
    Math.min(base - commission, percentOf(referral.of === 'sale' ? base : commission, referral.ppm)),
  );
}

/**
 * What co-owners earn from a line: percent of (commissionable value − commission − referral share), each rounded by itself and
 * together never more than is left.
 * @param ppms parts per million, together at most 1,000,000 @throws RangeError for more
 */
export function coOwnerShares(
  base: number,
  commission: number,
  referral: number,
  ppms: readonly number[],
): number[] {
  if (ppms.reduce((a, b) => a + b, 0) > wholePpm)
    throw new RangeError('Co-owners cannot share more than 100 %');
  const rest = Math.max(0, base - commission - referral);
  let left = rest;
  return ppms.map((ppm) => {
    const part = Math.min(left, percentOf(rest, ppm));
    left -= part;
    return part;
  });
}

/** Somebody's share of a line, with what it is a percent of: what its working shows. Amounts in minor units of base. */
export interface Share {
  kind: ShareKind;
  payee: Id<'affiliate'>;
  ppm: number;
  /** `rest`: what commission and referral share leave of the value */
  of: ShareBase | 'rest';
  basis: number;
  amount: number;
}

/** Every share of a line: the referral's first, then the co-owners' of what it leaves. @param owners together at most 100 % */
export function sharesOf(
  base: number,
  commission: number,
  referral: Referral | null,
  owners: readonly CoOwner[],
): Share[] {
  const referred = referral ? referralShare(base, commission, referral) : 0;
  const rest = Math.max(0, base - commission - referred);
  const amounts = coOwnerShares(
    base,
    commission,
    referred,
    owners.map((o) => o.ppm),
  );
  return [
    ...(referral
      ? [
          {
            kind: 'referral' as const,
            payee: referral.by,
            ppm: referral.ppm,
            of: referral.of,
            basis: referral.of === 'sale' ? base : commission,
            amount: referred,
          },
        ]
      : []),
    ...owners.map(({ payee, ppm }, i) => ({
      kind: 'co-owner' as const,
      payee,
      ppm,
      of: 'rest' as const,
      basis: rest,
      amount: amounts[i]!,
    })),
  ];
}

/**
 * What is left of a line's shares when part of its value was given back: each in the proportion of the value left, and together
 * with the commission left never more than that value.
 * @param amounts as granted, in the order of `sharesOf` @param base value as sold @param left value left @param commissionLeft minor units of base
 */
export function sharesOnRest(
  amounts: readonly number[],
  base: number,
  left: number,
  commissionLeft: number,
): number[] {
  let room = Math.max(0, left - commissionLeft);
  return amounts.map((amount) => {
    const part = base <= 0 ? 0 : Math.min(room, mulDiv(amount, Math.max(0, left), base));
    room -= part;
    return part;
  });
}

/** The worst that can come together on a product, in parts per million of the value. */
export interface WorstCase {
  total: number;
  commission: number;
  referral: number;
  /** the rates that make it */
  rate: Rate | null;
  uplift: Rate | null;
}

function highest(pay: Pay, price: number | null): number {
  if (pay.type === 'percent') return pay.ppm;
  if (price === null || price <= 0) return 0;
  return Math.min(wholePpm, Math.ceil((pay.amount * wholePpm) / price));
}

function highestOf(rate: Rate, price: number | null): number {
  return rate.reward.type === 'bands'
    ? Math.max(...rate.reward.bands.map((b) => highest(b.pay, price)))
    : highest(rate.reward, price);
}

/**
 * The most that commission and referral share could come to on a product, over all rates that have not ended: the highest
 * rate of the ladder, raised by the uplift that raises it most. Whether one affiliate can have both is not asked: a promise
 * made to two groups today may meet in one person tomorrow.
 * @param price of the product in minor units of base, or null where it is not known: flat rewards are then left out
 */
export function worstCase(
  rates: readonly Rate[],
  {
    sold,
    price,
    referral,
    now,
  }: { sold: Sold; price: number | null; referral: Pick<Referral, 'ppm' | 'of'> | null; now: number },
): WorstCase {
  let rate: Rate | null = null;
  let base = 0;
  const open = rates.filter((r) => covers(r.what, sold) && (r.until === null || r.until > now));
  for (const r of open) {
    if (r.mode !== 'base') continue;
    const most = highestOf(r, price);
    if (most > base) {
      base = most;
      rate = r;
    }
  }
  let commission = base;
  let uplift: Rate | null = null;
  for (const r of open) {
    if (r.mode === 'base') continue;
    const with_ = r.mode === 'plus' ? base + highestOf(r, price) : Math.max(base, highestOf(r, price));
    if (with_ > commission) {
      commission = with_;
      uplift = r;
    }
  }
  commission = Math.min(wholePpm, commission);
  const share =
    referral === null ? 0 : referral.of === 'sale' ? referral.ppm : percentOf(commission, referral.ppm);
  return { total: commission + share, commission, referral: share, rate, uplift };
}

import { affiliatesIn, describeCredit, type CreditReason, type NameOf } from '../attribution/reason';
import { toDecimal, type Money } from '../money/amount';
import type { ResolvedLine } from '../terms/order';
import { describeLineReason, type LineReason } from '../terms/reason';
import { describeKept, keptText, type Kept } from '../text/kept';

/** Why a line of an order earns nothing, or `rate-is-nothing`: its rate comes to nothing. */
export type NothingReason = LineReason | { code: 'rate-is-nothing' };

/** Why an order is credited as it is, and why it earns nothing where it does; `lines` are different reasons, in the order of the lines. */
export type OrderReason =
  | CreditReason
  | { code: 'test' }
  | { code: 'no-commission'; credit: Kept<CreditReason>; lines: Kept<NothingReason>[] };

/** @param lines what the lines came to for the affiliate who is credited; null where nobody is, and for a test */
export function orderReason(
  credit: Kept<CreditReason>,
  { isTest, total, lines }: { isTest: boolean; total: number; lines: readonly ResolvedLine[] | null },
): Kept<OrderReason> {
  if (isTest) return { code: 'test' };
  if (lines === null || total > 0) return credit;
  const why = new Map<string, Kept<NothingReason>>();
  for (const { reason } of lines) {
    const said: Kept<NothingReason> = reason ?? { code: 'rate-is-nothing' };
    why.set(keptText(said), said);
  }
  return { code: 'no-commission', credit, lines: [...why.values()] };
}

const describeNothing = (reason: Kept<NothingReason>): string =>
  typeof reason !== 'string' && reason.code === 'rate-is-nothing'
    ? 'the rate comes to nothing'
    : describeLineReason(reason);

/** Why an order is credited as it is, in words. */
export function describeOrder(reason: Kept<OrderReason>, nameOf: NameOf): string {
  return describeKept(reason, (known) => {
    if (known.code === 'test') return 'a test order: marked, never paid, never counted';
    if (known.code !== 'no-commission') return describeCredit(known, nameOf);
    return `${describeCredit(known.credit, nameOf)}; no commission: ${known.lines.map(describeNothing).join(', ')}`;
  });
}

/** The affiliates whose names the words of an order's reason ask for. */
export function affiliatesNamed(reason: Kept<OrderReason>): string[] {
  if (typeof reason === 'string' || reason.code === 'test') return [];
  return affiliatesIn(reason.code === 'no-commission' ? reason.credit : reason);
}

/**
 * How a sale came by the fallback picture as well as by its signed report: before it or after it, with what the picture reported
 * and what counts.
 */
export interface OtherWay {
  code: 'picture-before' | 'picture-after';
  counts: Money;
  reported: Money;
}

const inWords = ({ amount, currency }: Money) => toDecimal(amount, currency);

/** How what came by the other way differs from what counts, in words; null where it does not. */
export function describeDifference(counts: Money, reported: Money): string | null {
  if (counts.currency !== reported.currency)
    return `but the currencies differ: ${counts.currency} counts, ${reported.currency} came by the other way`;
  return counts.amount === reported.amount
    ? null
    : `but the amounts differ: ${inWords(counts)} counts, ${inWords(reported)} came by the other way`;
}

/** What was reported the other way, in words. */
export function describeOtherWay(other: Kept<OtherWay>): string {
  return describeKept(other, ({ code, counts, reported }) => {
    const differs = describeDifference(counts, reported);
    const same = 'with the same amount';
    if (code === 'picture-after')
      return `the same order came by the fallback picture as well, ${differs ?? same}; it counts once`;
    const said = differs
      ? `which said ${inWords(reported)} ${reported.currency}: the signed values count`
      : same;
    return `the fallback picture reported the same order before, ${said}; it counts once`;
  });
}

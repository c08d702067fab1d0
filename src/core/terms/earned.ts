import { split } from '../money/amount';
import { percentOf } from '../money/percent';
import { mulDiv } from '../money/rounding';
import type { Pay } from './rate';

/**
 * How a line's commission was made where a plain reward does not say it all: the ladder's part with its cap, and what an uplift
 * put on top. `flat` and `plusFlat` are this line's shares, minor units of base.
 */
export interface Composed {
  type: 'composed';
  ppm: number;
  flat: number;
  /** most that all lines of the same rate earn in the order */
  cap: { rate: string; amount: number } | null;
  plusPpm: number;
  plusFlat: number;
}

/** The reward kept with a line: what refunds are worked out from, whatever the rates say later. */
export type Earned = Pay | Composed;

/** A line as it was resolved; `base` and `amount` in minor units of base. */
export interface EarningLine {
  reward: Earned | null;
  base: number;
  amount: number;
}

/** The amount of the ladder's part and what an uplift adds, on a value; percentages are added before they are rounded, once. */
export function amountOf(of: Composed, base: number, capped: number | null): number {
  const sum = capped === null ? percentOf(base, of.ppm + of.plusPpm) + of.flat + of.plusFlat : capped + percentOf(base, of.plusPpm) + of.plusFlat;
  return Math.min(base, sum);
}

function restOf(line: EarningLine, left: number): number {
  const { reward, base, amount } = line;
  if (!reward || base === 0 || left <= 0) return 0;
  if (left >= base) return amount;
  if (reward.type === 'percent') return percentOf(left, reward.ppm);
  if (reward.type !== 'composed') return mulDiv(amount, left, base);
  return amountOf(shrunk(reward, left, base), left, null);
}

function shrunk(of: Composed, left: number, base: number): Composed {
  return { ...of, flat: mulDiv(of.flat, left, base), plusFlat: mulDiv(of.plusFlat, left, base) };
}

/**
 * The commission of each line on what is left of an order after refunds, under the rewards kept with it: percent × value left;
 * a flat amount × value left ÷ value; the cap again, over all lines of its rate. No new rate, no new band.
 * @param lines as resolved at the sale @param lefts commissionable value left of each, minor units of base
 */
export function amountsOnRest(lines: readonly EarningLine[], lefts: readonly number[]): number[] {
  const amounts = lines.map((line, i) => restOf(line, lefts[i]!));
  const groups = new Map<string, number[]>();
  lines.forEach(({ reward }, i) => {
    if (reward?.type === 'composed' && reward.cap) groups.set(reward.cap.rate, [...(groups.get(reward.cap.rate) ?? []), i]);
  });
  for (const of of groups.values()) {
    if (of.every((i) => lefts[i]! >= lines[i]!.base)) continue;
    const parts = of.map((i) => shrunk(lines[i]!.reward as Composed, Math.max(0, lefts[i]!), Math.max(1, lines[i]!.base)));
    const uncapped = of.map((i, n) => percentOf(Math.max(0, lefts[i]!), parts[n]!.ppm) + parts[n]!.flat);
    const cap = parts[0]!.cap!.amount;
    if (uncapped.reduce((a, b) => a + b, 0) <= cap) {
      of.forEach((i, n) => { amounts[i] = amountOf(parts[n]!, Math.max(0, lefts[i]!), null); });
    } else {
      const shares = split(cap, of.map((i) => Math.max(0, lefts[i]!)));
      of.forEach((i, n) => { amounts[i] = amountOf(parts[n]!, Math.max(0, lefts[i]!), shares[n]!); });
    }
  }
  return amounts;
}

/** The same for a line that stands alone. */
export function amountOnRest(line: EarningLine, left: number): number {
  return amountsOnRest([line], [left])[0]!;
}

import { split } from '../money/amount';
import { percentOf } from '../money/percent';
import { mulDiv } from '../money/rounding';
import type { Pay } from './rate';
import { addedBy, addedWithin } from './uplift';

/**
 * How a line's commission was made where a plain reward does not say it all: the ladder's part with its cap, and what an uplift
 * made of it. `flat`, `plusFlat` and the flat of `upTo` are this line's shares, minor units of base.
 */
export interface Composed {
  type: 'composed';
  ppm: number;
  flat: number;
  /** most that all lines of the same rate earn in the order, those that an uplift raised among them */
  cap: { rate: string; amount: number } | null;
  plusPpm: number;
  plusFlat: number;
  /** what an uplift raised the line up to; absent where none did */
  upTo?: { ppm: number; flat: number };
  /** most that the uplift adds to the order, over all lines it raised; absent where it has no cap */
  raiseCap?: { rate: string; amount: number };
}

/** The reward kept with a line: what refunds are worked out from, whatever the rates say later. */
export type Earned = Pay | Composed;

/** A line as it was resolved; `base` and `amount` in minor units of base. */
export interface EarningLine {
  reward: Earned | null;
  base: number;
  amount: number;
}

/** A line on what is left of it. */
interface Rest {
  /** value left, never below nothing */
  base: number;
  /** what the ladder gives on it */
  amount: number;
  /** the percentage where the ladder's part is one that no cap cut */
  ppm: number | null;
  of: Composed | null;
  /** value as sold */
  sold: number;
}

function restOf({ reward, base: sold, amount }: EarningLine, left: number): Rest {
  const base = Math.max(0, left);
  const rest = (gives: number, ppm: number | null, composed: Composed | null): Rest => ({
    base,
    amount: Math.min(base, gives),
    ppm,
    of: composed,
    sold,
  });
  if (!reward || sold === 0 || base === 0) return rest(0, 0, null);
  if (reward.type === 'percent') return rest(percentOf(base, reward.ppm), reward.ppm, null);
  if (reward.type !== 'composed') return rest(mulDiv(amount, base, sold), null, null);
  return rest(
    percentOf(base, reward.ppm) + mulDiv(reward.flat, base, sold),
    reward.flat === 0 ? reward.ppm : null,
    reward,
  );
}

function grouped(rests: readonly Rest[], keyOf: (composed: Composed) => string | undefined): number[][] {
  const groups = new Map<string, number[]>();
  rests.forEach(({ of: composed }, i) => {
    const key = composed ? keyOf(composed) : undefined;
    if (key !== undefined) groups.set(key, [...(groups.get(key) ?? []), i]);
  });
  return [...groups.values()];
}

/** The caps of the ladder again, over all lines of their rate: the amount is split by the value left. */
function capLadder(rests: Rest[]): void {
  for (const group of grouped(rests, (composed) => composed.cap?.rate)) {
    const cap = rests[group[0]!]!.of!.cap!.amount;
    if (group.reduce((sum, i) => sum + rests[i]!.amount, 0) <= cap) continue;
    split(
      cap,
      group.map((i) => rests[i]!.base),
    ).forEach((part, n) => {
      rests[group[n]!]!.amount = part;
      rests[group[n]!]!.ppm = null;
    });
  }
}

/** What the uplifts of the sale add on what is left, their caps again over all lines they raised. */
function addedOnRest(rests: readonly Rest[]): number[] {
  const added = rests.map((rest) => {
    const { of, base, sold } = rest;
    if (!of || base === 0) return 0;
    const flat = (amount: number) => mulDiv(amount, base, sold);
    return addedBy(
      of.upTo
        ? { mode: 'up-to', ppm: of.upTo.ppm, flat: flat(of.upTo.flat) }
        : { mode: 'plus', ppm: of.plusPpm, flat: flat(of.plusFlat) },
      rest,
      base,
    );
  });
  for (const group of grouped(rests, (composed) => composed.raiseCap?.rate)) {
    const { parts } = addedWithin(
      rests[group[0]!]!.of!.raiseCap!.amount,
      group.map((i) => rests[i]!.base),
      group.map((i) => added[i]!),
    );
    group.forEach((i, n) => {
      added[i] = parts[n]!;
    });
  }
  return added;
}

/** Takes so much from the parts that grew, the one that grew most first, that together they are no more than before. */
function neverMore(amounts: readonly number[], before: readonly number[]): number[] {
  let excess = amounts.reduce((a, b) => a + b, 0) - before.reduce((a, b) => a + b, 0);
  const kept = [...amounts];
  const grown = amounts
    .map((amount, i) => ({ i, by: amount - before[i]! }))
    .filter(({ by }) => by > 0)
    .sort((a, b) => b.by - a.by || a.i - b.i);
  for (const { i, by } of grown) {
    if (excess <= 0) break;
    const cut = Math.min(excess, by);
    kept[i]! -= cut;
    excess -= cut;
  }
  return kept;
}

/**
 * The commission of each line on what is left of an order after refunds, under the rewards kept with it: percent × value left;
 * a flat amount × value left ÷ value; the caps again, over all lines of their rate; then what the uplift of the sale makes of it, which
 * never lowers. No new rate, no new band. Rounding between lines of a cap never raises the total.
 * @param lines as resolved at the sale @param lefts commissionable value left of each, minor units of base
 * @param before what the lines had left before this refund; left out = as at the sale
 */
export function amountsOnRest(
  lines: readonly EarningLine[],
  lefts: readonly number[],
  before: readonly number[] = lines.map((l) => l.amount),
): number[] {
  if (lines.every((line, i) => lefts[i]! >= line.base))
    return neverMore(
      lines.map((l) => l.amount),
      before,
    );
  const rests = lines.map((line, i) => restOf(line, lefts[i]!));
  capLadder(rests);
  const added = addedOnRest(rests);
  return neverMore(
    rests.map((rest, i) => rest.amount + added[i]!),
    before,
  );
}

/** The same for a line that stands alone. */
export function amountOnRest(line: EarningLine, left: number): number {
  return amountsOnRest([line], [left])[0]!;
}

import type { LineWorking } from './working';

/** A rate as far as its cap matters. */
interface Capped {
  id: string;
  cap: number | null;
}

/** What earlier payments of an order have earned under each cap, by rate, minor units of base. */
export type Spent = ReadonlyMap<string, number>;

/** What of a rate's cap is left for a payment, minor units of base: it counts once for all payments of an order. Null where the rate has none. */
export const capLeft = ({ id, cap }: Capped, spent: Spent | undefined): number | null =>
  cap === null ? null : Math.max(0, cap - (spent?.get(id) ?? 0));

/** Adds to what was spent of caps. */
export function spend(spent: Map<string, number>, rate: string, amount: number): void {
  if (amount > 0) spent.set(rate, (spent.get(rate) ?? 0) + amount);
}

/** A line of an earlier payment: how its amount was come by, and what refunds have left of it, minor units of base. */
export interface EarnedLine {
  working: LineWorking;
  left: number;
}

/** What earlier payments have earned under each cap, as they were resolved; what a refund took back is free again. */
export function spentBy(lines: readonly EarnedLine[]): Map<string, number> {
  const spent = new Map<string, number>();
  for (const { working, left } of lines) {
    const { steps, reward, rateId, amount } = working;
    const ladder = Math.min(left, steps?.ladder ?? amount);
    if (rateId !== null && steps?.cap) spend(spent, rateId, ladder);
    if (reward?.type === 'composed' && reward.raiseCap) spend(spent, reward.raiseCap.rate, left - ladder);
  }
  return spent;
}

import { spend } from './caps';
import type { LineWorking } from './working';

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

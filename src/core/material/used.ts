import { millisecondsInDay } from '../calendar/zone';
import { mulDiv } from '../money/rounding';
import type { CreativeState } from './lists';

/** What nobody has clicked on for so long after it was put up looks unused. */
export const unusedDays = 30;

/** The moment before which something has to have been put up to look unused. */
export const unusedBefore = (now: number): number => now - unusedDays * millisecondsInDay;

interface Used {
  state: CreativeState;
  createdAt: number;
  /** where it begins later than it was made */
  from: number | null;
  /** counted clicks of the last months */
  clicks: number;
}

/** Whether something is on, has been for a while, and nobody uses it: it could be ended. */
export const looksUnused = ({ state, createdAt, from, clicks }: Used, now: number): boolean =>
  state === 'on' && clicks === 0 && Math.max(createdAt, from ?? 0) < unusedBefore(now);

/** Orders of clicks, parts per million; null without a click. */
export const shareOf = (orders: number, clicks: number): number | null =>
  clicks > 0 ? mulDiv(orders, 1_000_000, clicks) : null;

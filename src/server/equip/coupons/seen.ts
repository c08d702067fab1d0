import { inForce } from '../../../core/calendar/span';
import { codeKey } from '../../../core/material/coupon';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { addEvidence, couponsOfCode, type CouponRecord } from './store';

const heldAt = (row: CouponRecord, at: number) =>
  (row.removedAt === null || row.removedAt > at) &&
  row.createdAt <= at &&
  inForce({ from: row.from ?? 0, until: row.until }, at);

/** Which coupon a code was at a moment: one that held then, else the newest of that code. */
export function couponAt(app: App, code: string, at: number): CouponRecord | null {
  const known = couponsOfCode(app, codeKey(code));
  return known.find((row) => heldAt(row, at)) ?? known[0] ?? null;
}

/**
 * An order was reported with a coupon: the shop takes it. Called inside the transaction of the order.
 * @returns which coupon it was, null for a code that is none of ours
 */
export function couponSeen(
  app: App,
  { code, at, reference }: { code: string; at: number; reference: string },
): Id<'coupon'> | null {
  const row = couponAt(app, code, at);
  if (!row) return null;
  addEvidence(app, row.id, { kind: 'seen', at, by: reference });
  return row.id;
}

/** An order was reported whose buyer typed a code that the shop did not take. */
export function couponRefused(
  app: App,
  { code, at, reference }: { code: string; at: number; reference: string },
): void {
  const row = couponAt(app, code, at);
  if (row) addEvidence(app, row.id, { kind: 'refused', at, by: reference });
}

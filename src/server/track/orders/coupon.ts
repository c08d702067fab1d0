import { codeKey } from '../../../core/material/coupon';
import type { ReportWay } from '../../../core/tracking/lists';
import { couponAt, couponRefused, couponSeen } from '../../equip/coupons/seen';
import type { App } from '../../ground/context';
import type { orders } from '../../ground/tables/orders';
import type { NormalOrder } from './normalise';

/**
 * The coupon that an order carried. Only what is signed shows how the shop takes it, and which one it refused: anybody can make up a picture.
 * Called inside the transaction of the order.
 */
export function couponOf(
  app: App,
  { coupon, refusedCoupon, reference }: NormalOrder,
  { at, way }: { at: number; way: ReportWay },
): Pick<typeof orders.$inferSelect, 'coupon' | 'couponCode'> {
  const isSigned = way === 'server';
  if (refusedCoupon && isSigned) couponRefused(app, { code: refusedCoupon, at, reference });
  if (!coupon) return { coupon: null, couponCode: null };
  const found = isSigned
    ? couponSeen(app, { code: coupon, at, reference })
    : (couponAt(app, coupon, at)?.id ?? null);
  return { coupon: found, couponCode: codeKey(coupon) };
}

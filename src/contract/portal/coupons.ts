import { Type } from '@sinclair/typebox';
import { endpoint } from '../endpoint';
import { byId, closed, idOf, Moment, nullable } from '../shared';

const OwnCoupon = closed({
  id: idOf('coupon'),
  code: Type.String(),
  says: Type.String({ description: 'what the buyer gets, in words' }),
  products: Type.Array(Type.String()),
  terms: Type.String(),
  until: nullable(Moment),
  applied: Type.Boolean({ description: 'false: buyers have to type it' }),
  own: Type.Boolean({ description: 'this affiliate’s own' }),
  seenWorking: Type.Boolean({ description: 'false: no order has shown yet that the shop takes it' }),
  isNew: Type.Boolean(),
  link: nullable(Type.String()),
});
export type OwnCoupon = (typeof OwnCoupon)['static'];

export const listOwnCoupons = endpoint('GET', '/api/v1/portal/coupons', {
  summary: 'Coupons that an affiliate may use now, its own first',
  access: 'affiliate',
  reply: closed({ rows: Type.Array(OwnCoupon) }),
});
export const takeOwnCoupon = endpoint('POST', '/api/v1/portal/coupons/:id/link', {
  summary: 'Take a coupon: its own tracking link is made the first time',
  access: 'affiliate',
  params: byId('coupon'),
  reply: OwnCoupon,
});

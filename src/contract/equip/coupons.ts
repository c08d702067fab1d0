import { Type } from '@sinclair/typebox';
import { couponGives, creativeStates, evidenceKinds, shopStates } from '../../core/material/lists';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  decimal,
  filtered,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  paragraphs,
  searchText,
  Version,
  webAddress,
  words,
} from '../shared';
import { AudienceIn } from './audience';
import { PlannedOut } from './planned-out';

const fields = {
  code: words('Code', 40, { least: 1, example: 'WHEEL10' }),
  gives: oneOf('What the buyer gets', couponGives),
  value: decimal('How much', '10'),
  words: words('In words', 160, { example: 'two kilos of clay with it' }),
  least: decimal('Least order value', '50.00'),
  products: Type.Array(idOf('product'), { maxItems: 50, title: 'Products' }),
  landing: webAddress('Landing page', 'https://shop.quernstone.example/easter', 0),
  terms: paragraphs('Terms', 1000, { example: 'Once for each buyer, not with other codes.' }),
  owner: nullable(idOf('affiliate')),
  audience: AudienceIn,
  applied: Type.Boolean({ title: 'Applied by the link' }),
  active: Type.Boolean({ title: 'Switched on' }),
  from: nullable(Moment),
  until: nullable(Moment),
};
export const CouponIn = closed(fields);
export const CouponEdit = closed({ ...fields, version: Version });

const Evidence = closed({
  kind: oneOf('Kind', evidenceKinds),
  firstAt: Moment,
  lastAt: Moment,
  times: Type.Integer(),
  by: Type.String(),
});
export const CouponOut = closed({
  ...fields,
  id: idOf('coupon'),
  state: oneOf('State', creativeStates),
  says: Type.String({ description: 'what the buyer gets, in words' }),
  names: Type.Array(Type.String()),
  ownerName: nullable(Type.String()),
  forWhom: Type.String(),
  named: Type.Array(closed({ id: idOf('affiliate'), name: Type.String() })),
  shop: oneOf('State in the shop', shopStates),
  shopSays: Type.String({ description: 'the same with its day' }),
  evidence: Type.Array(Evidence),
  warning: nullable(Type.String({ description: 'what a person should look at' })),
  planned: Type.Array(PlannedOut),
  results: closed({
    days: Type.Integer(),
    clicks: Type.Integer(),
    orders: Type.Integer({ description: 'first sales' }),
    renewals: Type.Integer(),
    value: MoneyOut,
    commission: MoneyOut,
    lastUsed: nullable(Moment),
  }),
  removed: Type.Boolean(),
  createdAt: Moment,
  by: Type.String(),
  version: Version,
});
export type CouponOut = (typeof CouponOut)['static'];

export const listCoupons = endpoint('GET', '/api/v1/coupons', {
  summary: 'Coupons, newest first',
  access: readers,
  query: filtered({
    state: Type.Optional(Type.Union([oneOf('State', creativeStates), Type.Literal('removed')])),
    shop: Type.Optional(oneOf('State in the shop', shopStates)),
    product: Type.Optional(idOf('product')),
    owner: Type.Optional(Type.Union([idOf('affiliate'), Type.Literal('somebody'), Type.Literal('nobody')])),
    only: Type.Optional(oneOf('Only', ['warning'] as const)),
    q: searchText,
  }),
  reply: page(CouponOut),
});
export const readCoupon = endpoint('GET', '/api/v1/coupons/:id', {
  summary: 'A coupon whole',
  access: readers,
  params: byId('coupon'),
  reply: CouponOut,
});
export const createCoupon = endpoint('POST', '/api/v1/coupons', {
  summary: 'Make a coupon',
  access: managing,
  once: true,
  body: CouponIn,
  reply: CouponOut,
});
export const editCoupon = endpoint('PUT', '/api/v1/coupons/:id', {
  summary: 'Change a coupon',
  access: managing,
  once: true,
  params: byId('coupon'),
  body: CouponEdit,
  reply: CouponOut,
});
export const relaunchCoupon = endpoint('POST', '/api/v1/coupons/:id/relaunch', {
  summary: 'Launch a past coupon again: a copy of it with new dates, and with another code if one is given',
  access: managing,
  once: true,
  params: byId('coupon'),
  body: closed({ code: fields.code, from: fields.from, until: fields.until }),
  reply: CouponOut,
});
export const removeCoupon = endpoint('POST', '/api/v1/coupons/:id/remove', {
  summary: 'Take a coupon away, or bring it back; its links lead on either way',
  access: managing,
  once: true,
  params: byId('coupon'),
  body: closed({ on: Type.Boolean({ title: 'Away' }) }),
  reply: CouponOut,
});
export const sayCoupon = endpoint('POST', '/api/v1/coupons/:id/shop', {
  summary: 'Say how it stands in the shop: set up there, or refused by it',
  access: managing,
  once: true,
  params: byId('coupon'),
  body: closed({ what: oneOf('What', ['said', 'refused'] as const) }),
  reply: CouponOut,
});
export const planCoupon = endpoint('POST', '/api/v1/coupons/:id/planned', {
  summary: 'Plan changes of a coupon’s fields for a later moment',
  access: managing,
  once: true,
  params: byId('coupon'),
  body: closed({ at: Moment, changes: Type.Partial(closed(fields), { title: 'Changes', minProperties: 1 }) }),
  reply: CouponOut,
});

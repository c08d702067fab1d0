import { Type } from '@sinclair/typebox';
import { endpoint, managing, owning, paying, readers } from '../endpoint';
import { ShareOut } from '../setup/shares';
import { LifeRow, WorkingOut } from '../setup/terms';
import {
  ById,
  closed,
  filtered,
  Id,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  paragraphs,
  searchText,
  words,
} from '../shared';

// control characters stop here: a reference ends up in files, mails and lists
const reference = (title: string, example: string) =>
  words(title, 100, {
    least: 1,
    example,
    pattern: '^[^\\u0000-\\u001f\\u007f]*[^\\s\\u0000-\\u001f\\u007f][^\\u0000-\\u001f\\u007f]*$',
  });
const money = (title: string) => words(title, 30, { least: 1, example: '129.00' });
const moment = (title: string) =>
  Type.String({ title, format: 'date-time', maxLength: 40, examples: ['2027-03-12T14:05:00+00:00'] });
const quantity = Type.Integer({ minimum: 1, maximum: 100_000, title: 'Quantity', examples: [1] });
const currency = words('Currency', 3, { least: 3, example: 'EUR', pattern: '^[A-Z]{3}$' });
// null says the same as leaving it out: a shop without a visit should not have to build another body
const optional = {
  visit: Type.Optional(nullable(words('Visit', 60))),
  visitor: Type.Optional(nullable(words('Visitor', 60))),
};
const customer = Type.Optional(
  nullable(
    closed({
      id: Type.Optional(words('Customer id', 100)),
      email: Type.Optional(words('Customer e-mail', 254)),
      country: Type.Optional(words('Customer country', 2)),
      new: Type.Optional(Type.Boolean()),
    }),
  ),
);
const line = closed({
  product: reference('Product', 'WHEEL-1'),
  quantity,
  amount: money('Amount'),
  discount: Type.Optional(money('Discount')),
  tax: Type.Optional(money('Tax')),
  shipping: Type.Optional(money('Shipping')),
  step: Type.Optional(words('Funnel step', 60)),
  quote: Type.Optional(words('Quote', 60)),
});
const lines = Type.Array(line, {
  minItems: 1,
  maxItems: 200,
  title: 'Lines',
  examples: ['[{ "product": "WHEEL-1", "quantity": 1, "amount": "199.00" }]'],
});

// The tracking contract, version 1: it may gain optional fields, it never changes otherwise.
export const OrderReport = closed({
  order: reference('Order', 'Q-10042'),
  payment: Type.Optional(reference('Payment', 'Q-10042-1')),
  placedAt: moment('Placed at'),
  currency,
  lines,
  // of the whole order, shared over its lines by value; a line may have its own besides
  discount: Type.Optional(money('Discount')),
  tax: Type.Optional(money('Tax')),
  shipping: Type.Optional(money('Shipping')),
  ...optional,
  coupon: Type.Optional(nullable(words('Coupon', 60))),
  customer,
  subscription: Type.Optional(nullable(words('Subscription', 100))),
  channel: Type.Optional(nullable(words('Channel', 60))),
  test: Type.Optional(Type.Boolean({ title: 'Test' })),
});
export type OrderReport = (typeof OrderReport)['static'];
export const RefundReport = closed({
  refund: reference('Refund', 'R-77'),
  order: reference('Order', 'Q-10042'),
  payment: Type.Optional(reference('Payment', 'Q-10042-1')),
  at: moment('At'),
  kind: oneOf('Kind', ['refund', 'chargeback']),
  full: Type.Optional(Type.Boolean({ title: 'Full' })),
  lines: Type.Optional(
    Type.Array(closed({ product: reference('Product', 'WHEEL-1'), amount: money('Amount') }), {
      minItems: 1,
      maxItems: 200,
      title: 'Lines',
    }),
  ),
});
export type RefundReport = (typeof RefundReport)['static'];
export const RenewalReport = closed({
  subscription: reference('Subscription', 'SUB-88'),
  payment: reference('Payment', 'Q-10042-2'),
  number: Type.Integer({
    minimum: 2,
    maximum: 10_000,
    title: 'Number',
    examples: [2],
    description: '2 = the first renewal',
  }),
  placedAt: moment('Placed at'),
  currency,
  lines,
});
export type RenewalReport = (typeof RenewalReport)['static'];
export const LeadReport = closed({
  lead: reference('Lead', 'L-501'),
  product: reference('Product', 'CALC-0'),
  at: moment('At'),
  ...optional,
  customer,
});
export type LeadReport = (typeof LeadReport)['static'];
export const QuoteReport = closed({
  product: reference('Product', 'WHEEL-1'),
  quantity,
  currency: Type.Optional(currency),
});
export type QuoteReport = (typeof QuoteReport)['static'];
export const QuoteAnswer = closed({
  quote: Type.String(),
  product: Type.String(),
  price: closed({ value: Type.String(), currency: Type.String() }),
  left: nullable(Type.Integer()),
  until: Type.String(),
});

/** What a shop's page may know about a product. */
export const Offer = closed({
  code: Type.String(),
  name: Type.String(),
  description: Type.String(),
  kind: Type.String(),
  onSale: Type.Boolean(),
  price: nullable(closed({ value: Type.String(), currency: Type.String() })),
  prices: Type.Record(Type.String(), Type.String()),
  asked: Type.Array(closed({ value: Type.String(), currency: Type.String() }), {
    description: 'every price of the moment, the buyer’s own currency first',
  }),
  left: nullable(Type.Integer()),
  launchAt: nullable(Moment),
  now: Moment,
  page: Type.String(),
  refundDays: Type.Integer(),
  receiptNote: Type.String(),
  delivery: Type.String(),
  accessPage: Type.String(),
  accessParameters: Type.Array(Type.String()),
  picture: Type.String(),
  brand: Type.String(),
  support: closed({ address: Type.String(), page: Type.String(), phone: Type.String() }),
  recurring: nullable(
    closed({
      trialDays: Type.Integer(),
      renewalPrice: Type.String(),
      interval: Type.String(),
      intervalDays: Type.Integer(),
      renewals: nullable(Type.Integer()),
      name: Type.String(),
      description: Type.String(),
    }),
  ),
  instalments: nullable(Type.Array(Type.String())),
  steps: Type.Array(
    closed({
      code: Type.String(),
      product: Type.String(),
      name: Type.String(),
      price: Type.String(),
      currency: Type.String(),
      onYes: nullable(Type.String()),
      onNo: nullable(Type.String()),
    }),
  ),
  first: nullable(Type.String()),
});
export type Offer = (typeof Offer)['static'];
export const readOffer = endpoint('GET', '/api/open/v1/products/:id', {
  summary: 'A product as a shop’s page shows it: present price, units left at it, renewals, follow-on offers',
  access: 'open',
  params: closed({ id: words('Code', 40) }),
  query: closed({ country: Type.Optional(words('Country of the buyer', 2, { example: 'GB' })) }),
  reply: Offer,
});

export const Download = closed({
  product: Type.String(),
  name: Type.String(),
  url: Type.String({ description: 'for the buyer; good until the moment beside it' }),
  until: Type.String(),
});
export type Download = (typeof Download)['static'];
export const Confirmation = closed({
  offers: Type.Array(
    closed({
      code: Type.String(),
      name: Type.String(),
      description: Type.String(),
      price: nullable(closed({ value: Type.String(), currency: Type.String() })),
      page: Type.String(),
      picture: Type.String(),
    }),
  ),
});
export const readConfirmation = endpoint('GET', '/api/open/v1/confirmation', {
  summary: 'What to offer on the confirmation page, after what was bought',
  access: 'open',
  query: closed({ bought: words('Codes of what was bought', 1000, { example: 'WHEEL-1,ROLL-1' }) }),
  reply: Confirmation,
});
export const ReportAnswer = closed({
  outcome: oneOf('Outcome', ['recorded', 'already-recorded']),
  order: Type.String(),
  credited: nullable(closed({ affiliate: Type.String(), by: Type.String() })),
  reason: Type.String(),
  commissions: Type.Array(
    closed({
      id: Type.String(),
      affiliate: Type.String(),
      amount: closed({ value: Type.String(), currency: Type.String() }),
      state: Type.String(),
      clearsOn: Type.String(),
    }),
  ),
  downloads: Type.Optional(Type.Array(Download)),
});
export type ReportAnswer = (typeof ReportAnswer)['static'];

export const reportOutcomes = [
  'recorded',
  'unconfirmed',
  'already-recorded',
  'contradicts',
  'refused',
  'not-signed',
] as const;
export const ReportRow = closed({
  id: Id,
  at: Moment,
  call: Type.String(),
  way: oneOf('Way', ['server', 'picture']),
  reference: nullable(Type.String()),
  outcome: oneOf('Outcome', reportOutcomes),
  status: Type.Integer(),
  said: Type.String(),
  order: nullable(Type.String()),
  count: Type.Integer({ description: 'how many came like it within the minute, from one address' }),
});
export const readConnection = endpoint('GET', '/api/v1/connection', {
  summary: 'How the shop is connected, and whether it speaks',
  access: readers,
  reply: closed({
    address: Type.String(),
    shop: nullable(Type.String()),
    keys: Type.Array(
      closed({
        id: Type.String(),
        label: Type.String(),
        createdAt: Moment,
        pictures: Type.Boolean(),
        readable: Type.Boolean({ description: 'false: the seal of its secret was lost' }),
      }),
    ),
    landingHosts: Type.Array(Type.String()),
    lastVisit: nullable(Moment),
    lastReport: nullable(Moment),
    lastOrder: nullable(Moment),
    counts: Type.Record(Type.String(), Type.Integer()),
    doubled: Type.Integer(),
    snippet: Type.String(),
    picture: Type.String(),
  }),
});
export const createKey = endpoint('POST', '/api/v1/connection/keys', {
  summary: 'Make a signing key; its secret is shown by another call, so that no kept answer holds it',
  access: owning,
  once: true,
  body: closed({ label: words('Label', 60, { least: 1, example: 'Shop' }) }),
  reply: closed({ id: Type.String() }),
});
export const revealKey = endpoint('POST', '/api/v1/connection/keys/:id/secret', {
  summary: 'Show the secret of a key',
  access: owning,
  params: closed({ id: Type.String({ maxLength: 60 }) }),
  reply: closed({ id: Type.String(), secret: Type.String() }),
});
export const switchPictures = endpoint('PUT', '/api/v1/connection/keys/:id/pictures', {
  summary: 'Whether pages may report sales by the fallback picture with a key; such sales are unconfirmed',
  access: owning,
  once: true,
  params: closed({ id: Type.String({ maxLength: 60 }) }),
  body: closed({ on: Type.Boolean({ title: 'Pictures' }) }),
  reply: closed({ id: Type.String(), pictures: Type.Boolean() }),
});
export const renewKey = endpoint('POST', '/api/v1/connection/keys/:id/renew', {
  summary: 'Make the secret of a key anew whose seal was lost',
  access: owning,
  once: true,
  params: closed({ id: Type.String({ maxLength: 60 }) }),
  reply: closed({ id: Type.String(), secret: Type.String() }),
});
export const listReports = endpoint('GET', '/api/v1/reports', {
  summary: 'Every report of the shop with its outcome, newest first',
  access: readers,
  reply: page(ReportRow),
  query: filtered({ outcome: Type.Optional(oneOf('Outcome', reportOutcomes)), q: searchText }),
});
export const readReport = endpoint('GET', '/api/v1/reports/:id', {
  summary: 'A report as it came',
  access: readers,
  params: ById,
  reply: Type.Composite([ReportRow, closed({ body: Type.String() })], { additionalProperties: false }),
});

export const OrderRow = closed({
  id: Id,
  reference: Type.String(),
  payment: Type.String(),
  placedAt: Moment,
  products: Type.String(),
  affiliate: nullable(Type.String()),
  affiliateId: nullable(Type.String()),
  value: MoneyOut,
  base: MoneyOut,
  commission: nullable(MoneyOut),
  shares: MoneyOut,
  state: nullable(Type.String()),
  refunded: Type.Boolean(),
  test: Type.Boolean(),
  reason: Type.String(),
  event: oneOf('Kind', ['sale', 'renewal', 'lead', 'click']),
  number: Type.Integer(),
});
const picturedStates = ['open', 'reported', 'confirmed', 'set-aside'] as const;
export const PicturedRow = closed({
  id: Id,
  reference: Type.String(),
  payment: Type.String(),
  at: Moment,
  product: Type.String(),
  affiliate: nullable(Type.String()),
  affiliateId: nullable(Type.String()),
  reason: Type.String(),
  value: MoneyOut,
  base: nullable(MoneyOut),
  misfit: Type.String({
    description: 'what of price and quantity does not fit the product; empty = it fits',
  }),
  state: oneOf('State', picturedStates),
  order: nullable(Type.String()),
  note: Type.String(),
  decidedBy: Type.String(),
});
export const listUnconfirmed = endpoint('GET', '/api/v1/unconfirmed', {
  summary: 'Sales known by a picture alone, newest first: granted to nobody and in no figure',
  access: readers,
  reply: page(PicturedRow),
  query: filtered({
    state: Type.Optional(oneOf('State', picturedStates)),
    old: Type.Optional(Type.Boolean({ description: 'only those that have waited for more than 7 days' })),
  }),
});
export const confirmUnconfirmed = endpoint('POST', '/api/v1/unconfirmed/:id/confirm', {
  summary:
    'Say that an unconfirmed sale happened: it is recorded as the picture said, its commission after hold',
  access: managing,
  params: ById,
  once: true,
  reply: closed({ order: Id }),
});
export const setUnconfirmedAside = endpoint('POST', '/api/v1/unconfirmed/:id/set-aside', {
  summary: 'Say that an unconfirmed sale did not happen; the signed report still counts if it comes',
  access: managing,
  params: ById,
  once: true,
  body: closed({ note: paragraphs('Reason', 500, { least: 3, example: 'No such order in the shop' }) }),
  reply: closed({ state: Type.String() }),
});
const orderFilter = {
  q: searchText,
  affiliate: Type.Optional(Id),
  credited: Type.Optional(oneOf('Credited', ['yes', 'no'])),
  from: Type.Optional(words('From', 10)),
  to: Type.Optional(words('To', 10)),
};
export const listOrders = endpoint('GET', '/api/v1/orders', {
  summary: 'Sales, newest first',
  access: readers,
  query: filtered(orderFilter),
  reply: page(OrderRow),
});
export const exportOrders = endpoint('GET', '/api/v1/orders.csv', {
  summary: 'The same list as CSV',
  access: readers,
  query: filtered(orderFilter),
  media: 'text/csv',
});
export const readOrder = endpoint('GET', '/api/v1/orders/:id', {
  summary: 'A sale with its working',
  access: readers,
  params: ById,
  reply: closed({
    row: OrderRow,
    way: Type.String(),
    otherWay: nullable(Type.String()),
    receivedAt: Moment,
    working: WorkingOut,
    commission: nullable(Id),
    timing: nullable(Type.String()),
    clearsAt: nullable(Moment),
    declined: nullable(Type.String()),
    lines: Type.Array(
      closed({
        code: Type.String(),
        name: Type.String(),
        quantity: Type.Integer(),
        amount: MoneyOut,
        discount: MoneyOut,
        value: MoneyOut,
        left: MoneyOut,
      }),
    ),
    refunds: Type.Array(
      closed({
        reference: Type.String(),
        at: Moment,
        kind: Type.String(),
        value: MoneyOut,
        reversed: MoneyOut,
      }),
    ),
    shares: Type.Array(ShareOut),
    downloads: Type.Array(Download),
    life: Type.Array(LifeRow),
    reports: Type.Array(ReportRow),
  }),
});
export const clearTests = endpoint('POST', '/api/v1/orders/clear-tests', {
  summary: 'Clear every test purchase: they were never paid and never counted',
  access: managing,
  once: true,
  reply: closed({ cleared: Type.Integer() }),
});
export const declineCommission = endpoint('POST', '/api/v1/commissions/:id/decline', {
  summary: 'Decline a commission that has not been paid, with a reason the affiliate reads',
  access: paying,
  params: ById,
  once: true,
  body: closed({
    reason: paragraphs('Reason', 500, { least: 3, example: 'Own purchase, excluded by the policy' }),
  }),
  reply: closed({ state: Type.String() }),
});
export const correctCommission = endpoint('POST', '/api/v1/commissions/:id/correct', {
  summary: 'Correct a commission by a difference, up or down, with a reason the affiliate reads',
  access: paying,
  params: ById,
  once: true,
  body: closed({
    difference: words('Difference', 30, { least: 1, example: '-2.50' }),
    reason: paragraphs('Reason', 500, { least: 3, example: 'The agreed rate was 14 %' }),
  }),
  reply: closed({ state: Type.String(), left: MoneyOut }),
});
export const clearCommissions = endpoint('POST', '/api/v1/commissions/clear', {
  summary: 'Clear held commissions whose clearing date has passed',
  access: paying,
  once: true,
  body: closed({ ids: Type.Array(Id, { minItems: 1, maxItems: 1000, title: 'Commissions' }) }),
  reply: closed({ cleared: Type.Integer(), passed: Type.Array(closed({ id: Id, why: Type.String() })) }),
});

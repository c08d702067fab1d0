import { Type, type TSchema } from '@sinclair/typebox';
import { commissionStates } from '../../core/ledger/commission';
import { callPaths, type TrackedCall } from '../../core/tracking/calls';
import { acceptedOutcomes, refundKinds } from '../../core/tracking/lists';
import { closed, nullable, oneOf, words } from '../shared';
import { Download } from './pages';

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
  // a code that the buyer tried and the shop did not take
  refusedCoupon: Type.Optional(nullable(words('Refused coupon', 60))),
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
  kind: oneOf('Kind', refundKinds),
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

export const ReportAnswer = closed({
  outcome: oneOf('Outcome', acceptedOutcomes),
  order: Type.String(),
  credited: nullable(closed({ affiliate: Type.String(), by: Type.String() })),
  reason: Type.String(),
  commissions: Type.Array(
    closed({
      id: Type.String(),
      affiliate: Type.String(),
      amount: closed({ value: Type.String(), currency: Type.String() }),
      state: oneOf('State', commissionStates),
      clearsOn: Type.String(),
    }),
  ),
  downloads: Type.Optional(Type.Array(Download)),
  warnings: Type.Optional(
    Type.Array(closed({ pointer: Type.String(), detail: Type.String() }), {
      description: 'what is odd about the report; it was recorded anyway',
    }),
  ),
});

export type ReportAnswer = (typeof ReportAnswer)['static'];

interface SignedCall<Body extends TSchema> {
  path: string;
  summary: string;
  /** what a shop sends, signed */
  body: Body;
  answer: TSchema;
}

const signed = <Body extends TSchema>(
  call: TrackedCall,
  signed: Omit<SignedCall<Body>, 'path'>,
): SignedCall<Body> => ({ path: callPaths[call], ...signed });

/** The signed calls of the tracking contract: where each goes, what it takes and what comes back. */
export const signedCalls = {
  order: signed('order', { summary: 'Report an order', body: OrderReport, answer: ReportAnswer }),
  refund: signed('refund', {
    summary: 'Report a refund or chargeback',
    body: RefundReport,
    answer: ReportAnswer,
  }),
  renewal: signed('renewal', {
    summary: 'Report a further payment of a subscription or a plan of instalments',
    body: RenewalReport,
    answer: ReportAnswer,
  }),
  lead: signed('lead', { summary: 'Report a lead', body: LeadReport, answer: ReportAnswer }),
  quote: signed('quote', {
    summary: 'Ask for a price at checkout, and for the units to be kept; one message makes one quote',
    body: QuoteReport,
    answer: QuoteAnswer,
  }),
} satisfies Record<TrackedCall, SignedCall<TSchema>>;

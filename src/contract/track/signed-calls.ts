import { Type, type TSchema } from '@sinclair/typebox';
import { commissionStates, type CommissionState } from '../../core/ledger/commission';
import { callPaths, type TrackedCall } from '../../core/tracking/calls';
import { acceptedOutcomes, refundKinds } from '../../core/tracking/lists';
import { closed, nullable, oneOf, words } from '../shared';
import { Download } from './pages';

// control characters stop here: a reference ends up in files, mails and lists
const reference = (title: string, example: string, description: string) =>
  words(title, 100, {
    least: 1,
    example,
    description,
    pattern: '^[^\\u0000-\\u001f\\u007f]*[^\\s\\u0000-\\u001f\\u007f][^\\u0000-\\u001f\\u007f]*$',
  });

const money = (title: string, description: string) =>
  words(title, 30, { least: 1, example: '129.00', description });

const moment = (title: string, description: string) =>
  Type.String({
    ...{ title, format: 'date-time', maxLength: 40, description },
    examples: ['2027-03-12T14:05:00+00:00'],
  });

const quantity = Type.Integer({
  ...{ minimum: 1, maximum: 100_000, title: 'Quantity', examples: [1], description: 'how many units' },
});

const currency = words('Currency', 3, {
  ...{
    least: 3,
    example: 'EUR',
    pattern: '^[A-Z]{3}$',
    description: 'ISO 4217, of all amounts of the report',
  },
});

const orderReference = reference('Order', 'Q-10042', 'your reference of the order');
const paymentOf = 'your reference of this payment, where an order is paid in several; else that of the order';

// null says the same as omitting it: a shop without a visit should not have to build another body
const optional = {
  visit: Type.Optional(
    nullable(
      words('Visit', 60, { description: 'the visit that led the buyer to you: parameter gvn of your page' }),
    ),
  ),
  visitor: Type.Optional(
    nullable(
      words('Visitor', 60, { description: 'the visitor that the snippet keeps: its latest visit counts' }),
    ),
  ),
};

const customer = Type.Optional(
  nullable(
    closed({
      id: Type.Optional(words('Customer id', 100, { description: 'your own id of the buyer' })),
      email: Type.Optional(
        words('Customer e-mail', 254, {
          description: 'for notices before renewals; kept where it is exactly one',
        }),
      ),
      country: Type.Optional(words('Customer country', 2, { description: 'ISO 3166-1, two capitals' })),
      new: Type.Optional(Type.Boolean({ description: 'true for a first purchase' })),
    }),
  ),
);

const line = closed({
  product: reference('Product', 'WHEEL-1', 'the code of the product in Gravenel'),
  quantity,
  amount: money('Amount', 'price × quantity, before discount, tax and shipping'),
  discount: Type.Optional(money('Discount', 'of this line; not together with one of the order')),
  tax: Type.Optional(money('Tax', 'kept, and no part of what commission is paid on')),
  shipping: Type.Optional(money('Shipping', 'kept, and no part of what commission is paid on')),
  step: Type.Optional(words('Funnel step', 60, { description: 'the offer page it was sold on' })),
  quote: Type.Optional(words('Quote', 60, { description: 'the quote that the buyer saw at checkout' })),
});

const lines = Type.Array(line, {
  minItems: 1,
  maxItems: 200,
  title: 'Lines',
  description: 'what was bought',
  examples: [[{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }]],
});

// The tracking contract, version 1: it may gain optional fields, it never changes otherwise.
export const OrderReport = closed({
  order: orderReference,
  payment: Type.Optional(reference('Payment', 'Q-10042-1', paymentOf)),
  placedAt: moment('Placed at', 'when the buyer ordered'),
  currency,
  lines,
  discount: Type.Optional(
    money(
      'Discount',
      'of the whole order, shared over its lines by value; not together with discounts of lines',
    ),
  ),
  tax: Type.Optional(money('Tax', 'of the whole order; no part of what commission is paid on')),
  shipping: Type.Optional(money('Shipping', 'of the whole order; no part of what commission is paid on')),
  ...optional,
  coupon: Type.Optional(nullable(words('Coupon', 60, { description: 'the code that the buyer used' }))),
  refusedCoupon: Type.Optional(
    nullable(
      words('Refused coupon', 60, { description: 'a code that the buyer tried and you did not take' }),
    ),
  ),
  customer,
  subscription: Type.Optional(
    nullable(words('Subscription', 100, { description: 'your reference of what is paid again and again' })),
  ),
  channel: Type.Optional(nullable(words('Channel', 60, { description: 'where it was sold, in your words' }))),
  test: Type.Optional(
    Type.Boolean({ title: 'Test', description: 'true: marked, never paid, never counted' }),
  ),
});

export type OrderReport = (typeof OrderReport)['static'];

const refundedLine = closed({
  product: reference('Product', 'WHEEL-1', 'the code of the product in Gravenel'),
  amount: money('Amount', 'what is given back of it, in the currency of the order'),
});

export const RefundReport = closed({
  refund: reference('Refund', 'R-77', 'your reference of the refund: the same again counts once'),
  order: orderReference,
  payment: Type.Optional(reference('Payment', 'Q-10042-1', 'the payment that is given back; else the first')),
  at: moment('At', 'when it was given back'),
  kind: Type.Unsafe<(typeof refundKinds)[number]>({
    ...oneOf('Kind', refundKinds),
    description: 'whether you gave it back, or the buyer’s bank took it',
  }),
  full: Type.Optional(Type.Boolean({ title: 'Full', description: 'true: everything that is left' })),
  lines: Type.Optional(
    Type.Array(refundedLine, {
      ...{
        minItems: 1,
        maxItems: 200,
        title: 'Lines',
        description: 'what is given back, where it is not all',
      },
      examples: [[{ product: 'WHEEL-1', amount: '50.00' }]],
    }),
  ),
});

export type RefundReport = (typeof RefundReport)['static'];

export const RenewalReport = closed({
  subscription: reference('Subscription', 'SUB-88', 'as the order named it that began it'),
  payment: reference('Payment', 'Q-10042-2', 'your reference of this payment'),
  number: Type.Integer({
    ...{ minimum: 2, maximum: 10_000, title: 'Number', examples: [2] },
    description: '2 = the first renewal',
  }),
  placedAt: moment('Placed at', 'when it was paid'),
  currency,
  lines,
});

export type RenewalReport = (typeof RenewalReport)['static'];

export const LeadReport = closed({
  lead: reference('Lead', 'L-501', 'your reference of the lead'),
  product: reference('Product', 'CALC-0', 'the code of the product in Gravenel'),
  at: moment('At', 'when it came'),
  ...optional,
  customer,
});

export type LeadReport = (typeof LeadReport)['static'];

export const QuoteReport = closed({
  product: reference('Product', 'WHEEL-1', 'the code of the product in Gravenel'),
  quantity,
  currency: Type.Optional(currency),
});

export type QuoteReport = (typeof QuoteReport)['static'];

const text = (description: string) => Type.String({ description });
const amount = closed({
  value: text('as a decimal number'),
  currency: text('ISO 4217'),
});

export const QuoteAnswer = closed({
  quote: text('to be sent with the line of the order'),
  product: text('the code of the product'),
  price: amount,
  left: nullable(Type.Integer({ description: 'units left at this price; null = no limit' })),
  until: text('until when price and units are kept, ISO 8601'),
});

const earned = closed({
  id: text('of the commission'),
  affiliate: text('handle of the affiliate'),
  amount,
  state: Type.Unsafe<CommissionState>({
    ...oneOf('State', commissionStates),
    description: 'where the commission stands',
  }),
  clearsOn: text('the day from which it can be paid'),
});

export const ReportAnswer = closed({
  outcome: Type.Unsafe<(typeof acceptedOutcomes)[number]>({
    ...oneOf('Outcome', acceptedOutcomes),
    description: 'whether it was recorded now or before',
  }),
  order: text('your reference'),
  credited: nullable(closed({ affiliate: text('handle of the affiliate'), by: text('visit or coupon') })),
  reason: text('why the order is credited as it is, in words'),
  commissions: Type.Array(earned, { description: 'what was granted for it' }),
  downloads: Type.Optional(Type.Array(Download, { description: 'links to files for the buyer' })),
  warnings: Type.Optional(
    Type.Array(
      closed({ pointer: text('JSON pointer of the field'), detail: text('what is odd, in words') }),
      {
        description: 'what is odd about the report; it was recorded anyway',
      },
    ),
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

import { sql } from 'drizzle-orm';
import { check, index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { RenewalReport } from '../../../contract/track/signed-calls';
import { type KeptCredit } from '../../../core/attribution/credit';
import { creditWays } from '../../../core/attribution/lists';
import type { CreditReason } from '../../../core/attribution/reason';
import { type Earned } from '../../../core/terms/earned';
import { events } from '../../../core/terms/rate';
import { type Working } from '../../../core/terms/working';
import type { Id } from '../../../core/text/id';
import { picturedStates, refundKinds, reportWays } from '../../../core/tracking/lists';
import type { OrderReason, OtherWay } from '../../../core/tracking/reason';
import { products } from './catalogue';
import { id, moment, reason } from './columns';

export const orders = sqliteTable(
  'orders',
  {
    id: id<'order'>(),
    reference: text('reference').notNull(),
    payment: text('payment').notNull(),
    placedAt: moment('placed_at').notNull(),
    day: text('day').notNull(),
    receivedAt: moment('received_at').notNull(),
    currency: text('currency').notNull(),
    rateMicros: integer('rate_micros').notNull(),
    value: integer('value').notNull(),
    base: integer('base').notNull(),
    way: text('way', { enum: reportWays }).notNull(),
    visit: text('visit').$type<Id<'visit'>>(),
    /** the code that it carried, in capitals, and the coupon that this was then */
    couponCode: text('coupon_code'),
    coupon: text('coupon').$type<Id<'coupon'>>(),
    affiliate: text('affiliate').$type<Id<'affiliate'>>(),
    creditedBy: text('credited_by', { enum: creditWays }),
    reason: reason<OrderReason>('reason').notNull(),
    credit: text('credit', { mode: 'json' }).$type<KeptCredit>().notNull(),
    working: text('working', { mode: 'json' }).$type<Working>(),
    /** commission granted for it, minor units of base: repeated from the journal for figures */
    granted: integer('granted').notNull().default(0),
    customer: text('customer'),
    test: integer('test', { mode: 'boolean' }).notNull().default(false),
    content: text('content').notNull(),
    otherWay: reason<OtherWay>('other_way'),
    /** what the payment is: a first sale, a renewal, a lead; its number within the subscription; the moment its rates were taken as of */
    event: text('event', { enum: events }).notNull().default('sale'),
    number: integer('number').notNull().default(1),
    subscription: text('subscription'),
    resolvedAt: moment('resolved_at'),
  },
  (t) => [
    uniqueIndex('orders_reference').on(t.reference, t.payment),
    index('orders_placed').on(t.placedAt, t.id),
    index('orders_affiliate').on(t.affiliate, t.placedAt),
    index('orders_subscription')
      .on(t.subscription, t.number)
      .where(sql`${t.subscription} IS NOT NULL`),
    index('orders_parts')
      .on(t.reference)
      .where(sql`${t.event} = 'sale' AND ${t.number} > 1`),
    index('orders_doubled')
      .on(t.receivedAt)
      .where(sql`${t.otherWay} IS NOT NULL`),
    index('orders_day').on(t.day, t.test, t.base, t.granted, t.affiliate),
    check('orders_value', sql`${t.value} >= 0 AND ${t.base} >= 0`),
  ],
);

/** Sales known by a picture alone, and further payments that were not agreed: unconfirmed, granted to nobody, in no figure but their own. They become a row of `orders`, or are set aside. */
export const pictured = sqliteTable(
  'pictured',
  {
    id: id<'pictured'>(),
    reference: text('reference').notNull(),
    payment: text('payment').notNull(),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    key: text('key').notNull(),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    currency: text('currency').notNull(),
    amount: integer('amount').notNull(),
    /** as the picture’s address said it, as the visitor below: it may be none of ours */
    visit: text('visit'),
    visitor: text('visitor'),
    coupon: text('coupon'),
    affiliate: text('affiliate').$type<Id<'affiliate'>>(),
    reason: reason<CreditReason>('reason').notNull(),
    content: text('content').notNull(),
    /** the signed report of a further payment that was not agreed; null = reported by a picture */
    report: text('report', { mode: 'json' }).$type<RenewalReport>(),
    /** what of price and quantity does not fit the product, or of a payment what was agreed, in words; empty = it fits */
    misfit: text('misfit').notNull().default(''),
    state: text('state', { enum: picturedStates }).notNull().default('open'),
    order: text('order_id')
      .$type<Id<'order'>>()
      .references(() => orders.id),
    decidedAt: moment('decided_at'),
    decidedBy: text('decided_by'),
    note: text('note').notNull().default(''),
  },
  (t) => [
    uniqueIndex('pictured_once').on(t.reference, t.payment),
    index('pictured_open').on(t.state, t.at, t.id),
    check('pictured_amount', sql`${t.amount} >= 0`),
  ],
);

export const orderLines = sqliteTable(
  'order_lines',
  {
    order: text('order_id')
      .$type<Id<'order'>>()
      .notNull()
      .references(() => orders.id),
    position: integer('position').notNull(),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    quantity: integer('quantity').notNull(),
    amount: integer('amount').notNull(),
    discount: integer('discount').notNull(),
    value: integer('value').notNull(),
    base: integer('base').notNull(),
    valueLeft: integer('value_left').notNull(),
    reward: text('reward', { mode: 'json' }).$type<Earned | null>(),
    /** false where the affiliate was not approved for the product: for replaying */
    approved: integer('approved', { mode: 'boolean' }).notNull().default(true),
    step: text('step'),
    commission: integer('commission').notNull(),
    commissionLeft: integer('commission_left').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.order, t.position] }),
    index('order_lines_product').on(t.product),
    check('order_lines_left', sql`${t.valueLeft} BETWEEN 0 AND ${t.value}`),
  ],
);

export const refunds = sqliteTable(
  'refunds',
  {
    id: id<'refund'>(),
    reference: text('reference').notNull().unique(),
    order: text('order_id')
      .$type<Id<'order'>>()
      .notNull()
      .references(() => orders.id),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    kind: text('kind', { enum: refundKinds }).notNull(),
    value: integer('value').notNull(),
    base: integer('base').notNull(),
    reversed: integer('reversed').notNull(),
    content: text('content').notNull(),
    working: text('working', { mode: 'json' }).$type<RefundWorking[]>().notNull(),
  },
  (t) => [index('refunds_order').on(t.order), index('refunds_day').on(t.day, t.reversed)],
);

/** A subscription or a plan of instalments, from its first payment on. Its affiliate is the one credited then. */
export const subscriptions = sqliteTable(
  'subscriptions',
  {
    reference: text('reference').primaryKey(),
    order: text('order_id')
      .$type<Id<'order'>>()
      .notNull()
      .references(() => orders.id),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    affiliate: text('affiliate').$type<Id<'affiliate'>>(),
    visit: text('visit').$type<Id<'visit'>>(),
    email: text('email').notNull().default(''),
    startedAt: moment('started_at').notNull(),
    /** number of the latest payment, when the next falls due (null = no more), and for which payment a notice was sent */
    number: integer('number').notNull().default(1),
    nextAt: moment('next_at'),
    noticed: integer('noticed').notNull().default(1),
  },
  (t) => [
    index('subscriptions_next')
      .on(t.nextAt)
      .where(sql`${t.nextAt} IS NOT NULL`),
  ],
);

/** A line of a refund: value left and commission left before and after. Amounts in base but `value`s in order currency. */
export interface RefundWorking {
  product: string;
  refunded: number;
  valueLeft: number;
  baseLeft: number;
  commissionBefore: number;
  commissionLeft: number;
}

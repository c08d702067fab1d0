import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Id } from '../../../core/text/id';

// Totals: what figures and counts read instead of the rows they are of. Each is written by triggers alone, in the transaction of what it counts;
// `totals.ts` says what it is the sum of, compares it, and makes it anew.

/** What a payee has in each account, over all of its commissions and shares. */
export const payeeTotals = sqliteTable(
  'payee_totals',
  {
    affiliate: text('affiliate').$type<Id<'affiliate'>>().notNull(),
    held: integer('held').notNull(),
    cleared: integer('cleared').notNull(),
    inRun: integer('in_run').notNull(),
    paid: integer('paid').notNull(),
  },
  (t) => [primaryKey({ columns: [t.affiliate] })],
);

/**
 * What was credited, granted and taken back, by day of the programme's zone. Test orders are not in it. What each counts:
 * `core/figures/measures`.
 */
export const saleDays = sqliteTable(
  'sale_days',
  {
    day: text('day').notNull(),
    orders: integer('orders').notNull(),
    value: integer('value').notNull(),
    granted: integer('granted').notNull(),
    reversed: integer('reversed').notNull(),
    /** value of first sales alone, how many renewals there were, and what people corrected that day */
    firstValue: integer('first_value').notNull().default(0),
    renewals: integer('renewals').notNull().default(0),
    corrected: integer('corrected').notNull().default(0),
  },
  (t) => [primaryKey({ columns: [t.day] })],
);

/** The balance of each account of the journal: debits less credits. */
export const accountTotals = sqliteTable(
  'account_totals',
  {
    account: text('account').notNull(),
    amount: integer('amount').notNull(),
  },
  (t) => [primaryKey({ columns: [t.account] })],
);

/** How often each follow-on offer was taken, by its code, renewals not counted; its lines with them, and what those were worth and granted. Without test orders. */
export const stepTotals = sqliteTable(
  'step_totals',
  {
    step: text('step').notNull(),
    taken: integer('taken').notNull(),
    lines: integer('lines').notNull(),
    base: integer('base').notNull(),
    commission: integer('commission').notNull(),
  },
  (t) => [primaryKey({ columns: [t.step] })],
);

/** The same of each product, without test orders: an order with several lines of a product is one order. */
export const productDays = sqliteTable(
  'product_days',
  {
    product: text('product').$type<Id<'product'>>().notNull(),
    day: text('day').notNull(),
    /** orders that are no renewals; credited ones, and what those granted; those of which something was given back */
    sold: integer('sold').notNull(),
    credited: integer('credited').notNull(),
    granted: integer('granted').notNull(),
    refunded: integer('refunded').notNull(),
    /** value of first sales in base, and that value times the part of the list price, in ten thousandths, that discounts took off */
    weight: integer('weight').notNull(),
    discounted: integer('discounted').notNull(),
    /** of lines that are no follow-on offers and no renewals: value in base, and commission */
    openedBase: integer('opened_base').notNull(),
    openedCommission: integer('opened_commission').notNull(),
    /** first sales, and leads, that are credited to an affiliate */
    orders: integer('orders').notNull().default(0),
    leads: integer('leads').notNull().default(0),
  },
  (t) => [primaryKey({ columns: [t.product, t.day] })],
);

/** Commissions by the quarter of an hour in which they clear: those that are held, and what is cleared and unpaid. */
export const clearingQuarters = sqliteTable(
  'clearing_quarters',
  {
    /** milliseconds ÷ 900,000: every zone's days begin with one */
    quarter: integer('quarter').notNull(),
    heldCount: integer('held_count').notNull(),
    held: integer('held').notNull(),
    cleared: integer('cleared').notNull(),
  },
  (t) => [primaryKey({ columns: [t.quarter] })],
);

/** The day of each affiliate's last click, automated visits aside. */
export const lastClicks = sqliteTable(
  'last_clicks',
  {
    /** milliseconds ÷ 86,400,000: a day of no zone, for what is compared with weeks */
    affiliate: text('affiliate').$type<Id<'affiliate'>>().notNull(),
    day: integer('day').notNull(),
  },
  (t) => [primaryKey({ columns: [t.affiliate] })],
);

/**
 * What came of a creative, by affiliate and day: clicks that count, orders that were credited to a visit by it, and what those were worth,
 * granted and took back, minor units of base. Test orders are not in it.
 */
export const creativeDays = sqliteTable(
  'creative_days',
  {
    creative: text('creative').$type<Id<'creative'>>().notNull(),
    /** milliseconds ÷ 86,400,000: a day of no zone, for what is looked at over weeks */
    day: integer('day').notNull(),
    affiliate: text('affiliate').$type<Id<'affiliate'>>().notNull(),
    clicks: integer('clicks').notNull(),
    orders: integer('orders').notNull(),
    value: integer('value').notNull(),
    granted: integer('granted').notNull(),
    reversed: integer('reversed').notNull(),
    /** value of first sales alone, how many renewals there were, and what people corrected */
    firstValue: integer('first_value').notNull().default(0),
    renewals: integer('renewals').notNull().default(0),
    corrected: integer('corrected').notNull().default(0),
  },
  (t) => [
    primaryKey({ columns: [t.creative, t.day, t.affiliate] }),
    index('creative_days_affiliate').on(t.affiliate, t.day),
  ],
);

/** What came of a coupon, by day: clicks by links of it that count, and orders that carried it, with what those were worth, granted and took back. */
export const couponDays = sqliteTable(
  'coupon_days',
  {
    coupon: text('coupon').$type<Id<'coupon'>>().notNull(),
    /** milliseconds ÷ 86,400,000 */
    day: integer('day').notNull(),
    clicks: integer('clicks').notNull(),
    orders: integer('orders').notNull(),
    value: integer('value').notNull(),
    granted: integer('granted').notNull(),
    reversed: integer('reversed').notNull(),
    /** value of first sales alone, how many renewals there were, and what people corrected */
    firstValue: integer('first_value').notNull().default(0),
    renewals: integer('renewals').notNull().default(0),
    corrected: integer('corrected').notNull().default(0),
  },
  (t) => [primaryKey({ columns: [t.coupon, t.day] })],
);

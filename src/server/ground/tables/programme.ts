import { sql } from 'drizzle-orm';
import { check, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { clearings } from '../../../core/ledger/timing';
import { shareBases } from '../../../core/terms/lists';
import { version } from './columns';

/** The merchant's programme: exactly one row. */
export const programme = sqliteTable(
  'programme',
  {
    id: integer('id').primaryKey(),
    name: text('name').notNull(),
    contact: text('contact').notNull(),
    intro: text('intro').notNull().default(''),
    /** at most two sentences, for lists of programmes */
    summary: text('summary').notNull().default(''),
    base: text('base').notNull(),
    zone: text('zone').notNull(),
    windowDays: integer('window_days').notNull().default(30),
    /** messages a day to people who have not joined */
    messagesPerDay: integer('messages_per_day').notNull().default(50),
    bufferDays: integer('buffer_days').notNull().default(3),
    clearing: text('clearing', { enum: clearings }).notNull().default('automatic'),
    minimumPayout: integer('minimum_payout').notNull().default(0),
    /** a run above this sum needs a second person; null = never */
    approvalAbove: integer('approval_above'),
    /** counted clicks of one network address on a product that are paid a day; null = all */
    clicksPerAddress: integer('clicks_per_address').default(3),
    /** days that reports and unconfirmed sales are kept in the log */
    logDays: integer('log_days').notNull().default(180),
    promiseDays: integer('promise_days').notNull().default(14),
    /** the account that payouts are made from */
    debtorName: text('debtor_name').notNull().default(''),
    debtorIban: text('debtor_iban').notNull().default(''),
    /** hosts that links may lead to */
    landingHosts: text('landing_hosts', { mode: 'json' }).$type<string[]>().notNull().default([]),
    demo: integer('demo', { mode: 'boolean' }).notNull().default(false),
    /** where the demo's clock stood last: it stands still while the server does not run */
    clockAt: integer('clock_at'),
    /** the last day whose clicks were counted towards rewards by the click */
    clicksTo: text('clicks_to'),
    /** weeks that a cut of rates is announced before it holds */
    noticeWeeks: integer('notice_weeks').notNull().default(2),
    /** a longer notice that was promised before, and the moment until which it is kept; null = none */
    noticeBefore: integer('notice_before'),
    noticeBeforeUntil: integer('notice_before_until'),
    /** what an affiliate earns from sales of those it brought in, for those who join from now on; 0 = nothing */
    referralPpm: integer('referral_ppm').notNull().default(0),
    referralOf: text('referral_of', { enum: shareBases }).notNull().default('commission'),
    /** months from joining; null = for ever */
    referralMonths: integer('referral_months'),
    /** a sale that earns an affiliate less is pointed out as too little to be promoted; minor units of base */
    lowEarning: integer('low_earning').notNull().default(200),
    /** what the payment of a sale costs: parts per million of the price and minor units of base */
    /** what buyers read: the name of the shop and whom to ask; empty = the merchant's name and contact */
    brand: text('brand').notNull().default(''),
    supportAddress: text('support_address').notNull().default(''),
    supportPage: text('support_page').notNull().default(''),
    supportPhone: text('support_phone').notNull().default(''),
    /** what the programme is about, the main category first; kinds of affiliates that are wanted, and not */
    categories: text('categories', { mode: 'json' })
      .$type<string[]>()
      .notNull()
      .default(sql`'[]'`),
    kindsWanted: text('kinds_wanted', { mode: 'json' })
      .$type<string[]>()
      .notNull()
      .default(sql`'[]'`),
    kindsUnwanted: text('kinds_unwanted', { mode: 'json' })
      .$type<string[]>()
      .notNull()
      .default(sql`'[]'`),
    /** those the registry vouches for are let in; the shrunk refund rate above which trust lapses and applicants are marked; days an invitation stands */
    vouchedIn: integer('vouched_in', { mode: 'boolean' }).notNull().default(true),
    refundLine: integer('refund_line').notNull().default(120_000),
    inviteDays: integer('invite_days').notNull().default(30),
    /** what a payment by a buyer costs the merchant: parts per million of the price, and minor units of base */
    feePpm: integer('fee_ppm').notNull().default(0),
    feeFixed: integer('fee_fixed').notNull().default(0),
    version: version(),
  },
  (t) => [check('programme_one', sql`${t.id} = 1`), check('programme_minimum', sql`${t.minimumPayout} >= 0`)],
);

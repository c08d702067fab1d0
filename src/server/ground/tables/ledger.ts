import { sql } from 'drizzle-orm';
import { check, index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import { commissionKinds, commissionStates } from '../../../core/ledger/commission';
import { accounts, entryEvents } from '../../../core/ledger/entry';
import { timings } from '../../../core/ledger/timing';
import type { Id } from '../../../core/text/id';
import { id, moment } from './columns';
import { orders } from './orders';
import { affiliates } from './people';

/** A commission: where it stands is derived from the journal; the columns repeat it for lists and are checked against it. */
export const commissions = sqliteTable(
  'commissions',
  {
    id: id<'commission'>(),
    order: text('order_id')
      .$type<Id<'order'>>()
      .notNull()
      .references(() => orders.id),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    /** the commission of the one credited, or somebody's share of the same sale */
    kind: text('kind', { enum: commissionKinds }).notNull().default('commission'),
    granted: integer('granted').notNull(),
    timing: text('timing', { enum: timings }).notNull(),
    soldAt: moment('sold_at').notNull(),
    clearsAt: moment('clears_at').notNull(),
    refundableUntil: moment('refundable_until').notNull(),
    state: text('state', { enum: commissionStates }).notNull(),
    stateSince: moment('state_since').notNull(),
    stateBy: text('state_by').notNull(),
    held: integer('held').notNull(),
    cleared: integer('cleared').notNull(),
    inRun: integer('in_run').notNull(),
    paid: integer('paid').notNull(),
    /** sum of the corrections by people, and what of a negative balance was given up */
    adjusted: integer('adjusted').notNull().default(0),
    givenUp: integer('given_up').notNull().default(0),
    declined: text('declined'),
    declinedAmount: integer('declined_amount').notNull().default(0),
    declinedDay: text('declined_day'),
  },
  (t) => [
    uniqueIndex('commissions_once').on(t.order, t.kind, t.affiliate),
    uniqueIndex('commissions_one')
      .on(t.order)
      .where(sql`${t.kind} = 'commission'`),
    index('commissions_due')
      .on(t.clearsAt)
      .where(sql`${t.held} > 0`),
    index('commissions_affiliate').on(t.affiliate, t.soldAt),
    index('commissions_at_risk')
      .on(t.refundableUntil, t.affiliate, t.paid, t.inRun)
      .where(sql`${t.paid} + ${t.inRun} > 0`),
    index('commissions_unpaid')
      .on(t.clearsAt, t.cleared)
      .where(sql`${t.cleared} > 0`),
    index('commissions_open')
      .on(t.affiliate)
      .where(sql`${t.cleared} <> 0`),
    index('commissions_state').on(t.state, t.soldAt, t.id),
    index('commissions_declined')
      .on(t.declinedDay, t.declinedAmount)
      .where(sql`${t.declinedDay} IS NOT NULL`),
  ],
);

export const entries = sqliteTable(
  'entries',
  {
    id: id<'entry'>(),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    event: text('event', { enum: entryEvents }).notNull(),
    memo: text('memo').notNull(),
    by: text('by').notNull(),
    run: text('run').$type<Id<'run'>>(),
    payment: text('payment').$type<Id<'payment'>>(),
    refund: text('refund').$type<Id<'refund'>>(),
    order: text('order_id').$type<Id<'order'>>(),
    /** what makes the entry happen once only */
    once: text('once').notNull().unique(),
  },
  (t) => [index('entries_at').on(t.at, t.id)],
);

export const entryLines = sqliteTable(
  'entry_lines',
  {
    entry: text('entry')
      .$type<Id<'entry'>>()
      .notNull()
      .references(() => entries.id),
    position: integer('position').notNull(),
    account: text('account', {
      enum: accounts,
    }).notNull(),
    affiliate: text('affiliate').$type<Id<'affiliate'>>(),
    commission: text('commission').$type<Id<'commission'>>(),
    /** debit positive, credit negative */
    amount: integer('amount').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.entry, t.position] }),
    index('entry_lines_account').on(t.account, t.affiliate, t.amount),
    index('entry_lines_commission').on(t.commission),
    check('entry_lines_amount', sql`${t.amount} <> 0`),
  ],
);

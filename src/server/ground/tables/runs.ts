import { sql } from 'drizzle-orm';
import { check, index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import { paymentStates, runStates } from '../../../core/payouts/lists';
import type { PaymentReason } from '../../../core/payouts/status';
import type { Id } from '../../../core/text/id';
import { id, moment, reason, version } from './columns';
import { commissions } from './ledger';
import { affiliates } from './people';

export const runs = sqliteTable(
  'runs',
  {
    id: id<'run'>(),
    number: integer('number').notNull().unique(),
    state: text('state', {
      enum: runStates,
    }).notNull(),
    cutoff: moment('cutoff').notNull(),
    minimum: integer('minimum').notNull(),
    createdAt: moment('created_at').notNull(),
    createdBy: text('created_by').notNull(),
    /** the strictest sum above which a second person approves, since the run was drafted; null = none held meanwhile */
    approvalAbove: integer('approval_above'),
    approvedAt: moment('approved_at'),
    approvedBy: text('approved_by'),
    sentAt: moment('sent_at'),
    sentBy: text('sent_by'),
    settledAt: moment('settled_at'),
    promisedAt: moment('promised_at'),
    total: integer('total').notNull().default(0),
    payees: integer('payees').notNull().default(0),
    /** who began the step that the run is on its way through; null = it is not on its way */
    stepBy: text('step_by'),
    /** why an approval was taken back before it was through; null = it was not */
    notApproved: text('not_approved'),
    /** the payment file as sent; handed over at, when a bank connection took it */
    file: text('file'),
    deliveredAt: moment('delivered_at'),
    excluded: text('excluded', { mode: 'json' }).$type<Id<'affiliate'>[]>().notNull().default([]),
    version: version(),
  },
  (t) => [check('runs_minimum', sql`${t.minimum} >= 0`)],
);

export const payments = sqliteTable(
  'payments',
  {
    id: id<'payment'>(),
    run: text('run')
      .$type<Id<'run'>>()
      .notNull()
      .references(() => runs.id),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    amount: integer('amount').notNull(),
    holder: text('holder').notNull(),
    iban: text('iban').notNull(),
    endToEnd: text('end_to_end').notNull().unique(),
    state: text('state', { enum: paymentStates }).notNull(),
    reason: reason<PaymentReason>('reason'),
    stateSince: moment('state_since').notNull(),
  },
  (t) => [
    uniqueIndex('payments_once').on(t.run, t.affiliate),
    index('payments_affiliate').on(t.affiliate),
    check('payments_amount', sql`${t.amount} > 0`),
  ],
);

export const paymentItems = sqliteTable(
  'payment_items',
  {
    payment: text('payment')
      .$type<Id<'payment'>>()
      .notNull()
      .references(() => payments.id),
    commission: text('commission')
      .$type<Id<'commission'>>()
      .notNull()
      .references(() => commissions.id),
    amount: integer('amount').notNull(),
  },
  (t) => [primaryKey({ columns: [t.payment, t.commission] })],
);

/** Status reports that were read, so that a second reading changes nothing. */
export const statusReports = sqliteTable('status_reports', {
  id: id<'status'>(),
  name: text('name').notNull(),
  at: moment('at').notNull(),
  by: text('by').notNull(),
  content: text('content').notNull(),
  lines: integer('lines').notNull(),
});

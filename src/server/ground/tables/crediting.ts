import { sql } from 'drizzle-orm';
import { check, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { shareKinds } from '../../../core/terms/lists';
import type { Id } from '../../../core/text/id';
import { orders } from './orders';
import { affiliates } from './people';

/** Shares of a line beside its commission, with what each is a percent of; amounts in minor units of base. Their money is in `commissions`. */
export const shareLines = sqliteTable(
  'share_lines',
  {
    order: text('order_id')
      .$type<Id<'order'>>()
      .notNull()
      .references(() => orders.id),
    position: integer('position').notNull(),
    kind: text('kind', { enum: shareKinds }).notNull(),
    payee: text('payee')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    ppm: integer('ppm').notNull(),
    of: text('of', { enum: ['sale', 'commission', 'rest'] }).notNull(),
    basis: integer('basis').notNull(),
    amount: integer('amount').notNull(),
    left: integer('amount_left').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.order, t.position, t.kind, t.payee] }),
    check('share_lines_left', sql`${t.left} BETWEEN 0 AND ${t.amount}`),
  ],
);

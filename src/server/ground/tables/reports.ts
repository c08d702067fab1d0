import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Id } from '../../../core/text/id';
import { reportWays } from '../../../core/tracking/lists';
import { id, moment } from './columns';

export const reports = sqliteTable(
  'reports',
  {
    id: id<'report'>(),
    at: moment('at').notNull(),
    call: text('call').notNull(),
    way: text('way', { enum: reportWays }).notNull(),
    key: text('key'),
    reference: text('reference'),
    outcome: text('outcome').notNull(),
    status: integer('status').notNull(),
    said: text('said').notNull(),
    body: text('body').notNull(),
    order: text('order_id').$type<Id<'order'>>(),
    /** what anybody can send is one row for an address and minute, of the last that came, with how many came; the slot says which */
    count: integer('count').notNull().default(1),
    slot: text('slot').unique(),
  },
  (t) => [
    index('reports_outcome').on(t.outcome, t.at),
    index('reports_order').on(t.order),
    index('reports_at').on(t.at),
    index('reports_unclaimed')
      .on(t.reference)
      .where(sql`${t.order} IS NULL`),
  ],
);

/** Webhook ids that were seen, so that an id with another body is refused. */
export const seenMessages = sqliteTable(
  'seen_messages',
  {
    id: text('id').notNull(),
    key: text('key').notNull(),
    bodyHash: text('body_hash').notNull(),
    at: moment('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.key, t.id] })],
);

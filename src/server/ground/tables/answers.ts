import { integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { moment } from './columns';

/** Answers kept for repeated keys. */
export const answers = sqliteTable(
  'answers',
  {
    key: text('key').notNull(),
    actor: text('actor').notNull(),
    call: text('call').notNull(),
    bodyHash: text('body_hash').notNull(),
    status: integer('status').notNull(),
    body: text('body').notNull(),
    at: moment('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.key, t.actor, t.call] })],
);

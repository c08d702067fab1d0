import { sql } from 'drizzle-orm';
import { check, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';

export const rateDays = sqliteTable(
  'rate_days',
  {
    currency: text('currency').notNull(),
    day: text('day').notNull(),
    rateMicros: integer('rate_micros').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.currency, t.day] }),
    check('rate_days_positive', sql`${t.rateMicros} > 0`),
  ],
);

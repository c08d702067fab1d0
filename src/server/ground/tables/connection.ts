import { integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { moment } from './columns';

export const keys = sqliteTable('keys', {
  id: text('id').primaryKey(),
  label: text('label').notNull(),
  secret: text('secret').notNull(),
  createdAt: moment('created_at').notNull(),
  /** whether pages may report sales by the fallback picture with it: anybody can, so that such a sale is unconfirmed */
  pictures: integer('pictures', { mode: 'boolean' }).notNull().default(false),
});

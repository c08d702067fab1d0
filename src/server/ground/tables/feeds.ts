import { sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Id } from '../../../core/text/id';
import { moment } from './columns';

/** The secret in the addresses of an affiliate's feeds: found by its digest, shown to its owner out of its seal. */
export const feedKeys = sqliteTable('feed_keys', {
  affiliate: text('affiliate').$type<Id<'affiliate'>>().primaryKey(),
  digest: text('digest').notNull().unique(),
  sealed: text('sealed').notNull(),
  createdAt: moment('created_at').notNull(),
});

import { sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Id } from '../../../core/text/id';
import { moment } from './columns';

/** When an affiliate was last in the portal, and when before that: what came in between is new to it. */
export const portalVisits = sqliteTable('portal_visits', {
  affiliate: text('affiliate').$type<Id<'affiliate'>>().primaryKey(),
  hereAt: moment('here_at').notNull(),
  /** null: it is here for the first time */
  beforeAt: moment('before_at'),
  /** when it last read its messages */
  readAt: moment('read_at'),
});

import { index, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { RosterFilter } from '../../../core/recruiting/roster';
import type { Id } from '../../../core/text/id';
import { id, moment, version } from './columns';

/** Filters of the roster that were saved by a name. */
export const segments = sqliteTable('segments', {
  id: id<'segment'>(),
  name: text('name').notNull(),
  filter: text('filter', { mode: 'json' }).$type<RosterFilter>().notNull(),
  columns: text('columns', { mode: 'json' }).$type<string[]>().notNull(),
  createdAt: moment('created_at').notNull(),
  by: text('by').notNull(),
  removedAt: moment('removed_at'),
  version: version(),
});

/** Acts on many affiliates at once, with what stood before, so that each can be taken back. */
export const bulkActs = sqliteTable(
  'bulk_acts',
  {
    id: id<'bulk'>(),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    what: text('what').notNull(),
    to: text('to_value'),
    /** affiliate → value before */ before: text('before', { mode: 'json' })
      .$type<[affiliate: Id<'affiliate'>, before: string | null][]>()
      .notNull(),
    undoneAt: moment('undone_at'),
  },
  (t) => [index('bulk_acts_at').on(t.at)],
);

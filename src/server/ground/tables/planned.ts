import { sql } from 'drizzle-orm';
import { index, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { plannedStates } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import { id, moment } from './columns';

/** What is to change at a later moment, a field a row. */
export const plannedChanges = sqliteTable(
  'planned_changes',
  {
    id: id<'planned'>(),
    subject: text('subject').$type<Id<'creative' | 'coupon'>>().notNull(),
    at: moment('at').notNull(),
    field: text('field').notNull(),
    value: text('value', { mode: 'json' }).$type<{ is: unknown }>().notNull(),
    state: text('state', { enum: plannedStates }).notNull().default('coming'),
    /** what the field was when it happened */
    before: text('before', { mode: 'json' }).$type<{ is: unknown }>(),
    /** why it was dropped */
    why: text('why'),
    createdAt: moment('created_at').notNull(),
    by: text('by').notNull(),
    endedAt: moment('ended_at'),
  },
  (t) => [
    index('planned_changes_due')
      .on(t.at, t.id)
      .where(sql`state = 'coming'`),
    index('planned_changes_subject').on(t.subject, t.at),
  ],
);

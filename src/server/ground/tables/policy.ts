import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { policyStates } from '../../../core/recruiting/lists';
import { type PolicyContent } from '../../../core/recruiting/policy';
import type { Id } from '../../../core/text/id';
import { id, moment, version } from './columns';
import { affiliates } from './people';

/** Versions of the policy; one draft at the most. */
export const policies = sqliteTable('policies', {
  id: id<'policy'>(),
  number: integer('number').notNull().unique(),
  state: text('state', { enum: policyStates }).notNull(),
  content: text('content', { mode: 'json' }).$type<PolicyContent>().notNull(),
  createdAt: moment('created_at').notNull(),
  by: text('by').notNull(),
  publishedAt: moment('published_at'),
  /** from when it holds */ holdsFrom: moment('holds_from'),
  /** when those who had not accepted it were dealt with, and how many they were */
  closedAt: moment('closed_at'),
  closedFor: integer('closed_for'),
  /** how far telling and dealing with them are: the last affiliate, empty before the first; null = not begun, or done */
  toldTo: text('told_to'),
  closedTo: text('closed_to'),
  remindedAt: moment('reminded_at'),
  version: version(),
});

export const acceptances = sqliteTable(
  'acceptances',
  {
    policy: text('policy')
      .$type<Id<'policy'>>()
      .notNull()
      .references(() => policies.id),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    at: moment('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.policy, t.affiliate] }), index('acceptances_affiliate').on(t.affiliate)],
);

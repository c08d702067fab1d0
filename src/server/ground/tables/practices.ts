import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { PracticeKey } from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import { applications } from './applications';
import { id, moment } from './columns';
import { affiliates } from './people';

/** With which version of the policy an application’s words were looked through, and whether its applicant was asked to tick practices. */
export const practiceMatches = sqliteTable(
  'practice_matches',
  {
    application: text('application')
      .$type<Id<'application'>>()
      .primaryKey()
      .references(() => applications.id),
    /** number of the version, 0 before the first */
    policy: integer('policy').notNull(),
    asked: integer('asked', { mode: 'boolean' }).notNull(),
  },
  (t) => [index('practice_matches_policy').on(t.policy)],
);

/** Practices that an applicant means to use: ticked, or named in its words. */
export const applicationPractices = sqliteTable(
  'application_practices',
  {
    application: text('application')
      .$type<Id<'application'>>()
      .notNull()
      .references(() => applications.id),
    practice: text('practice').$type<PracticeKey>().notNull(),
    ticked: integer('ticked', { mode: 'boolean' }).notNull(),
    said: integer('said', { mode: 'boolean' }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.application, t.practice] }),
    index('application_practices_practice').on(t.practice, t.application),
  ],
);

/** What was answered to somebody who asked about a practice; the one that stands has no end. */
export const permissions = sqliteTable(
  'permissions',
  {
    id: id<'permission'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    practice: text('practice').$type<PracticeKey>().notNull(),
    /** what the practice was called then: it may be gone from the policy by now */
    name: text('name').notNull(),
    allowed: integer('allowed', { mode: 'boolean' }).notNull(),
    words: text('words').notNull().default(''),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    application: text('application')
      .$type<Id<'application'>>()
      .references(() => applications.id),
    /** the answer that it took the place of, which is back when this one is taken back */
    replaced: text('replaced').$type<Id<'permission'>>(),
    endedAt: moment('ended_at'),
  },
  (t) => [
    index('permissions_affiliate').on(t.affiliate, t.at),
    index('permissions_practice').on(t.practice, t.affiliate),
    uniqueIndex('permissions_standing')
      .on(t.affiliate, t.practice)
      .where(sql`${t.endedAt} IS NULL`),
  ],
);

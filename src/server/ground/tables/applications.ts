import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { timings, type Timing } from '../../../core/ledger/timing';
import type { Conditions, RuleOutcome, ScreeningFacts } from '../../../core/recruiting/rules';
import { applicationStates, type AffiliateState } from '../../../core/recruiting/states';
import { jobStates } from '../../../core/terms/lists';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment, version } from './columns';
import { affiliates } from './people';

/** An affiliate as an approval found it: its state, and the approvals that the new one took the place of. */
export interface BeforeApproval {
  state: AffiliateState;
  joinedAt: number | null;
  promotes: boolean;
  timing: Timing;
  approvals: Id<'approval'>[];
}

/** Rehearsals of the screening rules: how far each came, and what it found. */
export const ruleRehearsals = sqliteTable(
  'rule_rehearsals',
  {
    id: id<'rehearsal'>(),
    by: text('by').notNull(),
    at: moment('at').notNull(),
    /** the rules and their versions */ rules: text('rules').notNull(),
    state: text('state', { enum: jobStates }).notNull(),
    done: integer('done').notNull().default(0),
    total: integer('total').notNull().default(0),
    tookMs: integer('took_ms'),
    result: text('result', { mode: 'json' }).$type<unknown>(),
  },
  (t) => [index('rule_rehearsals_at').on(t.at)],
);

export const applications = sqliteTable(
  'applications',
  {
    id: id<'application'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    note: text('note').notNull().default(''),
    channels: text('channels').notNull().default(''),
    state: text('state', { enum: applicationStates }).notNull().default('waiting'),
    timing: text('timing', { enum: timings }),
    reason: text('reason'),
    decidedAt: moment('decided_at'),
    decidedBy: text('decided_by'),
    createdAt: moment('created_at').notNull(),
    version: version(),
    /** number of the version of the policy that was ticked in the form: accepted once the person has shown that the address is its own */
    policy: integer('policy'),
    /** what an approval found, so that taking it back brings exactly that back */
    before: text('before', { mode: 'json' }).$type<BeforeApproval | null>(),
    /** its note can be found by those like it */
    indexed: integer('indexed', { mode: 'boolean' }).notNull().default(false),
    /** the rule that decided it, as it read then, and on which values */
    rule: text('rule', { mode: 'json' }).$type<{
      /** “vouched”: the registry vouches for somebody, and the programme lets such in */
      id: Id<'rule'> | 'vouched';
      sentence: string;
      facts: ScreeningFacts;
    } | null>(),
  },
  (t) => [
    index('applications_unindexed')
      .on(t.id)
      .where(sql`${t.indexed} = 0`),
    index('applications_queue').on(t.state, t.createdAt, t.id),
    index('applications_affiliate').on(t.affiliate),
  ],
);

/** Rules that decide applications, in order. */
export const screeningRules = sqliteTable('screening_rules', {
  id: id<'rule'>(),
  position: integer('position').notNull(),
  conditions: text('conditions', { mode: 'json' }).$type<Conditions>().notNull(),
  outcome: text('outcome', { mode: 'json' }).$type<RuleOutcome>().notNull(),
  on: integer('is_on', { mode: 'boolean' }).notNull().default(false),
  createdAt: moment('created_at').notNull(),
  by: text('by').notNull(),
  removedAt: moment('removed_at'),
  version: version(),
});

/** What was asked of an applicant before deciding, and what came back. */
export const questions = sqliteTable(
  'questions',
  {
    id: id<'question'>(),
    application: text('application')
      .$type<Id<'application'>>()
      .notNull()
      .references(() => applications.id),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    by: text('by').notNull(),
    question: text('question').notNull(),
    /** true where it counts towards the messages a day to people who have not joined */
    counted: integer('counted', { mode: 'boolean' }).notNull(),
    answer: text('answer'),
    answeredAt: moment('answered_at'),
  },
  (t) => [index('questions_application').on(t.application), index('questions_day').on(t.day)],
);

/** Keys under which notes are found by those like them: notes that share none are not compared. */
export const noteKeys = sqliteTable(
  'note_keys',
  {
    band: integer('band').notNull(),
    key: integer('note_key').notNull(),
    application: text('application')
      .$type<Id<'application'>>()
      .notNull()
      .references(() => applications.id),
  },
  (t) => [primaryKey({ columns: [t.band, t.key, t.application] })],
);

/** Affiliates who are let in for later products too, until a day, while their refunds stay low. */
export const trusts = sqliteTable(
  'trusts',
  {
    id: id<'trust'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    /** true: also at sale */ atSale: integer('at_sale', { mode: 'boolean' }).notNull(),
    by: text('by').notNull(),
    endedAt: moment('ended_at'),
    why: text('why'),
  },
  (t) => [index('trusts_affiliate').on(t.affiliate, t.from)],
);

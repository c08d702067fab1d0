import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { inviteStates } from '../../../core/recruiting/lists';
import { prospectStates } from '../../../core/recruiting/states';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment } from './columns';
import { affiliates } from './people';
import { sets } from './terms';

/** Our copy of the registry's partners. What is searched by parts stands in `prospect_text`, a full-text table made by the migration. */
export const prospects = sqliteTable(
  'prospects',
  {
    /** number of the row in `prospect_text` */
    n: integer('n').primaryKey(),
    /** the registry's id */
    id: text('id').notNull().unique(),
    name: text('name').notNull(),
    nameKey: text('name_key').notNull(),
    country: text('country').notNull(),
    sites: text('sites', { mode: 'json' }).$type<string[]>().notNull(),
    kinds: text('kinds', { mode: 'json' }).$type<string[]>().notNull(),
    audience: integer('audience').notNull(),
    intro: text('intro').notNull(),
    /** its record there: cleared sales, refunds of them, and since when */
    sales: integer('sales').notNull(),
    refunds: integer('refunds').notNull(),
    since: text('since').notNull(),
    standing: integer('standing').notNull(),
    /** what the registry vouches for it by; empty = it does not */
    vouched: text('vouched').notNull().default(''),
    changedAt: moment('changed_at').notNull(),
    /** where it stands with us; repeated here for filters */
    state: text('state', { enum: prospectStates }).notNull().default('never'),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .references(() => affiliates.id),
  },
  (t) => [
    index('prospects_standing').on(t.standing, t.n),
    index('prospects_name').on(t.nameKey),
    index('prospects_state').on(t.state, t.standing, t.n),
    index('prospects_country').on(t.country, t.standing, t.n),
    index('prospects_affiliate')
      .on(t.affiliate)
      .where(sql`${t.affiliate} IS NOT NULL`),
  ],
);

/** Every site of a prospect by its host, so that one is recognised who applies under any of them. */
export const prospectSites = sqliteTable(
  'prospect_sites',
  {
    host: text('host').notNull(),
    prospect: integer('prospect')
      .notNull()
      .references(() => prospects.n, { onDelete: 'cascade' }),
    /** as it is searched: accents off. Never for recognising somebody, since another may own the plain spelling */
    search: text('search').notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.host, t.prospect, t.search] }),
    index('prospect_sites_prospect').on(t.prospect),
    index('prospect_sites_search').on(t.search),
  ],
);

/** Tags put on a prospect before it joins. */
export const prospectTags = sqliteTable(
  'prospect_tags',
  {
    prospect: integer('prospect')
      .notNull()
      .references(() => prospects.n, { onDelete: 'cascade' }),
    tag: text('tag')
      .$type<Id<'set'>>()
      .notNull()
      .references(() => sets.id),
    at: moment('at').notNull(),
    by: text('by').notNull(),
  },
  (t) => [primaryKey({ columns: [t.prospect, t.tag] })],
);

export const invites = sqliteTable(
  'invites',
  {
    id: id<'invite'>(),
    prospect: text('prospect').notNull(),
    at: moment('at').notNull(),
    day: text('day').notNull(),
    by: text('by').notNull(),
    message: text('message').notNull(),
    card: text('card').$type<Id<'set'>>(),
    group: text('group_id').$type<Id<'set'>>(),
    tags: text('tags', { mode: 'json' }).$type<Id<'set'>[]>().notNull(),
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    state: text('state', {
      enum: inviteStates,
    }).notNull(),
    stateAt: moment('state_at').notNull(),
    expiresAt: moment('expires_at').notNull(),
    /** what the registry said of a try that failed; it is tried again */
    fault: text('fault'),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .references(() => affiliates.id),
  },
  (t) => [
    index('invites_prospect').on(t.prospect, t.at),
    index('invites_state').on(t.state, t.at),
    index('invites_day').on(t.day),
  ],
);

/** How our copy of the registry stands: one row. */
export const registrySync = sqliteTable('registry_sync', {
  id: integer('id').primaryKey(),
  /** where a copy that is under way goes on */ after: text('after_id'),
  begunAt: moment('begun_at'),
  doneAt: moment('done_at'),
  fault: text('fault'),
  faultAt: moment('fault_at'),
  /** the number of the last outcome that was read */ outcomes: integer('outcomes').notNull().default(0),
});

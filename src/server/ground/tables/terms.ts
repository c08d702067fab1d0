import { sql } from 'drizzle-orm';
import { check, index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Change } from '../../../core/terms/draft';
import { jobStates, lockedEvents, rateModes, setKinds, shareBases } from '../../../core/terms/lists';
import { events, rungs, type Payments, type Reward, type What } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment, version } from './columns';
import { affiliates } from './people';

/** Rate cards, groups and tags: what affiliates are sorted into, and what rates can be for. */
export const sets = sqliteTable(
  'sets',
  {
    id: id<'set'>(),
    of: text('of', { enum: setKinds }).notNull(),
    name: text('name').notNull(),
    about: text('about').notNull().default(''),
    /** of tags */
    colour: text('colour').notNull().default(''),
    /** of cards: may be chosen at sign-up, may be changed to later, is the one for those who choose none */
    openJoin: integer('open_join', { mode: 'boolean' }).notNull().default(false),
    openChange: integer('open_change', { mode: 'boolean' }).notNull().default(false),
    standard: integer('standard', { mode: 'boolean' }).notNull().default(false),
    createdAt: moment('created_at').notNull(),
    removedAt: moment('removed_at'),
    removal: text('removal', { mode: 'json' }).$type<Removal | null>(),
    version: version(),
  },
  (t) => [index('sets_of').on(t.of, t.name)],
);

/** What stood when a set was removed and what the removal made of it, so that taking it back restores exactly that. */
export interface Removal {
  rates: {
    id: Id<'rate'>;
    until: number | null;
    endedAt: number | null;
    endedBy: string | null;
    endedFor: Id<'rate'> | null;
    set: number;
  }[];
  members: { id: Id<'membership'>; until: number | null; set: number }[];
  /** memberships of another card that its members were moved to */
  moved: Id<'membership'>[];
}

export const memberships = sqliteTable(
  'memberships',
  {
    id: id<'membership'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    of: text('of', { enum: setKinds }).notNull(),
    set: text('set_id')
      .$type<Id<'set'>>()
      .notNull()
      .references(() => sets.id),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    by: text('by').notNull(),
  },
  (t) => [index('memberships_set').on(t.set, t.affiliate), index('memberships_affiliate').on(t.affiliate)],
);

export const pauses = sqliteTable(
  'pauses',
  {
    id: id<'pause'>(),
    set: text('set_id')
      .$type<Id<'set'>>()
      .notNull()
      .references(() => sets.id),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    by: text('by').notNull(),
  },
  (t) => [index('pauses_set').on(t.set)],
);

export const locks = sqliteTable(
  'locks',
  {
    id: id<'lock'>(),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    event: text('event', { enum: lockedEvents }).notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    by: text('by').notNull(),
  },
  (t) => [index('locks_product').on(t.product)],
);

/** The merchant's order of tags from a moment on. */
export const tagOrders = sqliteTable('tag_orders', {
  id: id<'tagOrder'>(),
  from: moment('valid_from').notNull(),
  tags: text('tags', { mode: 'json' }).$type<Id<'set'>[]>().notNull(),
  by: text('by').notNull(),
});

/** Changes of terms that somebody is working on: one open draft a person. */
export const drafts = sqliteTable(
  'drafts',
  {
    id: id<'draft'>(),
    by: text('by').notNull(),
    state: text('state', { enum: ['open', 'saved', 'discarded'] })
      .notNull()
      .default('open'),
    /** when it is to begin; null = at the moment it is saved */
    from: moment('valid_from'),
    changes: text('changes', { mode: 'json' }).$type<DraftChange[]>().notNull(),
    createdAt: moment('created_at').notNull(),
    savedAt: moment('saved_at'),
    version: version(),
  },
  (t) => [index('drafts_by').on(t.by, t.state)],
);

/** A change in a draft; `own` says that it has a start of its own, `expects` which rate stood in its place when it was drafted. */
export interface DraftChange {
  id: Id<'change'>;
  change: Change;
  own: boolean;
  expects: Id<'rate'> | null;
}

export const rehearsals = sqliteTable(
  'rehearsals',
  {
    id: id<'rehearsal'>(),
    draft: text('draft')
      .$type<Id<'draft'>>()
      .notNull()
      .references(() => drafts.id),
    draftVersion: integer('draft_version').notNull(),
    by: text('by').notNull(),
    at: moment('at').notNull(),
    from: text('from_day').notNull(),
    to: text('to_day').notNull(),
    state: text('state', { enum: jobStates }).notNull(),
    done: integer('done').notNull().default(0),
    total: integer('total').notNull().default(0),
    tookMs: integer('took_ms'),
    result: text('result', { mode: 'json' }).$type<unknown>(),
  },
  (t) => [index('rehearsals_draft').on(t.draft, t.at)],
);

export const rates = sqliteTable(
  'rates',
  {
    id: id<'rate'>(),
    mode: text('mode', { enum: rateModes }).notNull().default('base'),
    rung: text('rung', { enum: rungs }).notNull(),
    who: text('who').$type<Id<'affiliate' | 'set'>>(),
    what: text('what', { mode: 'json' }).$type<What>().notNull(),
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    event: text('event', { enum: events }).notNull(),
    payments: text('payments', { mode: 'json' }).$type<Payments | null>(),
    reward: text('reward', { mode: 'json' }).$type<Reward>().notNull(),
    cap: integer('cap'),
    label: text('label').notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    createdAt: moment('created_at').notNull(),
    createdBy: text('created_by').notNull().default(''),
    /** when its end was set, and by whom: a rate that another took the place of, or that somebody ended */
    endedAt: moment('ended_at'),
    endedBy: text('ended_by'),
    draft: text('draft').$type<Id<'draft'>>(),
    /** the rate that took its place, if one did */
    endedFor: text('ended_for').$type<Id<'rate'>>(),
    /** its end as it was saved, whatever ended it since: only what was saved without one takes the place of others */
    untilSaved: moment('until_saved'),
  },
  (t) => [
    index('rates_product').on(t.product),
    check('rates_span', sql`${t.until} IS NULL OR ${t.until} >= ${t.from}`),
  ],
);

/** Who brought an affiliate in, and what that one earns of its sales: the terms of the day it joined. */
export const referrals = sqliteTable(
  'referrals',
  {
    id: id<'referral'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    by: text('by')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    ppm: integer('ppm').notNull(),
    of: text('of', { enum: shareBases }).notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    /** the end that it was set with, whatever ends it sooner; null = for ever */
    untilSet: moment('until_set'),
    setBy: text('set_by').notNull(),
  },
  (t) => [index('referrals_affiliate').on(t.affiliate), index('referrals_by').on(t.by)],
);

/** Partners in a product and their percent of what a sale leaves. */
export const coOwners = sqliteTable(
  'co_owners',
  {
    id: id<'coOwner'>(),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    payee: text('payee')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    ppm: integer('ppm').notNull(),
    from: moment('valid_from').notNull(),
    until: moment('valid_until'),
    by: text('by').notNull(),
  },
  (t) => [index('co_owners_product').on(t.product)],
);

import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Audience } from '../../../core/material/audience';
import { couponGives, evidenceKinds } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import { id, moment, version } from './columns';
import { affiliates } from './people';

/** Codes that buyers type, or that links hand to the shop. Moments are UTC milliseconds, until is exclusive. */
export const coupons = sqliteTable(
  'coupons',
  {
    id: id<'coupon'>(),
    /** as it is typed: capital letters, digits and dashes */
    code: text('code').notNull(),
    gives: text('gives', { enum: couponGives }).notNull(),
    /** parts per million, or minor units of base; 0 for the others */
    value: integer('value').notNull(),
    /** what the buyer gets, where it is something else */
    words: text('words').notNull(),
    /** least value of an order, minor units of base; null: none */
    least: integer('least'),
    /** empty: for everything */
    products: text('products', { mode: 'json' }).$type<Id<'product'>[]>().notNull(),
    landing: text('landing').notNull(),
    terms: text('terms').notNull(),
    /** whose own it is */
    owner: text('owner')
      .$type<Id<'affiliate'>>()
      .references(() => affiliates.id),
    audience: text('audience', { mode: 'json' }).$type<Audience>().notNull(),
    /** the shop applies it by itself from the link */
    applied: integer('applied', { mode: 'boolean' }).notNull(),
    active: integer('active', { mode: 'boolean' }).notNull(),
    from: moment('valid_from'),
    until: moment('valid_until'),
    createdAt: moment('created_at').notNull(),
    by: text('by').notNull(),
    removedAt: moment('removed_at'),
    version: version(),
  },
  (t) => [index('coupons_code').on(t.code), index('coupons_newest').on(t.createdAt, t.id)],
);

/** What is known of a coupon in the shop, of each kind once: the first and the last time, and how often. */
export const couponEvidence = sqliteTable(
  'coupon_evidence',
  {
    coupon: text('coupon').$type<Id<'coupon'>>().notNull(),
    kind: text('kind', { enum: evidenceKinds }).notNull(),
    firstAt: moment('first_at').notNull(),
    lastAt: moment('last_at').notNull(),
    times: integer('times').notNull(),
    /** who said so, or the reference of the last order that showed it */
    by: text('by').notNull(),
  },
  (t) => [primaryKey({ columns: [t.coupon, t.kind] })],
);

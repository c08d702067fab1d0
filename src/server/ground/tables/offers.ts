import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import { entrySpeakers, noticeKinds } from '../../../core/recruiting/lists';
import { entryStates } from '../../../core/recruiting/states';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment, version } from './columns';

/** Pages that present a product, or several that are nearly the same, to affiliates; and where each stands in the registry's catalogue. */
export const offers = sqliteTable(
  'offers',
  {
    id: id<'offer'>(),
    slug: text('slug').notNull(),
    headline: text('headline').notNull(),
    about: text('about').notNull(),
    benefits: text('benefits', { mode: 'json' }).$type<string[]>().notNull(),
    language: text('language').notNull().default('en'),
    products: text('products', { mode: 'json' }).$type<Id<'product'>[]>().notNull(),
    category: text('category').notNull(),
    live: integer('live', { mode: 'boolean' }).notNull().default(false),
    /** its entry in the catalogue */
    entry: text('entry', { enum: entryStates }).notNull().default('none'),
    entryAt: moment('entry_at'),
    submittedAt: moment('submitted_at'),
    /** what the registry could not take yet */ fault: text('fault'),
    createdAt: moment('created_at').notNull(),
    by: text('by').notNull(),
    removedAt: moment('removed_at'),
    version: version(),
  },
  (t) => [uniqueIndex('offers_slug').on(t.slug)],
);

/** What was said between the merchant and the catalogue's reviewer about an entry. */
export const entryWords = sqliteTable(
  'entry_words',
  {
    id: id<'entryWord'>(),
    offer: text('offer')
      .$type<Id<'offer'>>()
      .notNull()
      .references(() => offers.id),
    at: moment('at').notNull(),
    from: text('from_whom', { enum: entrySpeakers }).notNull(),
    by: text('by').notNull(),
    text: text('text').notNull(),
  },
  (t) => [index('entry_words_offer').on(t.offer, t.at)],
);

/** News and notes for affiliates, of a product or of the programme. */
export const notices = sqliteTable(
  'notices',
  {
    id: id<'news'>(),
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    kind: text('kind', { enum: noticeKinds }).notNull(),
    title: text('title').notNull(),
    body: text('body').notNull(),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    removedAt: moment('removed_at'),
  },
  (t) => [index('notices_at').on(t.at)],
);

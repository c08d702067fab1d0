import { sql } from 'drizzle-orm';
import { check, index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment, version } from './columns';

/** An opening product and the offers that follow it. */
export const funnels = sqliteTable(
  'funnels',
  {
    id: id<'funnel'>(),
    name: text('name').notNull(),
    opening: text('opening')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    first: text('first'),
    createdAt: moment('created_at').notNull(),
    removedAt: moment('removed_at'),
    version: version(),
  },
  (t) => [index('funnels_opening').on(t.opening)],
);

/** A follow-on offer: what is offered, at which price, and where a yes and a no lead (a step's code, or null = to the confirmation page). */
export const funnelSteps = sqliteTable(
  'funnel_steps',
  {
    code: text('code').primaryKey(),
    funnel: text('funnel')
      .$type<Id<'funnel'>>()
      .notNull()
      .references(() => funnels.id),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    position: integer('position').notNull(),
    /** minor units of the product's currency; null = the product's own price */
    price: integer('price'),
    onYes: text('on_yes'),
    onNo: text('on_no'),
  },
  (t) => [
    index('funnel_steps_funnel').on(t.funnel, t.position),
    check('funnel_steps_price', sql`${t.price} IS NULL OR ${t.price} >= 0`),
  ],
);

/** What those who promote a product are told of it by mail: some with the act, the others in turns after it. */
export const productNews = sqliteTable(
  'product_news',
  {
    id: id<'productNews'>(),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    at: moment('at').notNull(),
    subject: text('subject').notNull(),
    /** what happened, between the greeting and the closing lines */
    news: text('news').notNull(),
    /** the last affiliate who was told, empty = nobody so far; null = everybody was */
    toldTo: text('told_to'),
  },
  (t) => [
    index('product_news_untold')
      .on(t.id)
      .where(sql`${t.toldTo} IS NOT NULL`),
  ],
);

import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Unpaid } from '../../../core/attribution/clicks';
import { barredCodes } from '../../../core/attribution/lists';
import type { NotOpened } from '../../../core/attribution/opened';
import type { Id } from '../../../core/text/id';
import { id, moment, reason } from './columns';

export const visits = sqliteTable(
  'visits',
  {
    id: id<'visit'>(),
    link: text('link').notNull(),
    affiliate: text('affiliate').$type<Id<'affiliate'>>().notNull(),
    /** empty: it came by a creative for the whole programme */
    product: text('product').$type<Id<'product'> | ''>().notNull(),
    at: moment('at').notNull(),
    visitor: text('visitor').$type<Id<'visitor'>>(),
    landing: text('landing').notNull(),
    subIds: text('sub_ids'),
    /** what it came by, beside the product's own link */
    creative: text('creative').$type<Id<'creative'>>(),
    coupon: text('coupon').$type<Id<'coupon'>>(),
    barred: text('barred', { enum: barredCodes }),
    /** why it is no click, or one that pays nothing; a sale that came of it is credited all the same. Digest of the network address, with the day in it */
    uncounted: reason<NotOpened | Unpaid>('uncounted'),
    address: text('address'),
  },
  (t) => [
    index('visits_affiliate').on(t.affiliate, t.at, t.barred),
    index('visits_visitor')
      .on(t.visitor, t.at)
      .where(sql`${t.visitor} IS NOT NULL`),
  ],
);

/** Clicks by day and product: what figures read instead of the visits. Automated visits are not in it. */
export const clickDays = sqliteTable(
  'click_days',
  {
    day: text('day').notNull(),
    /** empty: for the whole programme */
    product: text('product').$type<Id<'product'> | ''>().notNull(),
    clicks: integer('clicks').notNull(),
  },
  (t) => [primaryKey({ columns: [t.day, t.product] })],
);

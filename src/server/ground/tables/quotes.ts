import { sql } from 'drizzle-orm';
import { check, index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment } from './columns';

/** A price that was said to a buyer at checkout, and the unit that is kept for it. */
export const quotes = sqliteTable(
  'quotes',
  {
    id: id<'quote'>(),
    product: text('product')
      .$type<Id<'product'>>()
      .notNull()
      .references(() => products.id),
    quantity: integer('quantity').notNull(),
    price: integer('price').notNull(),
    currency: text('currency').notNull(),
    at: moment('at').notNull(),
    until: moment('until').notNull(),
    order: text('order_id').$type<Id<'order'>>(),
    /** the signed message that asked, so that one message makes one quote */
    message: text('message').unique(),
  },
  (t) => [
    index('quotes_open')
      .on(t.product, t.until)
      .where(sql`${t.order} IS NULL`),
    check('quotes_quantity', sql`${t.quantity} > 0`),
  ],
);

import { sql } from 'drizzle-orm';
import { blob, check, index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { productStates } from '../../../core/pricing/lists';
import { productKinds, type ProductDetails } from '../../../core/pricing/product';
import type { Id } from '../../../core/text/id';
import { id, moment, version } from './columns';

export const products = sqliteTable(
  'products',
  {
    id: id<'product'>(),
    code: text('code').notNull().unique(),
    name: text('name').notNull(),
    description: text('description').notNull().default(''),
    kind: text('kind', { enum: productKinds }).notNull().default('one-off'),
    currency: text('currency').notNull(),
    price: integer('price'),
    refundDays: integer('refund_days').notNull().default(14),
    salesPage: text('sales_page').notNull().default(''),
    state: text('state', { enum: productStates }).notNull().default('draft'),
    createdAt: moment('created_at').notNull(),
    retiredAt: moment('retired_at'),
    /** what its kind and its presentation need beside that */
    details: text('details', { mode: 'json' })
      .$type<Partial<ProductDetails>>()
      .notNull()
      .default(sql`'{}'`),
    sold: integer('sold').notNull().default(0),
    version: version(),
  },
  (t) => [
    check('products_price', sql`${t.price} IS NULL OR ${t.price} >= 0`),
    check('products_refund', sql`${t.refundDays} BETWEEN 0 AND 365`),
  ],
);

/** Whether the pages that links lead to answered when they were last looked at. */
export const pageChecks = sqliteTable('page_checks', {
  address: text('address').primaryKey(),
  at: moment('at').notNull(),
  status: integer('status').notNull(),
  fault: text('fault'),
});

/** What was uploaded: pictures of products, files that are delivered. The same content is kept once. */
export const files = sqliteTable(
  'files',
  {
    id: id<'file'>(),
    /** null = of the programme */ product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    use: text('use', { enum: ['picture', 'delivery', 'logo'] }).notNull(),
    name: text('name').notNull(),
    type: text('type').notNull(),
    size: integer('size').notNull(),
    hash: text('hash').notNull(),
    content: blob('content', { mode: 'buffer' }).notNull(),
    at: moment('at').notNull(),
    by: text('by').notNull(),
    removedAt: moment('removed_at'),
  },
  (t) => [index('files_product').on(t.product, t.use)],
);

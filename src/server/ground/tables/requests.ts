import { sql } from 'drizzle-orm';
import { index, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { creativeKinds, requestStates } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import { products } from './catalogue';
import { id, moment, version } from './columns';
import { affiliates } from './people';

/** What affiliates ask for: a kind, a size, a subject, a language, in a sentence of theirs; and what became of it. */
export const requests = sqliteTable(
  'requests',
  {
    id: id<'request'>(),
    affiliate: text('affiliate')
      .$type<Id<'affiliate'>>()
      .notNull()
      .references(() => affiliates.id),
    kind: text('kind', { enum: creativeKinds }).notNull(),
    /** “300×250”; empty: none in particular, as the two below */
    size: text('size').notNull(),
    subject: text('subject').notNull(),
    language: text('language').notNull(),
    product: text('product')
      .$type<Id<'product'>>()
      .references(() => products.id),
    words: text('words').notNull(),
    at: moment('at').notNull(),
    state: text('state', { enum: requestStates }).notNull().default('open'),
    answeredAt: moment('answered_at'),
    answeredBy: text('answered_by'),
    creative: text('creative').$type<Id<'creative'>>(),
    answer: text('answer').notNull().default(''),
    version: version(),
  },
  (t) => [
    index('requests_open')
      .on(t.at, t.id)
      .where(sql`state = 'open'`),
    index('requests_affiliate').on(t.affiliate, t.at),
  ],
);

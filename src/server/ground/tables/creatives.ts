import { sql } from 'drizzle-orm';
import { index, integer, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { Audience, AudienceKey } from '../../../core/material/audience';
import type { CreativeFields } from '../../../core/material/creative';
import { creativeKinds } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import { id, moment, version } from './columns';

/** What was uploaded for creatives, by the digest of its content; the content itself is a file beside the database. */
export const materialFiles = sqliteTable('material_files', {
  hash: text('hash').primaryKey(),
  type: text('type').notNull(),
  bytes: integer('bytes').notNull(),
  width: integer('width'),
  height: integer('height'),
  moving: integer('moving', { mode: 'boolean' }).notNull(),
  seconds: integer('seconds'),
  /** bytes as WebP, looked at where a picture is large */
  asWebp: integer('as_webp'),
  /** when it was uploaded last */
  at: moment('at').notNull(),
  by: text('by').notNull(),
  /** when a creative had it first; what one ever had is kept: affiliates have its address on their pages */
  usedAt: moment('used_at'),
});

/** What affiliates promote with. Moments are UTC milliseconds, until is exclusive. */
export const creatives = sqliteTable(
  'creatives',
  {
    id: id<'creative'>(),
    kind: text('kind', { enum: creativeKinds }).notNull(),
    name: text('name').notNull(),
    subject: text('subject').notNull(),
    /** empty: for the whole programme */
    products: text('products', { mode: 'json' }).$type<Id<'product'>[]>().notNull(),
    landing: text('landing').notNull(),
    language: text('language').notNull(),
    audience: text('audience', { mode: 'json' }).$type<Audience>().notNull(),
    active: integer('active', { mode: 'boolean' }).notNull(),
    from: moment('valid_from'),
    until: moment('valid_until'),
    note: text('note').notNull(),
    file: text('file').references(() => materialFiles.hash),
    poster: text('poster').references(() => materialFiles.hash),
    /** as a banner is shown: half of a file that was drawn twice as dense; null for what has no size */
    width: integer('width'),
    height: integer('height'),
    /** what its kind has beside that */
    texts: text('texts', { mode: 'json' })
      .$type<Pick<CreativeFields, 'alt' | 'words' | 'around' | 'code' | 'address' | 'subjects' | 'body'>>()
      .notNull(),
    createdAt: moment('created_at').notNull(),
    by: text('by').notNull(),
    removedAt: moment('removed_at'),
    version: version(),
  },
  (t) => [
    index('creatives_newest')
      .on(t.createdAt, t.id)
      .where(sql`removed_at IS NULL`),
    index('creatives_kind')
      .on(t.kind, t.createdAt, t.id)
      .where(sql`removed_at IS NULL`),
  ],
);

/** Which products a creative promotes, to be found by the product; “programme” for the whole of it. */
export const creativeProducts = sqliteTable(
  'creative_products',
  {
    product: text('product').$type<Id<'product'> | 'programme'>().notNull(),
    creative: text('creative').$type<Id<'creative'>>().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.product, t.creative] }),
    index('creative_products_creative').on(t.creative),
  ],
);

/** Who may use a creative: whoever has one of its keys. */
export const creativeReaders = sqliteTable(
  'creative_readers',
  {
    reader: text('reader').$type<AudienceKey>().notNull(),
    creative: text('creative').$type<Id<'creative'>>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.reader, t.creative] }), index('creative_readers_creative').on(t.creative)],
);

/** One of the creatives of an act on many: what its fields were, the version that the act left, and where it changed that: whether it was away. */
interface CreativeBefore {
  id: Id<'creative'>;
  version: number;
  fields: Partial<CreativeFields>;
  removed?: boolean;
}

/** What an act on many creatives changed, so that it can be taken back exactly. */
export const creativeActs = sqliteTable('creative_acts', {
  id: text('id').primaryKey(),
  at: moment('at').notNull(),
  by: text('by').notNull(),
  what: text('what').notNull(),
  /** of each: its fields before, and the version that the act left */
  before: text('before', { mode: 'json' }).$type<CreativeBefore[]>().notNull(),
  undoneAt: moment('undone_at'),
});

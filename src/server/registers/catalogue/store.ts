import { and, eq, ne, or, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import { cached } from '../../ground/cache';
import type { App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { products } from '../../ground/tables/catalogue';

export type ProductRecord = typeof products.$inferSelect;
/** A product as it is kept in memory: how often it was sold changes with every sale, and is read anew. */
export type KeptProduct = Omit<ProductRecord, 'sold'>;

const byId = perApp((app) => rowsBy(app, products, ['id']));

export function productById(app: App, id: Id<'product'>): ProductRecord | undefined {
  return byId(app).get(id);
}

const byCode = cached(
  'records',
  (app): ReadonlyMap<string, KeptProduct> =>
    new Map(
      app.db
        .select()
        .from(products)
        .all()
        .map((p) => [p.code, p]),
    ),
);

export function productByCode(app: App, code: string): KeptProduct | undefined {
  return byCode(app).get(code.toUpperCase());
}

/** Every product, from memory: for what is asked at every report, and by the clock. */
export function keptProducts(app: App): KeptProduct[] {
  return [...byCode(app).values()];
}

/** Every product that is not retired, by name. */
export function productsInUse(app: App): ProductRecord[] {
  return app.db.select().from(products).where(ne(products.state, 'retired')).orderBy(products.name).all();
}

const keyset = { by: products.name, id: products.id, order: 'asc' } as const;

export function pageOfProducts(
  app: App,
  filter: { state?: ProductRecord['state']; q?: string; after?: string; limit: number },
) {
  const pattern = filter.q ? anywhere(filter.q) : null;
  const rows = app.db
    .select()
    .from(products)
    .where(
      and(
        filter.state ? eq(products.state, filter.state) : undefined,
        pattern
          ? or(
              sql`${products.name} LIKE ${pattern} ESCAPE '\\'`,
              sql`${products.code} LIKE ${pattern} ESCAPE '\\'`,
            )
          : undefined,
        afterCursor(keyset, filter.after),
      ),
    )
    .orderBy(...inOrder(keyset))
    .limit(filter.limit + 1)
    .all();
  return cut(rows, filter.limit, (r) => [r.name, r.id]);
}

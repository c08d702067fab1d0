import { eq, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { products } from '../../ground/tables/catalogue';
import type { ProductRecord } from './store';

/** A new product. */
export function addProduct(app: App, row: typeof products.$inferInsert): void {
  app.db.insert(products).values(row).run();
}

/** Changes a product: the version grows, so that a form that is open finds out. */
export function changeProduct(
  app: App,
  id: Id<'product'>,
  fields: Partial<Omit<ProductRecord, 'id' | 'version'>>,
): void {
  app.db
    .update(products)
    .set({ ...fields, version: sql`${products.version} + 1` })
    .where(eq(products.id, id))
    .run();
}

/** Gives a product that was copied just now the details of the other; of a notice that runs for the other, the copy has nothing. */
export function copyDetails(app: App, id: Id<'product'>, { details }: Pick<ProductRecord, 'details'>): void {
  const copied = { ...details, closedFrom: null };
  app.db.update(products).set({ details: copied }).where(eq(products.id, id)).run();
}

const sold = perApp((app) =>
  app.sqlite.prepare<[number, string]>('UPDATE products SET sold = sold + ? WHERE id = ?'),
);

/** Counts units that were sold, for stock and stepped prices. Prepared: asked with every order. */
export function countSold(app: App, product: string, units: number): void {
  sold(app).run(units, product);
}

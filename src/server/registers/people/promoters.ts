import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';

/** An affiliate who may be written to. */
export interface Promoter {
  id: Id<'affiliate'>;
  name: string;
  email: string;
}

/** Those who are approved for a product now, by itself or with all products. */
const approved = `affiliates a WHERE a.promotes AND a.state IN ('active', 'paused') AND EXISTS
  (SELECT 1 FROM approvals p WHERE p.affiliate = a.id AND p.valid_until IS NULL AND (p.product = ? OR p.product IS NULL))`;

const statements = perApp((app) => ({
  some: app.sqlite.prepare<[string, string, number], Promoter>(
    `SELECT a.id, a.name, a.email FROM ${approved} AND a.id > ? ORDER BY a.id LIMIT ?`,
  ),
  count: app.sqlite.prepare<[string], number>(`SELECT count(*) FROM ${approved}`).pluck(),
}));

/** Some of those who promote a product, in the order of their ids. @param after the last one who was seen, empty = from the first on */
export const promotersAfter = (
  app: App,
  product: Id<'product'>,
  { after, most }: { after: string; most: number },
): Promoter[] => statements(app).some.all(product, after, most);

/** How many promote a product. */
export const countPromoters = (app: App, product: Id<'product'>): number =>
  statements(app).count.get(product)!;

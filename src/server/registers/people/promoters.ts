import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';

/** An affiliate who may be written to. */
interface Promoter {
  id: Id<'affiliate'>;
  name: string;
  email: string;
}

const statement = perApp((app) =>
  app.sqlite.prepare<[string], Promoter>(
    `SELECT DISTINCT a.id, a.name, a.email FROM affiliates a JOIN approvals p ON p.affiliate = a.id
     WHERE p.valid_until IS NULL AND (p.product = ? OR p.product IS NULL)
       AND a.promotes AND a.state IN ('active', 'paused') ORDER BY a.id`,
  ),
);

/** Those who are approved for a product now, by itself or with all products. */
export const promotersOf = (app: App, product: Id<'product'>): Promoter[] => statement(app).all(product);

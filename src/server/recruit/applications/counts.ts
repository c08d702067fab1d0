import { and, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { affiliates } from '../../ground/tables/people';
import { openStates } from './questions';

/** How many applications wait. */
export function countWaiting(app: App): { count: number; oldest: number | null } {
  const row = app.db
    .select({ count: sql<number>`count(*)`, oldest: sql<number | null>`min(${applications.createdAt})` })
    .from(applications)
    .where(eq(applications.state, 'waiting'))
    .get()!;
  return row;
}

/** Applications of an affiliate that wait, by what they are for. */
export function waitingOf(app: App, affiliate: Id<'affiliate'>): string[] {
  return app.db
    .select({ name: products.name })
    .from(applications)
    .leftJoin(products, eq(products.id, applications.product))
    .where(and(eq(applications.affiliate, affiliate), inArray(applications.state, [...openStates])))
    .all()
    .map((r) => r.name ?? 'the whole programme');
}

/** How many applications are in each state. @param narrowed a condition over applications and their affiliates */
export function countApplications(app: App, narrowed?: SQL): Record<string, number> {
  const states = app.db
    .select({ state: applications.state, n: sql<number>`count(*)` })
    .from(applications)
    .$dynamic();
  const counted = narrowed
    ? states.innerJoin(affiliates, eq(affiliates.id, applications.affiliate)).where(narrowed)
    : states;
  return Object.fromEntries(
    counted
      .groupBy(applications.state)
      .all()
      .map((r) => [r.state, r.n]),
  );
}

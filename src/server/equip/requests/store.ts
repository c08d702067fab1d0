import { and, desc, eq, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { requests } from '../../ground/tables/requests';

export type RequestRecord = typeof requests.$inferSelect;

/** @throws Problem `not-found` */
export function requestById(app: App, id: Id<'request'>): RequestRecord {
  const row = app.db.select().from(requests).where(eq(requests.id, id)).get();
  if (!row) throw new Problem('not-found', 'Nobody has asked for this');
  return row;
}

export const addRequest = (app: App, row: typeof requests.$inferInsert): void => {
  app.db.insert(requests).values(row).run();
};

export function changeRequest(app: App, row: RequestRecord, fields: Partial<RequestRecord>): void {
  app.db
    .update(requests)
    .set({ ...fields, version: row.version + 1 })
    .where(eq(requests.id, row.id))
    .run();
}

/** What an affiliate has asked for, newest first. */
export const requestsOf = (app: App, affiliate: Id<'affiliate'>): RequestRecord[] =>
  app.db
    .select()
    .from(requests)
    .where(eq(requests.affiliate, affiliate))
    .orderBy(desc(requests.at), desc(requests.id))
    .limit(100)
    .all();

/** How many of an affiliate's wait. */
export const openOf = (app: App, affiliate: Id<'affiliate'>): number =>
  app.db
    .select({ n: sql<number>`count(*)` })
    .from(requests)
    .where(and(eq(requests.affiliate, affiliate), eq(requests.state, 'open')))
    .get()!.n;

/** How many wait, and since when the oldest. */
export function countOpenRequests(app: App): { count: number; oldest: number | null } {
  const found = app.db
    .select({ n: sql<number>`count(*)`, oldest: sql<number | null>`min(${requests.at})` })
    .from(requests)
    .where(eq(requests.state, 'open'))
    .get()!;
  return { count: found.n, oldest: found.oldest };
}

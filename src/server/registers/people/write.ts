import { and, eq, inArray, isNotNull, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { changing, perApp } from '../../ground/db/prepared';
import { affiliates } from '../../ground/tables/people';
import type { AffiliateRecord } from './record';

type Fields = Partial<Omit<AffiliateRecord, 'id' | 'version'>>;

/** So many are changed by one statement. */
const inOne = 500;

/** A new affiliate. Names, handles and addresses are checked by whoever adds it. */
export function addAffiliate(app: App, row: typeof affiliates.$inferInsert): void {
  app.db.insert(affiliates).values(row).run();
}

/** Changes what a person entered or decided: the version grows, so that a form that is open finds out. */
export function changeAffiliates(app: App, ids: readonly Id<'affiliate'>[], fields: Fields): void {
  for (let i = 0; i < ids.length; i += inOne)
    app.db
      .update(affiliates)
      .set({ ...fields, version: sql`${affiliates.version} + 1` })
      .where(inArray(affiliates.id, ids.slice(i, i + inOne)))
      .run();
}

/** The same for one. */
export function changeAffiliate(app: App, id: Id<'affiliate'>, fields: Fields): void {
  changeAffiliates(app, [id], fields);
}

/** Writes what no form shows, or what is shown beside it: the version stays. */
export function noteOfAffiliate(app: App, id: Id<'affiliate'>, fields: Fields): void {
  app.db.update(affiliates).set(fields).where(eq(affiliates.id, id)).run();
}

/** Forgets that mail to somebody bounced, where it did. */
export function mailArrives(app: App, id: Id<'affiliate'>): void {
  app.db
    .update(affiliates)
    .set({ mailFault: null })
    .where(and(eq(affiliates.id, id), isNotNull(affiliates.mailFault)))
    .run();
}

const joining = perApp((app) =>
  changing(app, affiliates, ['state', 'promotes', 'joinedAt', 'timing', 'version'], ['id']),
);

/** What an approval changes of an affiliate. Prepared: hundreds are approved at once. */
export function noteApproved(
  app: App,
  { id, version }: Pick<AffiliateRecord, 'id' | 'version'>,
  fields: Pick<AffiliateRecord, 'state' | 'promotes' | 'joinedAt' | 'timing'>,
): void {
  joining(app).run({ ...fields, version: version + 1 }, id);
}

import { and, desc, eq, isNotNull, lte, or, sql, type SQL } from 'drizzle-orm';
import { carriedOver, type PolicyContent } from '../../../core/recruiting/policy';
import { noticeEnd, type Announced } from '../../../core/recruiting/policy-notice';
import { type App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { theProgramme } from '../../registers/programme/record';

export type PolicyRecord = typeof policies.$inferSelect;

export const latest = (app: App) =>
  app.db
    .select()
    .from(policies)
    .where(eq(policies.state, 'published'))
    .orderBy(desc(policies.number))
    .limit(1)
    .get() ?? null;

export const draftOf = (app: App) =>
  app.db.select().from(policies).where(eq(policies.state, 'draft')).get() ?? null;

/** The published versions in the order in which they were announced. */
export const announced = (app: App): Announced[] =>
  app.db
    .select({ holdsFrom: policies.holdsFrom, content: policies.content })
    .from(policies)
    .where(eq(policies.state, 'published'))
    .orderBy(policies.number)
    .all()
    .map((v) => ({ holdsFrom: v.holdsFrom!, noticeWeeks: v.content.noticeWeeks }));

/** What a version says: a draft that was begun in the older form goes on in that of practices. */
export const contentOf = (row: PolicyRecord): PolicyContent =>
  row.state === 'draft' ? carriedOver(row.content) : row.content;

/** The version that holds at a moment: the newest whose notice is over. Null before the first. */
export function policyInForce(app: App, at = app.clock.now()): PolicyRecord | null {
  return (
    app.db
      .select()
      .from(policies)
      .where(and(eq(policies.state, 'published'), lte(policies.holdsFrom, at)))
      .orderBy(desc(policies.number))
      .limit(1)
      .get() ?? null
  );
}

/** The published version before another, which its differences are shown against. */
export const versionBefore = (app: App, version: PolicyRecord) =>
  app.db
    .select()
    .from(policies)
    .where(and(eq(policies.state, 'published'), sql`${policies.number} < ${version.number}`))
    .orderBy(desc(policies.number))
    .limit(1)
    .get() ?? null;

/** Affiliates who promote and are with us: those who have to accept. */
export const hasToAccept = and(
  isNotNull(affiliates.joinedAt),
  eq(affiliates.promotes, true),
  or(eq(affiliates.state, 'active'), eq(affiliates.state, 'paused')),
);

/** Affiliates who owe their acceptance to the newest version; nobody before the first. */
export function owesAcceptance(app: App): SQL {
  const row = latest(app);
  return row ? and(hasToAccept, hasNot(row.number))! : sql`0`;
}

/** How many have accepted neither a version nor a later one. @param number of the version */
export const countOwing = (app: App, number: number): number =>
  app.db
    .select({ n: sql<number>`count(*)` })
    .from(affiliates)
    .where(and(hasToAccept, hasNot(number)))
    .get()!.n;

/** Has accepted neither this version nor a later one. */
export const hasNot = (number: number) =>
  sql`NOT EXISTS (SELECT 1 FROM acceptances c JOIN policies v ON v.id = c.policy WHERE c.affiliate = ${affiliates.id} AND v.number >= ${number})`;

/** The moment by which a version has to be accepted: the end of its notice; of the first, which holds at once, as long after it was published. */
export function dueAt(app: App, row: PolicyRecord): number {
  return versionBefore(app, row)
    ? row.holdsFrom!
    : noticeEnd(row.publishedAt!, row.content.noticeWeeks, theProgramme(app).zone);
}

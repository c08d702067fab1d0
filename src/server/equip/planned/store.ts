import { and, asc, desc, eq, inArray, lte, sql } from 'drizzle-orm';
import type { PlannedOut } from '../../../contract/equip/planned-out';
import { withBefore } from '../../../core/material/planned';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { plannedChanges } from '../../ground/tables/planned';
import { namesOf } from '../../registers/access/names';
import type { Found, SubjectId } from './subject';

export type PlannedRecord = typeof plannedChanges.$inferSelect;

/** Planned changes that are over, shown with what is coming. */
const mostPast = 20;

export const asPlanned = ({ id, at, field, value }: PlannedRecord) => ({ id, at, field, value: value.is });

/** What is planned and has not happened, in turn. */
export function comingFor(app: App, subject: SubjectId): PlannedRecord[] {
  return app.db
    .select()
    .from(plannedChanges)
    .where(and(eq(plannedChanges.subject, subject), eq(plannedChanges.state, 'coming')))
    .orderBy(asc(plannedChanges.at), asc(plannedChanges.id))
    .all();
}

/** What has come due by a moment, in turn. */
export function plannedUntil(app: App, now: number, most: number): PlannedRecord[] {
  return app.db
    .select()
    .from(plannedChanges)
    .where(and(eq(plannedChanges.state, 'coming'), lte(plannedChanges.at, now)))
    .orderBy(asc(plannedChanges.at), asc(plannedChanges.subject), asc(plannedChanges.id))
    .limit(most)
    .all();
}

export function plannedById(app: App, id: Id<'planned'>): PlannedRecord | undefined {
  return app.db.select().from(plannedChanges).where(eq(plannedChanges.id, id)).get();
}

export function addPlanned(app: App, row: typeof plannedChanges.$inferInsert): void {
  app.db.insert(plannedChanges).values(row).run();
}

/** A planned change has happened, was undone or dropped. */
export function endPlanned(
  app: App,
  id: Id<'planned'>,
  fields: Pick<PlannedRecord, 'state' | 'endedAt'> & Partial<Pick<PlannedRecord, 'before' | 'why'>>,
): void {
  app.db.update(plannedChanges).set(fields).where(eq(plannedChanges.id, id)).run();
}

/** The next moment at which each of some is to change. */
export function nextPlanned(app: App, ids: readonly SubjectId[]): Map<string, number> {
  if (!ids.length) return new Map();
  const rows = app.db
    .select({ subject: plannedChanges.subject, at: sql<number>`min(${plannedChanges.at})` })
    .from(plannedChanges)
    .where(and(inArray(plannedChanges.subject, [...ids]), eq(plannedChanges.state, 'coming')))
    .groupBy(plannedChanges.subject)
    .all();
  return new Map(rows.map((r) => [r.subject, r.at]));
}

/** What is planned for something and what of it happened lately, with what each field is before and after. */
export function showPlanned(
  app: App,
  id: SubjectId,
  { fields, called, read }: Pick<Found, 'fields' | 'called' | 'read'>,
): PlannedOut[] {
  const all = app.db
    .select()
    .from(plannedChanges)
    .where(eq(plannedChanges.subject, id))
    .orderBy(desc(plannedChanges.at), desc(plannedChanges.id))
    .all();
  const names = namesOf(app, new Set(all.map((p) => p.by)));
  const show = (p: PlannedRecord, before: { is: unknown } | null) => ({
    id: p.id,
    at: p.at,
    field: p.field,
    what: called(p.field),
    before: before === null ? null : read(p.field, before.is),
    after: read(p.field, p.value.is),
    by: names(p.by),
    state: p.state,
    why: p.why,
    ended: p.endedAt,
  });
  const coming = all.filter((p) => p.state === 'coming');
  const before = new Map(withBefore(fields, coming.map(asPlanned)).map((p) => [p.id, p.before]));
  const past = all.filter((p) => p.state !== 'coming').slice(0, mostPast);
  return [
    ...coming.reverse().map((p) => show(p, { is: before.get(p.id) })),
    ...past.map((p) => show(p, p.before)),
  ];
}

import { and, asc, eq, isNull } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { listSegments as List, saveSegment as Save } from '../../../contract/recruit/roster';
import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { segments } from '../../ground/tables/roster';
import { record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { countOf, readColumns } from './roster';

const show = (app: App, s: typeof segments.$inferSelect) => ({
  id: s.id,
  name: s.name,
  filter: s.filter,
  columns: s.columns,
  count: countOf(app, s.filter),
  version: s.version,
});

export function listSegments(app: App): ReplyOf<typeof List> {
  return {
    rows: app.db
      .select()
      .from(segments)
      .where(isNull(segments.removedAt))
      .orderBy(asc(segments.name))
      .all()
      .map((s) => show(app, s)),
  };
}

export function saveSegment(app: App, actor: Actor, input: BodyOf<typeof Save>) {
  const name = input.name.trim();
  readColumns(input.columns.join(','));
  const same = app.db
    .select()
    .from(segments)
    .where(isNull(segments.removedAt))
    .all()
    .find((s) => s.name.toLowerCase() === name.toLowerCase());
  // never without a word over what somebody else keeps by that name
  if (same && same.version !== input.replaces) throw stale(app, same.id, `“${same.name}”`, show(app, same));
  const id = same?.id ?? newId('segment');
  if (same)
    app.db
      .update(segments)
      .set({ name, filter: input.filter, columns: input.columns, version: same.version + 1 })
      .where(eq(segments.id, id))
      .run();
  else
    app.db
      .insert(segments)
      .values({
        id,
        name,
        filter: input.filter,
        columns: input.columns,
        createdAt: app.clock.now(),
        by: actor.id,
      })
      .run();
  record(app, actor, same ? 'segment-changed' : 'segment-saved', {
    subject: id,
    before: null,
    after: { name },
  });
  return show(app, app.db.select().from(segments).where(eq(segments.id, id)).get()!);
}

export function removeSegment(app: App, actor: Actor, id: Id<'segment'>, away: boolean): null {
  const row = app.db.select().from(segments).where(eq(segments.id, id)).get();
  if (!row) throw new Problem('not-found', 'This segment does not exist');
  const taken =
    !away &&
    app.db
      .select({ id: segments.id })
      .from(segments)
      .where(and(eq(segments.name, row.name), isNull(segments.removedAt)))
      .get();
  if (taken) throw new Problem('conflict', `There is a segment called ${row.name} again already`);
  app.db
    .update(segments)
    .set({ removedAt: away ? app.clock.now() : null })
    .where(eq(segments.id, id))
    .run();
  record(app, actor, away ? 'segment-removed' : 'segment-restored', {
    subject: id,
    before: null,
    after: { name: row.name },
  });
  return null;
}

import { and, between, eq, gte, inArray, isNotNull, isNull, or, type AnyColumn } from 'drizzle-orm';
import { type SetOut } from '../../../contract/setup/sets';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { memberships, rates, sets, type Removal } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { refuseCut } from './cuts';
import { nameFree, setById, setsShown } from './sets';
import { theTerms, type SetRecord } from './store';

/** Versions before the act clock noted the ends of one removal some milliseconds apart. */
const noted = 1_000;

/**
 * Takes a removal back: every rate and membership stands again as it did, with its end and its coming start. What somebody changed since stays as it is,
 * and those who were put elsewhere meanwhile stay there.
 */
export function restoreSet(app: App, actor: Actor, id: Id<'set'>): SetOut {
  const row = setById(app, id);
  if (row.removedAt === null) return setsShown(app, [row])[0]!;
  nameFree(app, row.of, row.name, id);
  const removal = row.removal ?? removalAsBefore(app, row, row.removedAt);
  refuseRestoring(app, row, removal);
  for (const { id: rate, set, ...before } of removal.rates) {
    app.db
      .update(rates)
      .set(before)
      .where(
        and(
          eq(rates.id, rate),
          eq(rates.until, set),
          between(rates.endedAt, row.removedAt, row.removedAt + noted),
        ),
      )
      .run();
  }
  const elsewhere = whoMoved(app, row, removal);
  for (const { id: member, until, set } of removal.members) {
    const gone = app.db
      .select()
      .from(memberships)
      .where(and(eq(memberships.id, member), eq(memberships.until, set)))
      .get();
    if (gone && !elsewhere.has(gone.affiliate))
      app.db.update(memberships).set({ until }).where(eq(memberships.id, member)).run();
  }
  for (const moved of removal.moved) {
    const there = app.db.select().from(memberships).where(eq(memberships.id, moved)).get();
    if (there && !elsewhere.has(there.affiliate))
      app.db.delete(memberships).where(eq(memberships.id, moved)).run();
  }
  app.db
    .update(sets)
    .set({ removedAt: null, removal: null, version: row.version + 1 })
    .where(and(eq(sets.id, id), isNotNull(sets.removedAt)))
    .run();
  record(app, actor, `${row.of}-restored`, { subject: id, before: null, after: { name: row.name } });
  touch(app, 'terms');
  return setsShown(app, [setById(app, id)])[0]!;
}

/** Taking a removal back is held to the notice like every other act: those who earn more without the set keep that as long as it was promised. */
function refuseRestoring(app: App, row: SetRecord, removal: Removal): void {
  const { data } = theTerms(app);
  const [rate, member] = [
    new Map(removal.rates.map((r) => [r.id, r.until])),
    new Map(removal.members.map((m) => [m.id, m.until])),
  ];
  const rows = app.db
    .select()
    .from(memberships)
    .where(or(eq(memberships.set, row.id), inArray(memberships.id, removal.moved)))
    .all();
  const untouched = data.members.filter(
    (m) =>
      m.id !== row.id &&
      !rows.some(
        (r) =>
          r.affiliate === m.affiliate && r.set === m.id && r.from === m.from && removal.moved.includes(r.id),
      ),
  );
  const back = rows
    .filter((r) => r.set === row.id)
    .map((r) => ({
      affiliate: r.affiliate,
      of: r.of,
      id: r.set,
      from: r.from,
      until: member.has(r.id) ? member.get(r.id)! : r.until,
    }));
  const after = {
    ...data,
    rates: data.rates.map((r) => (rate.has(r.id) ? { ...r, until: rate.get(r.id)! } : r)),
    members: [...untouched, ...back],
  };
  refuseCut(app, after, 'set', 'make another, with rates from that day on');
}

/** Former members of a card or group who were put on another since it was removed, otherwise than by the removal. */
function whoMoved(app: App, row: SetRecord, removal: Removal): Set<string> {
  if (row.of === 'tag') return new Set();
  const own = new Set([...removal.moved, ...removal.members.map((m) => m.id)]);
  const people = new Set(
    removal.members.flatMap((m) =>
      app.db
        .select({ who: memberships.affiliate })
        .from(memberships)
        .where(eq(memberships.id, m.id))
        .all()
        .map((r) => r.who),
    ),
  );
  const since = app.db
    .select()
    .from(memberships)
    .where(and(eq(memberships.of, row.of), gte(memberships.from, row.removedAt!)))
    .all();
  const ended = app.db
    .select()
    .from(memberships)
    .where(inArray(memberships.id, removal.moved))
    .all()
    .filter((m) => m.until !== removal.members[removal.moved.indexOf(m.id)]?.until);
  return new Set(
    [...since.filter((m) => !own.has(m.id) && people.has(m.affiliate)), ...ended].map((m) => m.affiliate),
  );
}

/** What a removal ended that was made before it was noted what stood: everything that ended at its moment ran on without an end. */
function removalAsBefore(app: App, row: SetRecord, at: number): Removal {
  const within = (moment: AnyColumn) => between(moment, at, at + noted);
  const ended = app.db
    .select()
    .from(rates)
    .where(and(eq(rates.who, row.id), within(rates.until), within(rates.endedAt)))
    .all();
  const gone = app.db
    .select()
    .from(memberships)
    .where(and(eq(memberships.set, row.id), within(memberships.until)))
    .all();
  const moved =
    row.of === 'card'
      ? gone.flatMap((m) =>
          app.db
            .select({ id: memberships.id })
            .from(memberships)
            .where(
              and(
                eq(memberships.affiliate, m.affiliate),
                eq(memberships.of, 'card'),
                within(memberships.from),
                isNull(memberships.until),
              ),
            )
            .all(),
        )
      : [];
  return {
    rates: ended.map((r) => ({
      id: r.id,
      until: null,
      endedAt: null,
      endedBy: null,
      endedFor: null,
      set: r.until!,
    })),
    members: gone.map((m) => ({ id: m.id, until: null, set: m.until! })),
    moved: moved.map((m) => m.id),
  };
}

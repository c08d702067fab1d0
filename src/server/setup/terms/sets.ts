import { and, eq, gt, inArray, isNull, or, sql } from 'drizzle-orm';
import type { SetEdit, SetIn, SetOut } from '../../../contract/setup/sets';
import { inForce, isOver } from '../../../core/calendar/span';
import { applyDraft } from '../../../core/terms/draft';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { memberships, pauses, sets } from '../../ground/tables/terms';
import { difference, record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { isPromoting } from '../../registers/people/promoting';
import { refuseCut } from './cuts';
import { setsInUse, theTerms, type SetRecord } from './store';
import { tagOrder, writeTagOrder } from './tag-order';

const words = { card: 'rate card', group: 'group', tag: 'tag' } as const;

export function setById(app: App, id: Id<'set'>): SetRecord {
  const row = app.db.select().from(sets).where(eq(sets.id, id)).get();
  if (!row) throw new Problem('not-found', 'This card, group or tag does not exist');
  return row;
}

export function inUse(app: App, id: Id<'set'>, version?: number): SetRecord {
  const row = setById(app, id);
  if (row.removedAt !== null) throw new Problem('conflict', `The ${words[row.of]} ${row.name} was removed`);
  if (version !== undefined && row.version !== version)
    throw stale(app, row.id, row.name, setsShown(app, [row])[0]);
  return row;
}

/** How many are in each set at a moment, of those whose rates matter; those on no card are on the standard one. */
export function countMembers(app: App, at: number): Map<string, number> {
  const { data } = theTerms(app);
  const counts = new Map(
    app.sqlite
      .prepare<[number, number], { id: string; n: number }>(
        `SELECT m.set_id AS id, count(DISTINCT m.affiliate) AS n FROM memberships m JOIN affiliates a ON a.id = m.affiliate
         WHERE m.valid_from <= ? AND (m.valid_until IS NULL OR m.valid_until > ?) AND ${isPromoting('a')} GROUP BY 1`,
      )
      .all(at, at)
      .map(({ id, n }) => [id, n]),
  );
  if (data.defaultCard) {
    const others = app.sqlite
      .prepare<[number, number], number>(
        `SELECT count(*) FROM affiliates a WHERE ${isPromoting('a')} AND NOT EXISTS (SELECT 1 FROM memberships m
         WHERE m.affiliate = a.id AND m.of = 'card' AND m.valid_from <= ? AND (m.valid_until IS NULL OR m.valid_until > ?))`,
      )
      .pluck()
      .get(at, at)!;
    counts.set(data.defaultCard, (counts.get(data.defaultCard) ?? 0) + others);
  }
  return counts;
}

/** Names of products that skip rungs 1–4 now, for first sales or renewals. */
export function lockingProducts(app: App, now: number): string[] {
  const locked = new Set(
    theTerms(app)
      .data.locks.filter((l) => inForce(l, now))
      .map((l) => l.product),
  );
  return locked.size
    ? app.db
        .select({ name: products.name })
        .from(products)
        .where(inArray(products.id, [...locked]))
        .orderBy(products.name)
        .all()
        .map((p) => p.name)
    : [];
}

export function setsShown(app: App, rows: SetRecord[]): SetOut[] {
  const now = app.clock.now();
  const counts = countMembers(app, now);
  const { data, roll } = theTerms(app);
  const ignoredBy = lockingProducts(app, now);
  return rows.map(
    ({ id, of: kind, name, about, colour, openJoin, openChange, standard, createdAt, version }) => ({
      id,
      of: kind,
      name,
      about,
      colour,
      openJoin,
      openChange,
      standard,
      createdAt,
      version,
      members: counts.get(id) ?? 0,
      rates: data.rates.filter((r) => r.who === id && !isOver(r, now)).length,
      paused: roll.pauses.get(id)?.some((p) => inForce(p, now)) ?? false,
      ignoredBy,
    }),
  );
}

/** Cards first, then groups, then tags in the order in which they decide. */
export function listSets(app: App): { rows: SetOut[] } {
  const order = tagOrder(app);
  const rank = (s: SetRecord) =>
    s.of === 'tag' ? (order.indexOf(s.id) < 0 ? order.length : order.indexOf(s.id)) : s.standard ? -1 : 0;
  const place = { card: 0, group: 1, tag: 2 };
  return {
    rows: setsShown(
      app,
      setsInUse(app).sort(
        (a, b) => place[a.of] - place[b.of] || rank(a) - rank(b) || a.name.localeCompare(b.name),
      ),
    ),
  };
}

export function nameFree(app: App, kind: SetRecord['of'], name: string, own: string | null): void {
  const taken = setsInUse(app).find(
    (s) => s.of === kind && s.name.toLowerCase() === name.toLowerCase() && s.id !== own,
  );
  if (taken) throw refuse('name', `There is a ${words[kind]} called ${taken.name} already`, `${name} 2`);
}

export function createSet(app: App, actor: Actor, input: SetIn): SetOut {
  const name = input.name.trim();
  nameFree(app, input.of, name, null);
  const id = newId('set');
  app.db
    .insert(sets)
    .values({
      id,
      of: input.of,
      name,
      about: input.about.trim(),
      colour: input.colour ?? '',
      openJoin: input.openJoin ?? false,
      openChange: input.openChange ?? false,
      createdAt: app.clock.now(),
    })
    .run();
  record(app, actor, `${input.of}-created`, { subject: id, before: null, after: { name } });
  if (input.of === 'tag') writeTagOrder(app, actor, tagOrder(app));
  touch(app, 'terms');
  return setsShown(app, [setById(app, id)])[0]!;
}

export function editSet(app: App, actor: Actor, id: Id<'set'>, input: SetEdit): SetOut {
  const row = inUse(app, id, input.version);
  const name = input.name.trim();
  nameFree(app, row.of, name, id);
  const fields = {
    name,
    about: input.about.trim(),
    colour: input.colour ?? row.colour,
    openJoin: input.openJoin ?? row.openJoin,
    openChange: input.openChange ?? row.openChange,
  };
  app.db
    .update(sets)
    .set({ ...fields, version: row.version + 1 })
    .where(eq(sets.id, id))
    .run();
  const change = difference(row, fields);
  if (Object.keys(change.after).length)
    record(app, actor, `${row.of}-edited`, { subject: id, before: change.before, after: change.after });
  return setsShown(app, [setById(app, id)])[0]!;
}

/** Pauses or resumes a group from now on: its affiliates fall to the next rung meanwhile. */
export function pauseSet(app: App, actor: Actor, id: Id<'set'>, on: boolean): SetOut {
  const row = inUse(app, id);
  if (row.of !== 'group') throw new Problem('conflict', 'Only groups can be paused');
  const now = app.clock.now();
  const { data } = theTerms(app);
  const after = applyDraft(data, [{ op: 'pause', group: id, on, at: now }]);
  refuseCut(
    app,
    after,
    'on',
    `${on ? 'pause' : 'resume'} it in a draft of the rate book, with a day on which that begins`,
  );
  switchPause(app, actor, id, { on, at: app.clock.now() });
  record(app, actor, on ? 'group-paused' : 'group-resumed', {
    subject: id,
    before: null,
    after: { name: row.name },
  });
  return setsShown(app, [row])[0]!;
}

/** Writes the pause or its end. */
export function switchPause(
  app: App,
  actor: Actor,
  id: Id<'set'>,
  { on, at }: { on: boolean; at: number },
): void {
  const open = app.db
    .select()
    .from(pauses)
    .where(and(eq(pauses.set, id), or(isNull(pauses.until), gt(pauses.until, at))))
    .all();
  if (on && !open.some((p) => p.from <= at))
    app.db
      .insert(pauses)
      .values({ id: newId('pause'), set: id, from: at, until: null, by: actor.id })
      .run();
  if (!on)
    for (const p of open)
      app.db
        .update(pauses)
        .set({ until: Math.max(at, p.from) })
        .where(eq(pauses.id, p.id))
        .run();
  touch(app, 'terms');
}

/** Makes a card the one that newcomers begin on. */
export function makeStandard(app: App, actor: Actor, id: Id<'set'>): SetOut {
  const row = inUse(app, id);
  if (row.of !== 'card')
    throw new Problem('conflict', 'Only a rate card can be the one that newcomers begin on');
  pinThoseWithoutCard(app, actor);
  app.db
    .update(sets)
    .set({ standard: sql`${sets.id} = ${id}` })
    .where(eq(sets.of, 'card'))
    .run();
  record(app, actor, 'card-made-standard', { subject: id, before: null, after: { name: row.name } });
  touch(app, 'terms');
  return setsShown(app, [setById(app, id)])[0]!;
}

/** Those on no card are on the standard one: before another becomes it, they are put on it by name, so that nobody's terms change. */
function pinThoseWithoutCard(app: App, actor: Actor): void {
  const standard = theTerms(app).data.defaultCard;
  if (standard === null) return;
  const without = app.sqlite
    .prepare(
      "SELECT a.id FROM affiliates a WHERE NOT EXISTS (SELECT 1 FROM memberships m WHERE m.affiliate = a.id AND m.of = 'card' AND m.valid_until IS NULL)",
    )
    .pluck()
    .all() as Id<'affiliate'>[];
  for (const affiliate of without)
    app.db
      .insert(memberships)
      .values({
        id: newId('membership'),
        affiliate,
        of: 'card',
        set: standard,
        from: 0,
        until: null,
        by: actor.id,
      })
      .run();
}

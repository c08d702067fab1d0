import { and, eq, gt, gte, inArray, isNotNull, isNull, or, sql } from 'drizzle-orm';
import type { SetEdit, SetIn, SetOut } from '../../../contract/setup/sets';
import { applyDraft, type TermsData } from '../../../core/terms/draft';
import { endAt, inForce } from '../../../core/terms/rate';
import { touch } from '../../ground/cache';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { memberships, pauses, rates, sets, tagOrders, type Removal } from '../../ground/tables/terms';
import { difference, record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { changesFor } from './compare';
import { cutInWords, cutsOf, earliestCut, promisedOf, refuseCut } from './cuts';
import { setsInUse, theTerms, type SetRecord } from './store';

const words = { card: 'rate card', group: 'group', tag: 'tag' } as const;

export function setById(app: App, id: string): SetRecord {
  const row = app.db.select().from(sets).where(eq(sets.id, id)).get();
  if (!row) throw new Problem('not-found', 'This card, group or tag does not exist');
  return row;
}

function inUse(app: App, id: string, version?: number): SetRecord {
  const row = setById(app, id);
  if (row.removedAt !== null) throw new Problem('conflict', `The ${words[row.of]} ${row.name} was removed`);
  if (version !== undefined && row.version !== version)
    throw stale(app, row.id, row.name, show(app, [row])[0]);
  return row;
}

/** How many are in each set now; those on no card are on the standard one. */
function countMembers(app: App, now: number): Map<string, number> {
  const { data } = theTerms(app);
  const counts = new Map<string, number>();
  for (const m of data.members) if (inForce(m, now)) counts.set(m.id, (counts.get(m.id) ?? 0) + 1);
  if (data.defaultCard) {
    const joined = app.sqlite
      .prepare(
        "SELECT count(*) FROM affiliates a WHERE a.joined_at IS NOT NULL AND a.promotes AND NOT EXISTS (SELECT 1 FROM memberships m WHERE m.affiliate = a.id AND m.of = 'card' AND m.valid_from <= ? AND (m.valid_until IS NULL OR m.valid_until > ?))",
      )
      .pluck()
      .get(now, now) as number;
    counts.set(data.defaultCard, (counts.get(data.defaultCard) ?? 0) + joined);
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

function show(app: App, rows: SetRecord[]): SetOut[] {
  const now = app.clock.now();
  const counts = countMembers(app, now);
  const { data, roll } = theTerms(app);
  const ignoredBy = lockingProducts(app, now);
  return rows.map(({ id, of, name, about, colour, openJoin, openChange, standard, createdAt, version }) => ({
    id,
    of,
    name,
    about,
    colour,
    openJoin,
    openChange,
    standard,
    createdAt,
    version,
    members: counts.get(id) ?? 0,
    rates: data.rates.filter((r) => r.who === id && (r.until === null || r.until > now)).length,
    paused: roll.pauses.get(id)?.some((p) => inForce(p, now)) ?? false,
    ignoredBy,
  }));
}

/** Cards first, then groups, then tags in the order in which they decide. */
export function listSets(app: App): { rows: SetOut[] } {
  const order = tagOrder(app);
  const rank = (s: SetRecord) =>
    s.of === 'tag' ? (order.indexOf(s.id) < 0 ? order.length : order.indexOf(s.id)) : s.standard ? -1 : 0;
  const place = { card: 0, group: 1, tag: 2 };
  return {
    rows: show(
      app,
      setsInUse(app).sort(
        (a, b) => place[a.of] - place[b.of] || rank(a) - rank(b) || a.name.localeCompare(b.name),
      ),
    ),
  };
}

function nameFree(app: App, of: SetRecord['of'], name: string, own: string | null): void {
  const taken = setsInUse(app).find(
    (s) => s.of === of && s.name.toLowerCase() === name.toLowerCase() && s.id !== own,
  );
  if (taken) throw refuse('name', `There is a ${words[of]} called ${taken.name} already`, `${name} 2`);
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
  return show(app, [setById(app, id)])[0]!;
}

export function editSet(app: App, actor: Actor, id: string, input: SetEdit): SetOut {
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
  return show(app, [setById(app, id)])[0]!;
}

/** Pauses or resumes a group from now on: its affiliates fall to the next rung meanwhile. */
export function pauseSet(app: App, actor: Actor, id: string, on: boolean): SetOut {
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
  return show(app, [row])[0]!;
}

/** Writes the pause or its end. */
export function switchPause(
  app: App,
  actor: Actor,
  id: string,
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

/** Tags in the order in which they decide now. */
export function tagOrder(app: App): string[] {
  const at = app.clock.now();
  const known = setsInUse(app)
    .filter((s) => s.of === 'tag')
    .map((s) => s.id);
  const latest =
    theTerms(app)
      .data.tagOrders.filter((o) => o.from <= at)
      .sort((a, b) => b.from - a.from)[0]?.tags ?? [];
  return [...latest.filter((t) => known.includes(t)), ...known.filter((t) => !latest.includes(t))];
}

function writeTagOrder(app: App, actor: Actor, tags: string[], from = app.clock.now()): void {
  // two orders of one moment would leave it to chance which counts
  app.db.delete(tagOrders).where(eq(tagOrders.from, from)).run();
  app.db
    .insert(tagOrders)
    .values({ id: newId('tagOrder'), from, tags, by: actor.id })
    .run();
  touch(app, 'terms');
}

/** Orders the tags: from now on, or, where that would earn somebody less, from the day that the promised notice allows. */
export function orderTags(app: App, actor: Actor, tags: string[]): { tags: string[]; from: number | null } {
  const before = tagOrder(app);
  const missing = before.filter((t) => !tags.includes(t));
  if (missing.length || tags.length !== before.length || new Set(tags).size !== tags.length)
    throw refuse('tags', 'Tags: the order must name every tag once', before.join(', '));
  const now = app.clock.now();
  const { data } = theTerms(app);
  // an order that was to come is taken back by the one that is given now
  app.db.delete(tagOrders).where(gt(tagOrders.from, now)).run();
  const coming = { ...data, tagOrders: [...data.tagOrders.filter((o) => o.from < now), { from: now, tags }] };
  const from = cutsOf(app, coming).length ? earliestCut(app) : null;
  writeTagOrder(app, actor, tags, from ?? now);
  record(app, actor, 'tags-ordered', {
    subject: 'programme',
    before: { tags: before },
    after: { tags, ...(from === null ? {} : { from }) },
  });
  return { tags: from === null ? tags : before, from };
}

function liveRates(app: App, id: string, now: number) {
  return app.db
    .select()
    .from(rates)
    .where(and(eq(rates.who, id), or(isNull(rates.until), gt(rates.until, now))))
    .all();
}

function membersNow(app: App, id: string, now: number) {
  return app.db
    .select()
    .from(memberships)
    .where(and(eq(memberships.set, id), or(isNull(memberships.until), gt(memberships.until, now))))
    .all();
}

/** What removing would mean, without doing it. @param to the card that members of a card would move to */
export function previewRemoval(app: App, id: string, to: string | undefined) {
  const row = inUse(app, id);
  const now = app.clock.now();
  const members = [...new Set(membersNow(app, id, now).map((m) => m.affiliate))];
  const blocked = row.standard
    ? 'The card that newcomers begin on cannot be removed; make another the one first'
    : null;
  const after = withoutSet(theTerms(app).data, row, to ?? null, now);
  const [cut] = blocked
    ? []
    : cutsOf(app, after, promisedOf(app, members)).filter((c) => c.at < earliestCut(app));
  return {
    members: members.length,
    rates: liveRates(app, id, now).length,
    blocked,
    cut: cut ? cutInWords(app, cut) : null,
    sample: blocked ? [] : changesFor(app, members.slice(0, 20), after),
  };
}

/** The terms as removing a set leaves them. @param to the card that members of a card move to */
function withoutSet(data: TermsData, row: SetRecord, to: string | null, now: number): TermsData {
  const live = (until: number | null) => until === null || until > now;
  return {
    ...data,
    rates: data.rates.map((r) => (r.who === row.id && live(r.until) ? { ...r, until: endAt(r, now) } : r)),
    members: data.members.flatMap((m) =>
      m.id !== row.id || !live(m.until)
        ? [m]
        : [{ ...m, until: endAt(m, now) }, ...(to ? [{ ...m, id: to, from: Math.max(now, m.from) }] : [])],
    ),
  };
}

/**
 * Removes a card, group or tag: its rates end, nobody leaves the programme. Members of a card move to another.
 * The moment of removal marks everything that ended with it, so that it can be taken back.
 */
export function removeSet(
  app: App,
  actor: Actor,
  id: string,
  { to, version }: { to: string | null; version: number },
): { moved: number; ended: number } {
  const row = inUse(app, id, version);
  const now = app.clock.now();
  if (row.standard)
    throw new Problem(
      'conflict',
      'The card that newcomers begin on cannot be removed; make another the one first',
    );
  const members = membersNow(app, id, now);
  if (row.of === 'card' && members.length && !to)
    throw refuse(
      'to',
      `${members.length} affiliates are on this card; choose the card they move to`,
      'Standard',
    );
  if (to && (setById(app, to).of !== 'card' || setById(app, to).removedAt !== null || to === id))
    throw refuse('to', 'Members of a card move to another rate card', 'Standard');
  const ending = liveRates(app, id, now);
  const removal: Removal = { rates: [], members: [], moved: [] };
  refuseCut(
    app,
    withoutSet(theTerms(app).data, row, to, now),
    'set',
    'end its rates in the rate book from that day on, then remove it',
  );
  for (const m of members) {
    const set = endAt(m, now);
    removal.members.push({ id: m.id, until: m.until, set });
    app.db.update(memberships).set({ until: set }).where(eq(memberships.id, m.id)).run();
    if (!to) continue;
    // who was to come on the card later comes on the other one then; who was to leave it leaves that one
    const moved = newId('membership');
    removal.moved.push(moved);
    app.db
      .insert(memberships)
      .values({ ...m, id: moved, set: to, from: Math.max(now, m.from), until: m.until, by: actor.id })
      .run();
  }
  for (const r of ending) {
    const set = endAt(r, now);
    removal.rates.push({
      id: r.id,
      until: r.until,
      endedAt: r.endedAt,
      endedBy: r.endedBy,
      endedFor: r.endedFor,
      set,
    });
    app.db
      .update(rates)
      .set({ until: set, endedAt: now, endedBy: actor.id, endedFor: null })
      .where(eq(rates.id, r.id))
      .run();
  }
  app.db
    .update(sets)
    .set({ removedAt: now, removal, version: row.version + 1 })
    .where(eq(sets.id, id))
    .run();
  record(app, actor, `${row.of}-removed`, {
    subject: id,
    before: { name: row.name, members: members.length },
    after: { movedTo: to, ratesEnded: ending.length },
  });
  touch(app, 'terms');
  return { moved: members.length, ended: ending.length };
}

/**
 * Takes a removal back: every rate and membership stands again as it did, with its end and its coming start. What somebody changed since stays as it is,
 * and those who were put elsewhere meanwhile stay there.
 */
export function restoreSet(app: App, actor: Actor, id: string): SetOut {
  const row = setById(app, id);
  if (row.removedAt === null) return show(app, [row])[0]!;
  nameFree(app, row.of, row.name, id);
  const removal = row.removal ?? removalAsBefore(app, row, row.removedAt);
  refuseRestoring(app, row, removal);
  for (const { id: rate, set, ...before } of removal.rates) {
    app.db
      .update(rates)
      .set(before)
      .where(and(eq(rates.id, rate), eq(rates.until, set), eq(rates.endedAt, row.removedAt)))
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
  return show(app, [setById(app, id)])[0]!;
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
    .where(
      or(eq(memberships.set, row.id), inArray(memberships.id, removal.moved.length ? removal.moved : [''])),
    )
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
    .where(inArray(memberships.id, removal.moved.length ? removal.moved : ['']))
    .all()
    .filter((m) => m.until !== removal.members[removal.moved.indexOf(m.id)]?.until);
  return new Set(
    [...since.filter((m) => !own.has(m.id) && people.has(m.affiliate)), ...ended].map((m) => m.affiliate),
  );
}

/** What a removal ended that was made before it was noted what stood: everything that ended at its moment ran on without an end. */
function removalAsBefore(app: App, row: SetRecord, at: number): Removal {
  const ended = app.db
    .select()
    .from(rates)
    .where(and(eq(rates.who, row.id), eq(rates.until, at), eq(rates.endedAt, at)))
    .all();
  const gone = app.db
    .select()
    .from(memberships)
    .where(and(eq(memberships.set, row.id), eq(memberships.until, at)))
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
                eq(memberships.from, at),
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
      set: at,
    })),
    members: gone.map((m) => ({ id: m.id, until: null, set: at })),
    moved: moved.map((m) => m.id),
  };
}

/** Makes a card the one that newcomers begin on. */
export function makeStandard(app: App, actor: Actor, id: string): SetOut {
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
  return show(app, [setById(app, id)])[0]!;
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
    .all() as string[];
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

import type { Static } from '@sinclair/typebox';
import { and, eq, gt, inArray, isNull, or, sql } from 'drizzle-orm';
import type { Later, memberOutcomes } from '../../../contract/setup/sets';
import { addDays, dayOf, startOfDay } from '../../../core/calendar/zone';
import type { TermsData } from '../../../core/terms/draft';
import { termsAt, type Roll } from '../../../core/terms/members';
import { readNames } from '../../../core/terms/names';
import { endAt, inForce } from '../../../core/terms/rate';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { insertion, perApp, rowsBy } from '../../ground/db/prepared';
import { Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { memberships } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { changesFor } from './compare';
import { cutInWords, cutsOf, earliestCut, whoIsCut } from './cuts';
import { setById } from './sets';
import { setsInUse, theTerms, type SetRecord } from './store';

type Outcome = (typeof memberOutcomes)[number];
interface Line {
  line: number;
  said: string;
  outcome: Outcome;
  affiliate: string | null;
  name: string | null;
  from: string | null;
}

function present(app: App, id: string): SetRecord {
  const set = setById(app, id);
  if (set.removedAt !== null) throw new Problem('conflict', `${set.name} was removed`);
  return set;
}

const keyset = { by: affiliates.name, id: affiliates.id, order: 'asc' } as const;

export function listMembers(app: App, id: string, filter: { q?: string; after?: string; limit?: number }) {
  const set = setById(app, id);
  const now = app.clock.now();
  const limit = filter.limit ?? 100;
  const pattern = filter.q ? anywhere(filter.q) : null;
  const running = sql`${memberships.from} <= ${now} AND (${memberships.until} IS NULL OR ${memberships.until} > ${now})`;
  // those on no card are on the standard one
  const onStandard = set.standard
    ? sql`(${memberships.set} = ${id} OR (${memberships.id} IS NULL AND ${affiliates.joinedAt} IS NOT NULL AND ${affiliates.promotes}))`
    : sql`${memberships.set} = ${id}`;
  const found = app.db
    .select({
      id: affiliates.id,
      handle: affiliates.handle,
      name: affiliates.name,
      state: affiliates.state,
      since: sql<number>`coalesce(${memberships.from}, ${affiliates.joinedAt}, 0)`,
    })
    .from(affiliates)
    .leftJoin(
      memberships,
      and(
        eq(memberships.affiliate, affiliates.id),
        eq(memberships.of, set.of),
        set.of === 'tag' ? eq(memberships.set, id) : undefined,
        running,
      ),
    )
    .where(
      and(
        onStandard,
        pattern
          ? or(
              sql`${affiliates.name} LIKE ${pattern} ESCAPE '\\'`,
              sql`${affiliates.handle} LIKE ${pattern} ESCAPE '\\'`,
            )
          : undefined,
        afterCursor(keyset, filter.after),
      ),
    )
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  return cut(found, limit, (r) => [r.name, r.id]);
}

/** What adding each of the named would do. */
function judge(app: App, set: SetRecord, text: string): Line[] {
  const named = readNames(text);
  if (!named.length)
    throw refuse(
      'names',
      'Affiliates: nobody is named; write handles or e-mail addresses, parted by commas or lines',
      'loam-letters, kiln-notes',
    );
  if (named.length > 20_000)
    throw refuse(
      'names',
      `Affiliates: at most 20,000 at once, these are ${named.length.toLocaleString('en-GB')}`,
      'half of the list',
    );
  const keys = [...new Set(named.map((n) => n.said.toLowerCase()))];
  const known = new Map<string, { id: string; name: string }>();
  for (let i = 0; i < keys.length; i += 500) {
    const some = keys.slice(i, i + 500);
    for (const a of app.db
      .select({
        id: affiliates.id,
        name: affiliates.name,
        handle: affiliates.handle,
        email: affiliates.emailKey,
      })
      .from(affiliates)
      .where(
        or(
          inArray(sql`lower(${affiliates.handle})`, some),
          inArray(affiliates.emailKey, some),
          inArray(affiliates.id, some),
        ),
      )
      .all()) {
      for (const key of [a.handle.toLowerCase(), a.email, a.id]) known.set(key, { id: a.id, name: a.name });
    }
  }
  const now = app.clock.now();
  const { roll, data } = theTerms(app);
  const names = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  const seen = new Set<string>();
  const carded = new Set(
    set.of === 'card'
      ? data.members.filter((m) => m.of === 'card' && inForce(m, now)).map((m) => m.affiliate)
      : [],
  );
  return named.map(({ line, said }): Line => {
    const found = known.get(said.toLowerCase());
    if (!found)
      return { line, said: said.slice(0, 200), outcome: 'unknown', affiliate: null, name: null, from: null };
    const base = { line, said, affiliate: found.id, name: found.name };
    if (seen.has(found.id)) return { ...base, outcome: 'repeated', from: null };
    seen.add(found.id);
    const terms = termsAt(roll, found.id, now);
    if (isComing(roll, found.id, set, now)) return { ...base, outcome: 'already', from: null };
    if (set.of === 'tag')
      return { ...base, outcome: terms.tags.includes(set.id) ? 'already' : 'add', from: null };
    const at = set.of === 'card' ? terms.card : (terms.group?.id ?? null);
    if (at === set.id) return { ...base, outcome: 'already', from: null };
    // everyone is on a card: being on the standard one without having been put there asks nothing
    const placed = set.of === 'group' ? at !== null : carded.has(found.id);
    return { ...base, outcome: placed ? 'move' : 'add', from: placed && at ? (names.get(at) ?? at) : null };
  });
}

/** True where somebody is to come into a set later, when a notice is over. */
function isComing(roll: Roll, affiliate: string, set: Pick<SetRecord, 'id' | 'of'>, now: number): boolean {
  return (
    roll.places
      .get(affiliate)
      ?.[set.of].some((m) => m.id === set.id && m.from > now && (m.until === null || m.until > m.from)) ??
    false
  );
}

/** Whom the promised notice keeps where they are for now, and until when. */
interface Notice {
  later: ReadonlySet<string>;
  from: number;
  said: Static<typeof Later>;
}

/** Who of some would earn less by an act that would take effect now: for them it takes effect when the notice is over. @param after the terms as the act would leave them */
function noticeFor(app: App, after: TermsData, ids: readonly string[]): Notice {
  const later = whoIsCut(app, after, ids);
  const from = earliestCut(app);
  const [first] = later.size ? cutsOf(app, after, [...later]) : [];
  return { later, from, said: first ? { count: later.size, from, cut: cutInWords(app, first) } : null };
}

function countsOf(lines: Line[]): Record<Outcome, number> {
  const counts = { add: 0, move: 0, already: 0, repeated: 0, unknown: 0 };
  for (const l of lines) counts[l.outcome] += 1;
  return counts;
}

function placed(
  data: TermsData,
  set: Pick<SetRecord, 'id' | 'of'>,
  ids: ReadonlySet<string>,
  now: number,
): TermsData {
  const others = data.members.map((m) =>
    set.of !== 'tag' && m.of === set.of && ids.has(m.affiliate) && inForce(m, now) ? { ...m, until: now } : m,
  );
  return {
    ...data,
    members: [
      ...others,
      ...[...ids].map((affiliate) => ({ affiliate, of: set.of, id: set.id, from: now, until: null })),
    ],
  };
}

/** Puts somebody into several sets by one act, each when its notice is over where it would earn less. */
export function putIntoAll(
  app: App,
  actor: Actor,
  affiliate: string,
  chosen: readonly Pick<SetRecord, 'id' | 'of'>[],
): void {
  const { data, roll } = theTerms(app);
  const now = app.clock.now();
  const after = chosen.reduce((then, set) => placed(then, set, new Set([affiliate]), now), data);
  const { later, from } = noticeFor(app, after, [affiliate]);
  for (const set of chosen)
    if (!isComing(roll, affiliate, set, now))
      putInto(app, actor, affiliate, { set, from: later.has(affiliate) ? from : undefined });
}

/** What adding would do, line by line, and what it changes for the first of them. Changes nothing. */
export function previewMembers(app: App, id: string, text: string) {
  const set = present(app, id);
  const lines = judge(app, set, text);
  const all = lines.filter((l) => l.outcome === 'add' || l.outcome === 'move').map((l) => l.affiliate!);
  const first = all.slice(0, 12);
  const after = (ids: readonly string[]) => placed(theTerms(app).data, set, new Set(ids), app.clock.now());
  return {
    lines,
    counts: countsOf(lines),
    sample: changesFor(app, first, after(first)),
    later: noticeFor(app, after(all), all).said,
  };
}

/** Prepared: ten thousand are moved in one go. */
const statements = perApp((app) => ({
  put: insertion(app, memberships),
  of: rowsBy(app, memberships, ['affiliate', 'of']),
  end: app.sqlite.prepare<[number | null, string]>('UPDATE memberships SET valid_until = ? WHERE id = ?'),
}));

/** Writes that an affiliate is in a set from a moment on; of cards and groups it leaves the one it was in, and is not put into one it was to come into. */
export function putInto(
  app: App,
  actor: Actor,
  affiliate: string,
  { set, from = app.clock.now() }: { set: Pick<SetRecord, 'id' | 'of'>; from?: number | undefined },
): void {
  if (set.of !== 'tag') leave(app, affiliate, set.of, { at: from });
  statements(app).put.run({
    id: newId('membership'),
    affiliate,
    of: set.of,
    set: set.id,
    from,
    until: null,
    by: actor.id,
  });
}

/**
 * Ends memberships at a moment, now or later; those that were to come never begin, so that what was to make room for them ends no earlier than the act itself.
 * @returns how many ended
 */
function leave(
  app: App,
  affiliate: string,
  of: SetRecord['of'],
  { at, set }: { at: number; set?: string | undefined },
): number {
  const now = app.clock.now();
  const open = statements(app)
    .of.all(affiliate, of)
    .filter(
      (m) =>
        (set === undefined || m.set === set) &&
        (m.until === null || m.until > Math.min(at, Math.max(now, m.from))),
    );
  const stopped = new Set(of === 'tag' ? [] : open.filter((m) => m.from > now).map((m) => m.from));
  for (const m of open) {
    const until =
      m.from > now ? m.from : m.until !== null && stopped.has(m.until) ? Math.max(m.from, at) : endAt(m, at);
    statements(app).end.run(until, m.id);
  }
  return open.length;
}

/** What staff set for somebody and what waits for its notice never happens; a card that the affiliate chose itself still comes. */
function stopComing(app: App, affiliate: string): void {
  const now = app.clock.now();
  const rows = app.db.select().from(memberships).where(eq(memberships.affiliate, affiliate)).all();
  const own = new Set(rows.filter((m) => m.by === affiliate && m.from > now).map((m) => `${m.of} ${m.from}`));
  for (const m of rows) {
    if (m.from > now && m.by !== affiliate && (m.until === null || m.until > m.from))
      statements(app).end.run(m.from, m.id);
    if (m.from <= now && m.until !== null && m.until > now && !own.has(`${m.of} ${m.until}`))
      statements(app).end.run(null, m.id);
  }
  touch(app, 'terms');
}

/** Takes back what was to come for somebody when a notice is over: the move never happens, and where it is now it stays. @param set null = leaving a group */
export function takeBackComing(
  app: App,
  affiliate: string,
  of: SetRecord['of'],
  set: string | null,
): boolean {
  const now = app.clock.now();
  const rows = statements(app)
    .of.all(affiliate, of)
    .filter((m) => of !== 'tag' || m.set === set);
  const coming = rows.find((m) => m.set === set && m.from > now && (m.until === null || m.until > m.from));
  const ends =
    coming?.from ??
    rows.find((m) => (set === null || of === 'tag') && m.from <= now && m.until !== null && m.until > now)
      ?.until;
  if (ends === undefined || ends === null) return false;
  if (coming) statements(app).end.run(coming.from, coming.id);
  for (const m of rows)
    if (m.id !== coming?.id && m.from <= now && m.until === ends) statements(app).end.run(null, m.id);
  return true;
}

export function addMembers(
  app: App,
  actor: Actor,
  id: string,
  { text, others }: { text: string; others: 'move' | 'keep' },
) {
  const set = present(app, id);
  const lines = judge(app, set, text);
  const counts = countsOf(lines);
  const added = lines
    .filter((l) => l.outcome === 'add' || (l.outcome === 'move' && others === 'move'))
    .map((l) => l.affiliate!);
  const notice = noticeFor(app, placed(theTerms(app).data, set, new Set(added), app.clock.now()), added);
  for (const id of added)
    putInto(app, actor, id, { set, from: notice.later.has(id) ? notice.from : undefined });
  touch(app, 'terms');
  const moved = others === 'move' ? counts.move : 0;
  if (added.length)
    record(app, actor, `${set.of}-members-added`, {
      subject: id,
      before: null,
      after: {
        name: set.name,
        affiliates: added.slice(0, 200),
        count: added.length,
        ...(notice.said ? { later: notice.said.count, from: notice.from } : {}),
      },
    });
  return {
    added: counts.add,
    moved,
    kept: counts.move - moved,
    already: counts.already,
    repeated: counts.repeated,
    unknown: counts.unknown,
    lines,
    later: notice.said,
  };
}

function without(
  data: TermsData,
  ids: ReadonlySet<string>,
  set: Pick<SetRecord, 'id'>,
  now: number,
): TermsData {
  return {
    ...data,
    members: data.members.map((m) =>
      m.id === set.id && ids.has(m.affiliate) && (m.until === null || m.until > now)
        ? { ...m, until: endAt(m, now) }
        : m,
    ),
  };
}

/** Whom the promised notice would keep in some groups or tags for now. Changes nothing. */
export function previewDrop(app: App, sets: readonly string[], ids: readonly string[]): Static<typeof Later> {
  const now = app.clock.now();
  return noticeFor(
    app,
    sets.reduce((data, id) => without(data, new Set(ids), { id }, now), theTerms(app).data),
    ids,
  ).said;
}

export function dropMembers(
  app: App,
  actor: Actor,
  id: string,
  ids: string[],
): { dropped: number; later: Static<typeof Later> } {
  const set = present(app, id);
  if (set.of === 'card')
    throw new Problem('conflict', 'Everyone is on exactly one card: put them on another instead');
  const now = app.clock.now();
  const notice = noticeFor(app, without(theTerms(app).data, new Set(ids), set, now), ids);
  const dropped = ids.reduce(
    (sum, affiliate) =>
      sum + leave(app, affiliate, set.of, { at: notice.later.has(affiliate) ? notice.from : now, set: id }),
    0,
  );
  if (dropped)
    record(app, actor, `${set.of}-members-dropped`, {
      subject: id,
      before: { name: set.name, affiliates: ids.slice(0, 200) },
      after: { count: dropped },
    });
  touch(app, 'terms');
  return { dropped, later: notice.said };
}

/** Cards that affiliates may choose: when they join, or later. */
export function openCards(app: App, when: 'join' | 'change'): SetRecord[] {
  return setsInUse(app).filter((s) => s.of === 'card' && (when === 'join' ? s.openJoin : s.openChange));
}

/** What an affiliate reads of where it is sorted: its card and its group, never its tags, and the cards it may change to. */
export function ownPlaces(app: App, affiliate: string) {
  const now = app.clock.now();
  const { zone } = theProgramme(app);
  const { card, group } = termsAt(theTerms(app).roll, affiliate, now);
  const tomorrow = startOfDay(addDays(dayOf(now, zone), 1), zone);
  const coming = termsAt(theTerms(app).roll, affiliate, tomorrow).card;
  const named = (id: string | null) => {
    const s = setsInUse(app).find((r) => r.id === id);
    return s ? { id: s.id, name: s.name, about: s.about } : null;
  };
  return {
    card: named(card),
    group: group && !group.paused ? named(group.id) : null,
    coming: coming === card ? null : named(coming),
    from: tomorrow,
    choices: openCards(app, 'change')
      .filter((c) => c.id !== (coming ?? card))
      .map(({ id, name, about }) => ({ id, name, about })),
  };
}

/** An affiliate chooses another card, from the next day on. */
export function chooseCard(app: App, actor: Actor, id: string) {
  const set = openCards(app, 'change').find((c) => c.id === id);
  if (!set) throw refuse('card', 'Rate card: this one is not open for choice any more');
  const { card, from } = ownPlaces(app, actor.id);
  const open = app.db
    .select()
    .from(memberships)
    .where(
      and(
        eq(memberships.affiliate, actor.id),
        eq(memberships.of, 'card'),
        or(isNull(memberships.until), gt(memberships.until, from)),
      ),
    )
    .all();
  for (const m of open)
    app.db
      .update(memberships)
      .set({ until: Math.max(from, m.from) })
      .where(eq(memberships.id, m.id))
      .run();
  app.db
    .insert(memberships)
    .values({
      id: newId('membership'),
      affiliate: actor.id,
      of: 'card',
      set: id,
      from,
      until: null,
      by: actor.id,
    })
    .run();
  record(app, actor, 'card-chosen', {
    subject: actor.id,
    before: { card: card?.name ?? null },
    after: { card: set.name, from },
  });
  touch(app, 'terms');
  return ownPlaces(app, actor.id);
}

export interface Places {
  card?: string;
  group?: string | null;
  tags?: string[];
  /** what staff set and what waits for its notice never happens */ coming?: 'stop';
}

export function readPlaces(app: App, affiliate: string) {
  const { card, group, tags } = termsAt(theTerms(app).roll, affiliate, app.clock.now());
  return { card, group: group?.id ?? null, tags: [...tags] };
}

function checkPlaces(app: App, places: Places): void {
  const known = new Map(setsInUse(app).map((s) => [s.id, s.of]));
  if (places.card !== undefined && known.get(places.card) !== 'card')
    throw refuse('card', 'Card: this rate card does not exist any more', 'Standard');
  if (places.group && known.get(places.group) !== 'group')
    throw refuse('group', 'Group: this group does not exist any more', 'none');
  if (places.tags?.some((t) => known.get(t) !== 'tag'))
    throw refuse('tags', 'Tags: one of them does not exist any more', 'none');
}

function withPlaces(app: App, affiliate: string, places: Places): TermsData {
  const now = app.clock.now();
  let data = theTerms(app).data;
  if (places.card !== undefined)
    data = placed(data, { of: 'card', id: places.card }, new Set([affiliate]), now);
  if (places.group !== undefined) {
    data = places.group
      ? placed(data, { of: 'group', id: places.group }, new Set([affiliate]), now)
      : {
          ...data,
          members: data.members.map((m) =>
            m.affiliate === affiliate && m.of === 'group' && inForce(m, now) ? { ...m, until: now } : m,
          ),
        };
  }
  if (places.tags !== undefined) {
    const rest = data.members.map((m) =>
      m.affiliate === affiliate && m.of === 'tag' && inForce(m, now) ? { ...m, until: now } : m,
    );
    data = {
      ...data,
      members: [
        ...rest,
        ...places.tags.map((id) => ({ affiliate, of: 'tag' as const, id, from: now, until: null })),
      ],
    };
  }
  return data;
}

/** An affiliate's terms before and after a change of card, group or tags. Changes nothing. */
export function previewPlaces(app: App, affiliate: string, places: Places) {
  checkPlaces(app, places);
  const [change] = changesFor(app, [affiliate], withPlaces(app, affiliate, places));
  if (!change) throw new Problem('not-found', 'This affiliate does not exist');
  return { ...change, later: noticeFor(app, withPlaces(app, affiliate, places), [affiliate]).said };
}

/** Changes card, group and tags from now on, or, where that would earn the affiliate less, when the promised notice is over. What is left out stays. */
export function setPlaces(app: App, actor: Actor, affiliate: string, places: Places) {
  if (places.coming === 'stop') stopComing(app, affiliate);
  const change = previewPlaces(app, affiliate, places);
  const before = readPlaces(app, affiliate);
  const at = change.later?.from ?? app.clock.now();
  const { roll } = theTerms(app);
  // asked for once more while it waits for its notice, it goes on waiting for the same day
  const put = (of: SetRecord['of'], id: string) => {
    if (!isComing(roll, affiliate, { of, id }, app.clock.now()))
      putInto(app, actor, affiliate, { set: { of, id }, from: at });
  };
  if (places.card !== undefined && places.card !== before.card) put('card', places.card);
  if (places.group !== undefined && places.group !== before.group) {
    if (places.group) put('group', places.group);
    else leave(app, affiliate, 'group', { at });
  }
  if (places.tags) {
    for (const tag of before.tags)
      if (!places.tags.includes(tag)) leave(app, affiliate, 'tag', { at, set: tag });
    for (const tag of new Set(places.tags)) if (!before.tags.includes(tag)) put('tag', tag);
  }
  touch(app, 'terms');
  record(app, actor, 'places-changed', {
    subject: affiliate,
    before,
    after: {
      ...readPlaces(app, affiliate),
      ...(change.later ? { from: change.later.from, wanted: places } : {}),
    },
  });
  return change;
}

import type { Static } from '@sinclair/typebox';
import { eq } from 'drizzle-orm';
import type { Later } from '../../../contract/setup/sets';
import { endAt, inForce, isEmpty, isOver } from '../../../core/calendar/span';
import type { TermsData } from '../../../core/terms/draft';
import { termsAt } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { insertion, perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { memberships } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { changesFor } from './compare';
import { cutInWords, cutsOf, earliestCut, whoIsCut } from './cuts';
import { isComing, judgeNames, present, type Line, type Outcome } from './member-list';
import { theTerms, type SetRecord } from './store';

/** Whom the promised notice keeps where they are for now, and until when. */
interface Notice {
  later: ReadonlySet<string>;
  from: number;
  said: Static<typeof Later>;
}

/** Who of some would earn less by an act that would take effect now: for them it takes effect when the notice is over. @param after the terms as the act would leave them */
export function noticeFor(app: App, after: TermsData, ids: readonly Id<'affiliate'>[]): Notice {
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

export function placed(
  data: TermsData,
  set: Pick<SetRecord, 'id' | 'of'>,
  ids: ReadonlySet<Id<'affiliate'>>,
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
  affiliate: Id<'affiliate'>,
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
export function previewMembers(app: App, id: Id<'set'>, text: string) {
  const set = present(app, id);
  const lines = judgeNames(app, set, text);
  const all = lines.filter((l) => l.outcome === 'add' || l.outcome === 'move').map((l) => l.affiliate!);
  const first = all.slice(0, 12);
  const after = (ids: readonly Id<'affiliate'>[]) =>
    placed(theTerms(app).data, set, new Set(ids), app.clock.now());
  return {
    lines,
    counts: countsOf(lines),
    sample: changesFor(app, first, after(first)),
    later: noticeFor(app, after(all), all).said,
  };
}

/** True for who is in a set now. */
function isIn(app: App, set: Pick<SetRecord, 'id' | 'of'>, affiliate: Id<'affiliate'>): boolean {
  const { card, group, tags } = termsAt(theTerms(app).roll, affiliate, app.clock.now());
  return set.of === 'tag' ? tags.includes(set.id) : (set.of === 'card' ? card : group?.id) === set.id;
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
  affiliate: Id<'affiliate'>,
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
export function leave(
  app: App,
  affiliate: Id<'affiliate'>,
  kind: SetRecord['of'],
  { at, set }: { at: number; set?: string | undefined },
): number {
  const now = app.clock.now();
  const open = statements(app)
    .of.all(affiliate, kind)
    .filter((m) => (set === undefined || m.set === set) && !isOver(m, Math.min(at, Math.max(now, m.from))));
  const stopped = new Set(kind === 'tag' ? [] : open.filter((m) => m.from > now).map((m) => m.from));
  for (const m of open) {
    const until =
      m.from > now ? m.from : m.until !== null && stopped.has(m.until) ? Math.max(m.from, at) : endAt(m, at);
    statements(app).end.run(until, m.id);
  }
  return open.length;
}

/** What staff set for somebody and what waits for its notice never happens; a card that the affiliate chose itself still comes. */
export function stopComing(app: App, affiliate: Id<'affiliate'>): void {
  const now = app.clock.now();
  const rows = app.db.select().from(memberships).where(eq(memberships.affiliate, affiliate)).all();
  const own = new Set(rows.filter((m) => m.by === affiliate && m.from > now).map((m) => `${m.of} ${m.from}`));
  for (const m of rows) {
    if (m.from > now && m.by !== affiliate && !isEmpty(m)) statements(app).end.run(m.from, m.id);
    if (m.from <= now && m.until !== null && m.until > now && !own.has(`${m.of} ${m.until}`))
      statements(app).end.run(null, m.id);
  }
  touch(app, 'terms');
}

/** Takes back what was to come for somebody when a notice is over: the move never happens, and where it is now it stays. @param set null = leaving a group */
export function takeBackComing(
  app: App,
  affiliate: Id<'affiliate'>,
  kind: SetRecord['of'],
  set: string | null,
): boolean {
  const now = app.clock.now();
  const rows = statements(app)
    .of.all(affiliate, kind)
    .filter((m) => kind !== 'tag' || m.set === set);
  const coming = rows.find((m) => m.set === set && m.from > now && !isEmpty(m));
  const ends =
    coming?.from ??
    rows.find((m) => (set === null || kind === 'tag') && m.from <= now && m.until !== null && m.until > now)
      ?.until;
  if (ends === undefined || ends === null) return false;
  if (coming) statements(app).end.run(coming.from, coming.id);
  for (const m of rows)
    if (m.id !== coming?.id && m.from <= now && m.until === ends) statements(app).end.run(null, m.id);
  return true;
}

/** A move that waited for its notice and was withdrawn; `to` null: leaving the group or the tag. */
export interface Withdrawn {
  of: SetRecord['of'];
  to: Id<'set'> | null;
  from: number;
}

/** What staff set for somebody of one kind and what waits for its notice, in turn. @param tag of this tag alone */
export function waitingMoves(
  app: App,
  affiliate: Id<'affiliate'>,
  kind: SetRecord['of'],
  tag?: Id<'set'>,
): Withdrawn[] {
  const now = app.clock.now();
  const rows = statements(app)
    .of.all(affiliate, kind)
    .filter((m) => (tag === undefined || m.set === tag) && !isEmpty(m));
  const coming = rows.filter((m) => m.from > now && m.by !== affiliate);
  const begins = new Set(rows.filter((m) => m.from > now).map((m) => m.from));
  const leaving = rows.filter(
    (m) => m.from <= now && m.until !== null && m.until > now && !begins.has(m.until),
  );
  return [
    ...coming.map((m) => ({ of: kind, to: m.set, from: m.from })),
    ...leaving.map((m) => ({ of: kind, to: null, from: m.until! })),
  ].sort((a, b) => a.from - b.from);
}

/** Withdraws what waits for its notice: it never happens, and what is in force now goes on. @returns what was withdrawn */
export function withdrawMoves(
  app: App,
  affiliate: Id<'affiliate'>,
  kind: SetRecord['of'],
  tag?: Id<'set'>,
): Withdrawn[] {
  const waiting = waitingMoves(app, affiliate, kind, tag);
  for (const { to, from } of waiting) {
    const rows = statements(app).of.all(affiliate, kind);
    for (const m of rows) {
      if (to !== null && m.set === to && m.from === from) statements(app).end.run(m.from, m.id);
      else if (m.from < from && m.until === from && (kind !== 'tag' || m.set === (tag ?? to)))
        statements(app).end.run(null, m.id);
    }
  }
  if (waiting.length) touch(app, 'terms');
  return waiting;
}

export function addMembers(
  app: App,
  actor: Actor,
  id: Id<'set'>,
  { text, others }: { text: string; others: 'move' | 'keep' },
) {
  const set = present(app, id);
  const lines = judgeNames(app, set, text);
  const counts = countsOf(lines);
  const added = lines
    .filter((l) => l.outcome === 'add' || (l.outcome === 'move' && others === 'move'))
    .map((l) => l.affiliate!);
  // who is to stay where it is does not move away any more
  const stayed = lines
    .filter((l) => l.outcome === 'already' && isIn(app, set, l.affiliate!))
    .filter((l) => withdrawMoves(app, l.affiliate!, set.of, set.of === 'tag' ? set.id : undefined).length);
  const notice = noticeFor(app, placed(theTerms(app).data, set, new Set(added), app.clock.now()), added);
  for (const id of added)
    putInto(app, actor, id, { set, from: notice.later.has(id) ? notice.from : undefined });
  touch(app, 'terms');
  const moved = others === 'move' ? counts.move : 0;
  if (added.length || stayed.length)
    record(app, actor, `${set.of}-members-added`, {
      subject: id,
      before: null,
      after: {
        name: set.name,
        affiliates: added.slice(0, 200),
        count: added.length,
        ...(notice.said ? { later: notice.said.count, from: notice.from } : {}),
        ...(stayed.length ? { movesWithdrawn: stayed.length } : {}),
      },
    });
  return {
    withdrawn: stayed.length,
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
      m.id === set.id && ids.has(m.affiliate) && !isOver(m, now) ? { ...m, until: endAt(m, now) } : m,
    ),
  };
}

/** Whom the promised notice would keep in some groups or tags for now. Changes nothing. */
export function previewDrop(
  app: App,
  sets: readonly Id<'set'>[],
  ids: readonly Id<'affiliate'>[],
): Static<typeof Later> {
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
  id: Id<'set'>,
  ids: Id<'affiliate'>[],
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

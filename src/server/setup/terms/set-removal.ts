import { and, eq, gt, isNull, or } from 'drizzle-orm';
import { endAt } from '../../../core/calendar/span';
import { type TermsData } from '../../../core/terms/draft';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { memberships, rates, sets, type Removal } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { changesFor } from './compare';
import { cutInWords, cutsOf, earliestCut, promisedOf, refuseCut } from './cuts';
import { inUse, setById } from './sets';
import { theTerms, type SetRecord } from './store';

function liveRates(app: App, id: Id<'set'>, now: number) {
  return app.db
    .select()
    .from(rates)
    .where(and(eq(rates.who, id), or(isNull(rates.until), gt(rates.until, now))))
    .all();
}

function membersNow(app: App, id: Id<'set'>, now: number) {
  return app.db
    .select()
    .from(memberships)
    .where(and(eq(memberships.set, id), or(isNull(memberships.until), gt(memberships.until, now))))
    .all();
}

/** What removing would mean, without doing it. @param to the card that members of a card would move to */
export function previewRemoval(app: App, id: Id<'set'>, to: Id<'set'> | undefined) {
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
function withoutSet(data: TermsData, row: SetRecord, to: Id<'set'> | null, now: number): TermsData {
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

/** @throws Problem where the set cannot be removed so */
function checkRemoval(app: App, row: SetRecord, members: number, to: Id<'set'> | null): void {
  if (row.standard)
    throw new Problem(
      'conflict',
      'The card that newcomers begin on cannot be removed; make another the one first',
    );
  if (row.of === 'card' && members && !to)
    throw refuse('to', `${members} affiliates are on this card; choose the card they move to`, 'Standard');
  if (!to) return;
  const target = setById(app, to);
  if (target.of !== 'card' || target.removedAt !== null || to === row.id)
    throw refuse('to', 'Members of a card move to another rate card', 'Standard');
}

/** Ends who is in the set, and puts them on the other card. @returns what a restoring brings back */
function endMembers(
  app: App,
  actor: Actor,
  members: ReturnType<typeof membersNow>,
  { to, now }: { to: Id<'set'> | null; now: number },
): Pick<Removal, 'members' | 'moved'> {
  const removal: Pick<Removal, 'members' | 'moved'> = { members: [], moved: [] };
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
  return removal;
}

/** Ends the rates of the set. @returns what a restoring brings back */
function endRatesOfSet(
  app: App,
  actor: Actor,
  ending: ReturnType<typeof liveRates>,
  now: number,
): Removal['rates'] {
  return ending.map((r) => {
    const set = endAt(r, now);
    app.db
      .update(rates)
      .set({ until: set, endedAt: now, endedBy: actor.id, endedFor: null })
      .where(eq(rates.id, r.id))
      .run();
    const { id, until, endedAt, endedBy, endedFor } = r;
    return { id, until, endedAt, endedBy, endedFor, set };
  });
}

/** Removes a card, group or tag from now on: its rates end, members of a card move to another. */
export function removeSet(
  app: App,
  actor: Actor,
  id: Id<'set'>,
  { to, version }: { to: Id<'set'> | null; version: number },
): { moved: number; ended: number } {
  const row = inUse(app, id, version);
  const now = app.clock.now();
  const members = membersNow(app, id, now);
  checkRemoval(app, row, members.length, to);
  const ending = liveRates(app, id, now);
  refuseCut(
    app,
    withoutSet(theTerms(app).data, row, to, now),
    'set',
    'end its rates in the rate book from that day on, then remove it',
  );
  const removal: Removal = {
    ...endMembers(app, actor, members, { to, now }),
    rates: endRatesOfSet(app, actor, ending, now),
  };
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

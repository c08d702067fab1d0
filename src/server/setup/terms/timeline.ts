import { and, eq, isNull, sql } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type { readTimeline as Timeline } from '../../../contract/setup/rate-book';
import { isEmpty, isOver } from '../../../core/calendar/span';
import { formatPercent } from '../../../core/money/percent';
import { replaces } from '../../../core/terms/draft';
import { describeRate } from '../../../core/terms/rate';
import { isId, type Id, type IdKind } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { readCursor } from '../../ground/db/page';
import { Problem } from '../../ground/http/problem';
import { coOwners, locks, pauses, rates, referrals, tagOrders } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { affiliateNames } from '../../registers/people/names';
import { theProgramme } from '../../registers/programme/record';
import { undoCoOwner } from './coowners';
import { undoReferral } from './referrals';
import { asRate, setsInUse, type RateRecord } from './store';
import { hasScheduledEnd, withdrawLockEnd, withdrawPauseEnd, withdrawRateEnd } from './withdraw-end';
import { termsWords } from './words';

type Row = ReplyOf<typeof Timeline>['rows'][number];

function stateOf(from: number, until: number | null, now: number): Row['state'] {
  if (isEmpty({ from, until })) return 'undone';
  if (from > now) return 'coming';
  return isOver({ until }, now) ? 'done' : 'running';
}

/** A change before it is said who made it. */
export interface Told extends Pick<Row, 'id' | 'kind' | 'place' | 'what' | 'from' | 'until'> {
  by: string;
  at?: number | null;
  /** its end was scheduled apart from it, and can be withdrawn until then */
  endScheduled?: boolean;
  /** where it does not follow of when it is */
  state?: Row['state'];
}

function ratesTold(app: App): Told[] {
  const { base } = theProgramme(app);
  const all = app.db.select().from(rates).all();
  const words = termsWords(
    app,
    all.flatMap((r) => (r.rung === 'personal' && r.who ? [r.who] : [])),
  );
  return all.map((r) => ({
    id: r.id,
    kind: r.mode === 'base' ? 'rate' : 'uplift',
    place: words.place(asRate(r)),
    what: `${r.label && r.mode !== 'base' ? `${r.label}: ` : ''}${describeRate(asRate(r), base)}`,
    from: r.from,
    until: r.until,
    by: r.createdBy,
    at: r.createdAt,
    endScheduled: hasScheduledEnd(r),
  }));
}

function switchesTold(app: App): Told[] {
  const words = termsWords(app, []);
  const locked = app.db.select().from(locks).all();
  const paused = app.db.select().from(pauses).all();
  return [
    ...locked.map(({ id, product, event, from, until, by }): Told => ({
      ...{ id, from, until, by },
      kind: 'lock',
      place: words.product(product),
      what: `${event === 'sale' ? 'first payments' : 'renewals'} locked`,
      endScheduled: until !== null,
    })),
    ...paused.map(({ id, set, from, until, by }): Told => ({
      ...{ id, from, until, by },
      kind: 'pause',
      place: words.who(set),
      what: 'paused',
      endScheduled: until !== null,
    })),
  ];
}

function sharesTold(app: App): Told[] {
  const brought = app.db.select().from(referrals).all();
  const owned = app.db.select().from(coOwners).all();
  const words = termsWords(app, []);
  const known = affiliateNames(app, [
    ...owned.map((o) => o.payee),
    ...brought.flatMap((r) => [r.by, r.affiliate]),
  ]);
  const name = (id: string) => known.get(id) ?? id;
  return [
    ...brought.map(({ id, affiliate, by, ppm, of: basis, from, until, setBy }): Told => ({
      ...{ id, from, until },
      kind: 'referral',
      place: `${name(affiliate)}, brought in by ${name(by)}`,
      what: `referral share ${formatPercent(ppm)} of the ${basis}`,
      by: setBy,
    })),
    ...owned.map(({ id, product, payee, ppm, from, until, by }): Told => ({
      ...{ id, from, until, by },
      kind: 'co-owner',
      place: words.product(product),
      what: `co-owner share ${formatPercent(ppm)} to ${name(payee)}`,
    })),
  ];
}

function tagOrdersTold(app: App): Told[] {
  const tag = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  return app.db
    .select()
    .from(tagOrders)
    .all()
    .map(({ id, tags, from, by }) => ({
      ...{ id, from, by },
      kind: 'tag-order',
      place: 'tags',
      what: tags.map((t) => tag.get(t) ?? 'a tag that was removed').join(', '),
      until: null,
    }));
}

function everyRow(app: App, further: readonly Told[]): Row[] {
  const now = app.clock.now();
  const all = [
    ...ratesTold(app),
    ...switchesTold(app),
    ...sharesTold(app),
    ...tagOrdersTold(app),
    ...further,
  ];
  const name = namesOf(app, all.map((t) => t.by).filter(Boolean));
  return all
    .map(({ by, at = null, endScheduled = false, ...told }): Row => {
      const state = told.state ?? stateOf(told.from, told.until, now);
      const undoes = state === 'coming' ? 'change' : state === 'running' && endScheduled ? 'end' : null;
      return { ...told, state, by: by ? name(by) : '', at, undoes };
    })
    .sort((a, b) => b.from - a.from || (a.id < b.id ? 1 : -1));
}

/** Every change of terms: what is coming, running and done, latest start first. @param further changes of other things that stand among them */
export function readTimeline(
  app: App,
  filter: QueryOf<typeof Timeline>,
  further: readonly Told[] = [],
): ReplyOf<typeof Timeline> {
  const limit = filter.limit ?? 100;
  const rows = everyRow(app, further).filter((r) => !filter.state || r.state === filter.state);
  const [from, last] = filter.after ? readCursor(filter.after) : [Infinity, ''];
  const rest = filter.after
    ? rows.filter((r) => r.from < Number(from) || (r.from === Number(from) && r.id < last))
    : rows;
  const shown = rest.slice(0, limit);
  const end = shown.at(-1);
  return {
    rows: shown,
    next:
      rest.length > limit && end
        ? Buffer.from(JSON.stringify([end.from, end.id])).toString('base64url')
        : null,
  };
}

/** The rates whose place a rate took, and nothing else that was saved with it. */
function takenOver(app: App, rate: RateRecord): RateRecord[] {
  const exact = app.db.select().from(rates).where(eq(rates.endedFor, rate.id)).all();
  if (exact.length || !rate.draft) return exact;
  // saved before it was noted which rate took whose place
  const candidates = app.db
    .select()
    .from(rates)
    .where(and(eq(rates.endedBy, rate.draft), eq(rates.until, rate.from), isNull(rates.endedFor)))
    .all();
  return candidates.filter((r) => replaces({ ...asRate(rate), until: null }, { ...asRate(r), until: null }));
}

/**
 * A rate runs on as if the undone one had never been: until the first of those saved after it that takes its place, or without an end. Rows
 * stand in the order in which they were saved.
 */
function reviveFrom(app: App, before: RateRecord, undone: RateRecord): void {
  const open = { ...asRate(before), until: null };
  const later = app.db
    .select()
    .from(rates)
    .where(
      and(
        sql`rates.rowid > (SELECT u.rowid FROM rates u WHERE u.id = ${undone.id})`,
        eq(rates.rung, before.rung),
        eq(rates.event, before.event),
        isNull(rates.untilSaved),
      ),
    )
    .orderBy(sql`rates.rowid`)
    .all();
  const next = later.find((r) => !isEmpty(r) && replaces({ ...asRate(r), until: null }, open));
  app.db
    .update(rates)
    .set({
      until: next?.from ?? null,
      endedFor: next?.id ?? null,
      endedAt: next?.createdAt ?? null,
      endedBy: next ? (next.draft ?? next.createdBy) : null,
    })
    .where(eq(rates.id, before.id))
    .run();
}

function undoTagOrder(app: App, actor: Actor, { id, from, tags }: typeof tagOrders.$inferSelect): void {
  app.db.delete(tagOrders).where(eq(tagOrders.id, id)).run();
  record(app, actor, 'tag-order-undone', { subject: 'programme', before: { from, tags }, after: null });
}

/** @throws Problem `conflict` for what has begun */
function refuseBegun(app: App, from: number): void {
  if (from <= app.clock.now())
    throw new Problem(
      'conflict',
      'This has begun: end it with a new change instead, so that what was promised meanwhile stays explained',
    );
}

function undoRate(app: App, actor: Actor, rate: RateRecord): void {
  if (isEmpty(rate)) throw new Problem('conflict', 'This was undone already, or went with what it was for');
  app.db
    .update(rates)
    .set({ until: rate.from, endedAt: app.clock.now(), endedBy: actor.id, endedFor: null })
    .where(eq(rates.id, rate.id))
    .run();
  for (const before of takenOver(app, rate)) reviveFrom(app, before, rate);
  record(app, actor, 'rate-undone', {
    subject: rate.product ?? rate.who ?? 'programme',
    before: { reward: rate.reward, from: rate.from },
    after: null,
  });
}

function undoLock(app: App, actor: Actor, { id, from, product }: typeof locks.$inferSelect): void {
  app.db.update(locks).set({ until: from }).where(eq(locks.id, id)).run();
  record(app, actor, 'lock-undone', { subject: product, before: { from }, after: null });
}

function undoPause(app: App, actor: Actor, { id, from, set }: typeof pauses.$inferSelect): void {
  app.db.update(pauses).set({ until: from }).where(eq(pauses.id, id)).run();
  record(app, actor, 'pause-undone', { subject: set, before: { from }, after: null });
}

const hasBegun = (app: App, { from, until }: { from: number; until: number | null }): boolean =>
  from <= app.clock.now() && until !== null;

/** Undoes or withdraws a change of one kind; false where there is none of this id. */
type Undoes = (app: App, actor: Actor, id: string) => boolean;

/** Undoes a row of one kind. @param begun what is done instead for one that runs and is to end; left out: refused */
function undoing<K extends IdKind, R extends { from: number; until?: number | null }>(
  kind: K,
  rowOf: (app: App, id: Id<K>) => R | undefined,
  undo: (app: App, actor: Actor, row: R) => void,
  begun?: (app: App, actor: Actor, row: R) => void,
): Undoes {
  return (app, actor, id) => {
    const row = isId(id, kind) ? rowOf(app, id) : undefined;
    if (!row) return false;
    const ends = begun && hasBegun(app, { from: row.from, until: row.until ?? null });
    if (ends) begun(app, actor, row);
    else {
      refuseBegun(app, row.from);
      undo(app, actor, row);
    }
    return true;
  };
}

const undoes: readonly Undoes[] = [
  undoing(
    'rate',
    (app, id) => app.db.select().from(rates).where(eq(rates.id, id)).get(),
    undoRate,
    withdrawRateEnd,
  ),
  undoing(
    'lock',
    (app, id) => app.db.select().from(locks).where(eq(locks.id, id)).get(),
    undoLock,
    withdrawLockEnd,
  ),
  undoing(
    'pause',
    (app, id) => app.db.select().from(pauses).where(eq(pauses.id, id)).get(),
    undoPause,
    withdrawPauseEnd,
  ),
  undoing(
    'referral',
    (app, id) => app.db.select().from(referrals).where(eq(referrals.id, id)).get(),
    undoReferral,
  ),
  undoing(
    'coOwner',
    (app, id) => app.db.select().from(coOwners).where(eq(coOwners.id, id)).get(),
    undoCoOwner,
  ),
  undoing(
    'tagOrder',
    (app, id) => app.db.select().from(tagOrders).where(eq(tagOrders.id, id)).get(),
    undoTagOrder,
  ),
];

/**
 * Undoes a change that has not begun: it never takes effect, and what it would have replaced runs on. Of one that runs
 * and is to end, the scheduled end is withdrawn.
 */
export function undoTimeline(app: App, actor: Actor, id: string): { undone: boolean } {
  if (!undoes.some((undo) => undo(app, actor, id)))
    throw new Problem('not-found', 'This change does not exist');
  touch(app, 'terms');
  return { undone: true };
}

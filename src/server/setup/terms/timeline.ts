import { and, eq, isNull, sql } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type { readTimeline as Timeline } from '../../../contract/setup/rate-book';
import { formatPercent } from '../../../core/money/percent';
import { replaces } from '../../../core/terms/draft';
import { describeRate } from '../../../core/terms/rate';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { readCursor } from '../../ground/db/page';
import { Problem } from '../../ground/http/problem';
import { coOwners, locks, pauses, rates, referrals, tagOrders } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { theProgramme } from '../../registers/programme/record';
import { asRate, setsInUse, type RateRecord } from './store';
import { termsWords } from './words';

type Row = ReplyOf<typeof Timeline>['rows'][number];

function stateOf(from: number, until: number | null, now: number): Row['state'] {
  if (until !== null && until <= from) return 'undone';
  if (from > now) return 'coming';
  return until === null || until > now ? 'running' : 'done';
}

function everyRow(app: App): Row[] {
  const { base } = theProgramme(app);
  const now = app.clock.now();
  const all = app.db.select().from(rates).all();
  const [locked, paused, orders] = [
    app.db.select().from(locks).all(),
    app.db.select().from(pauses).all(),
    app.db.select().from(tagOrders).all(),
  ];
  const [brought, owned] = [app.db.select().from(referrals).all(), app.db.select().from(coOwners).all()];
  const words = termsWords(
    app,
    all.flatMap((r) => (r.rung === 'personal' && r.who ? [r.who] : [])),
  );
  const name = namesOf(
    app,
    [
      ...all.map((r) => r.createdBy),
      ...locked.map((l) => l.by),
      ...paused.map((p) => p.by),
      ...orders.map((o) => o.by),
      ...owned.flatMap((o) => [o.by, o.payee]),
      ...brought.flatMap((r) => [r.setBy, r.by, r.affiliate]),
    ].filter(Boolean),
  );
  const tag = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  const row = (
    id: string,
    kind: Row['kind'],
    place: string,
    what: string,
    from: number,
    until: number | null,
    by: string,
    at: number | null,
  ): Row => {
    const state = stateOf(from, until, now);
    return {
      id,
      kind,
      place,
      what,
      from,
      until,
      state,
      by: by ? name(by) : '',
      at,
      undoable: state === 'coming',
    };
  };
  return [
    ...all.map((r) =>
      row(
        r.id,
        r.mode === 'base' ? 'rate' : 'uplift',
        words.place(asRate(r)),
        `${r.label && r.mode !== 'base' ? `${r.label}: ` : ''}${describeRate(asRate(r), base)}`,
        r.from,
        r.until,
        r.createdBy,
        r.createdAt,
      ),
    ),
    ...locked.map((l) =>
      row(
        l.id,
        'lock',
        words.product(l.product),
        `${l.event === 'sale' ? 'first payments' : 'renewals'} locked`,
        l.from,
        l.until,
        l.by,
        null,
      ),
    ),
    ...paused.map((p) => row(p.id, 'pause', words.who(p.set), 'paused', p.from, p.until, p.by, null)),
    ...brought.map((r) =>
      row(
        r.id,
        'referral',
        `${name(r.affiliate)}, brought in by ${name(r.by)}`,
        `referral share ${formatPercent(r.ppm)} of the ${r.of}`,
        r.from,
        r.until,
        r.setBy,
        null,
      ),
    ),
    ...owned.map((o) =>
      row(
        o.id,
        'co-owner',
        words.product(o.product),
        `co-owner share ${formatPercent(o.ppm)} to ${name(o.payee)}`,
        o.from,
        o.until,
        o.by,
        null,
      ),
    ),
    ...orders.map((o) =>
      row(
        o.id,
        'tag-order',
        'tags',
        o.tags.map((t) => tag.get(t) ?? 'a tag that was removed').join(', '),
        o.from,
        null,
        o.by,
        null,
      ),
    ),
  ].sort((a, b) => b.from - a.from || (a.id < b.id ? 1 : -1));
}

/** Every change of terms: what is coming, running and done, latest start first. */
export function readTimeline(app: App, filter: QueryOf<typeof Timeline>): ReplyOf<typeof Timeline> {
  const limit = filter.limit ?? 100;
  const rows = everyRow(app).filter((r) => !filter.state || r.state === filter.state);
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
  const next = later.find(
    (r) => (r.until === null || r.until > r.from) && replaces({ ...asRate(r), until: null }, open),
  );
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

/** Takes a change back that has not begun: it never holds, and what it would have taken over from runs on. */
export function undoTimeline(app: App, actor: Actor, id: string): { undone: boolean } {
  const now = app.clock.now();
  const refuseBegun = (from: number) => {
    if (from <= now)
      throw new Problem(
        'conflict',
        'This has begun: end it with a new change instead, so that what was promised meanwhile stays explained',
      );
  };
  const rate = app.db.select().from(rates).where(eq(rates.id, id)).get();
  if (rate) {
    refuseBegun(rate.from);
    if (rate.until !== null && rate.until <= rate.from)
      throw new Problem('conflict', 'This was undone already, or went with what it was for');
    app.db
      .update(rates)
      .set({ until: rate.from, endedAt: now, endedBy: actor.id, endedFor: null })
      .where(eq(rates.id, id))
      .run();
    for (const before of takenOver(app, rate)) reviveFrom(app, before, rate);
    record(app, actor, 'rate-undone', {
      subject: rate.product ?? rate.who ?? 'programme',
      before: { reward: rate.reward, from: rate.from },
      after: null,
    });
  } else {
    const lock = app.db.select().from(locks).where(eq(locks.id, id)).get();
    const pause = app.db.select().from(pauses).where(eq(pauses.id, id)).get();
    const found = lock ?? pause;
    if (!found) throw new Problem('not-found', 'This change does not exist');
    refuseBegun(found.from);
    if (lock) app.db.update(locks).set({ until: lock.from }).where(eq(locks.id, id)).run();
    if (pause) app.db.update(pauses).set({ until: pause.from }).where(eq(pauses.id, id)).run();
    record(app, actor, lock ? 'lock-undone' : 'pause-undone', {
      subject: lock?.product ?? pause!.set,
      before: { from: found.from },
      after: null,
    });
  }
  touch(app, 'terms');
  return { undone: true };
}

import { and, asc, eq, gt, inArray, lte } from 'drizzle-orm';
import { dayOf } from '../../core/calendar/zone';
import { stateOf } from '../../core/ledger/commission';
import {
  balances,
  entryFor,
  reverse,
  standingAfter,
  type EntryEvent,
  type EntryLine,
  type Standing,
} from '../../core/ledger/entry';
import type { Id } from '../../core/text/id';
import { theClock, type Actor, type App } from '../ground/context';
import { newId } from '../ground/db/ids';
import { insertion, perApp, rowsBy } from '../ground/db/prepared';
import { Problem } from '../ground/http/problem';
import { turn } from '../ground/http/turns';
import { commissions, entries, entryLines } from '../ground/tables/ledger';
import { orders } from '../ground/tables/orders';
import { theProgramme } from '../registers/programme/record';

export type CommissionRecord = typeof commissions.$inferSelect;

const statements = perApp((app) => ({
  entry: insertion(app, entries),
  entryLine: insertion(app, entryLines),
  grant: insertion(app, commissions),
  reference: rowsBy(app, orders, ['id'], { only: ['reference'] }),
  commission: rowsBy(app, commissions, ['id']),
  standing: rowsBy(app, commissions, ['id'], {
    only: ['held', 'cleared', 'inRun', 'paid', 'declined', 'state', 'stateSince', 'stateBy'],
  }),
  stand: app.sqlite.prepare(
    'UPDATE commissions SET held = @held, cleared = @cleared, in_run = @inRun, paid = @paid, state = @state, state_since = @stateSince, state_by = @stateBy WHERE id = @id',
  ),
}));

interface Posting {
  event: EntryEvent;
  lines: EntryLine[];
  /** what makes the entry happen once only: the same again is refused by the database */
  once: string;
  memo: string;
  order?: Id<'order'> | null;
  run?: Id<'run'> | null;
  payment?: Id<'payment'> | null;
  refund?: Id<'refund'> | null;
}

export function standingOf(row: Pick<CommissionRecord, 'held' | 'cleared' | 'inRun' | 'paid'>): Standing {
  return { held: row.held, cleared: row.cleared, inRun: row.inRun, paid: row.paid };
}

type Granted = Pick<
  CommissionRecord,
  'order' | 'affiliate' | 'kind' | 'granted' | 'timing' | 'soldAt' | 'clearsAt' | 'refundableUntil'
>;

/** Grants a commission or a share of one: its row as its entry leaves it, and the entry. Call inside the transaction of the order. */
export function grantCommission(
  app: App,
  actor: Actor,
  granted: Granted,
  { once, memo }: Pick<Posting, 'once' | 'memo'>,
): void {
  const id = newId('commission');
  const event = granted.timing === 'at-sale' ? 'granted-at-sale' : 'granted';
  const lines = entryFor(event, granted.granted, { affiliate: granted.affiliate, commission: id });
  const standing = standingAfter({ held: 0, cleared: 0, inRun: 0, paid: 0 }, lines);
  statements(app).grant.run({
    id,
    ...granted,
    ...standing,
    state: stateOf(standing, false),
    stateSince: app.clock.now(),
    stateBy: actor.id,
    adjusted: 0,
    givenUp: 0,
    declined: null,
    declinedAmount: 0,
    declinedDay: null,
  });
  writeEntry(app, actor, { event, lines, once, memo, order: granted.order }, app.clock.now());
}

function writeEntry(app: App, actor: Actor, posting: Posting, now: number): void {
  if (!balances(posting.lines)) throw new TypeError(`Entry ${posting.once} does not balance`);
  const id = newId('entry');
  statements(app).entry.run({
    id,
    at: now,
    day: dayOf(now, theProgramme(app).zone),
    event: posting.event,
    memo: posting.memo,
    by: actor.id,
    once: posting.once,
    order: posting.order ?? null,
    run: posting.run ?? null,
    payment: posting.payment ?? null,
    refund: posting.refund ?? null,
  });
  posting.lines.forEach((line, position) => statements(app).entryLine.run({ entry: id, position, ...line }));
}

/**
 * Posts one balanced entry and brings the commissions it touches up to date. Call inside the transaction of what caused it.
 */
export function postEntry(app: App, actor: Actor, posting: Posting): void {
  const now = app.clock.now();
  writeEntry(app, actor, posting, now);
  const touched = new Map<Id<'commission'>, EntryLine[]>();
  for (const line of posting.lines) {
    if (line.commission) touched.set(line.commission, [...(touched.get(line.commission) ?? []), line]);
  }
  for (const [commission, lines] of touched) settleStanding(app, actor, { id: commission, lines, now });
  if (comesBack.has(posting.event))
    for (const commission of touched.keys()) declineWhatCameBack(app, actor, commission, posting);
}

/** What brings money of a payment back into the cleared balance. */
const comesBack: ReadonlySet<EntryEvent> = new Set<EntryEvent>([
  'payment-failed',
  'payment-returned',
  'taken-out-of-run',
]);

/** A commission that was declined stays declined: what comes back of a payment made before is not paid again. */
function declineWhatCameBack(app: App, actor: Actor, id: Id<'commission'>, cause: Posting): void {
  const row = statements(app).commission.get(id)!;
  const open = row.held + Math.max(0, row.cleared);
  if (row.declined !== null && open > 0)
    postDeclined(app, actor, row, { amount: open, once: `declined:${id}:${cause.once}` });
}

function postDeclined(
  app: App,
  actor: Actor,
  row: CommissionRecord,
  { amount, once }: { amount: number; once: string },
): void {
  app.db
    .update(commissions)
    .set({ declinedAmount: row.declinedAmount + amount })
    .where(eq(commissions.id, row.id))
    .run();
  const [entry] = reverse(amount, standingOf(row), { affiliate: row.affiliate, commission: row.id });
  postEntry(app, actor, {
    event: 'declined',
    lines: entry!.lines,
    once,
    memo: `Declined: ${row.declined}`,
    order: row.order,
  });
}

function settleStanding(
  app: App,
  actor: Actor,
  { id, lines, now }: { id: Id<'commission'>; lines: EntryLine[]; now: number },
): void {
  const row = statements(app).standing.get(id);
  if (!row) throw new TypeError(`Commission ${id} does not exist`);
  const next = standingAfter(standingOf(row), lines);
  const state = stateOf(next, row.declined !== null);
  const moved =
    state === row.state
      ? { state, stateSince: row.stateSince, stateBy: row.stateBy }
      : { state, stateSince: now, stateBy: actor.id };
  statements(app).stand.run({ id, ...next, ...moved });
}

/** Takes an amount back from a commission: held first, then cleared, which may fall below zero. */
export function reverseCommission(
  app: App,
  actor: Actor,
  row: CommissionRecord,
  {
    amount,
    once,
    memo,
    more = {},
  }: { amount: number; once: string; memo: string; more?: { refund?: Id<'refund'> } | undefined },
): void {
  for (const { event, lines } of reverse(amount, standingOf(row), {
    affiliate: row.affiliate,
    commission: row.id,
  })) {
    postEntry(app, actor, { event, lines, once: `${once}:${event}`, memo, order: row.order, ...more });
  }
}

function referenceOf(app: App, order: Id<'order'>): string {
  return statements(app).reference.get(order)?.reference ?? order;
}

function clearOne(app: App, actor: Actor, row: CommissionRecord): void {
  postEntry(app, actor, {
    event: 'cleared',
    lines: entryFor('cleared', row.held, { affiliate: row.affiliate, commission: row.id }),
    once: `cleared:${row.id}`,
    memo: `Order ${referenceOf(app, row.order)}`,
    order: row.order,
  });
}

function clearSome(app: App, most: number): number {
  if (theProgramme(app).clearing !== 'automatic') return 0;
  const rows = app.db
    .select()
    .from(commissions)
    .where(and(gt(commissions.held, 0), lte(commissions.clearsAt, app.clock.now())))
    .orderBy(asc(commissions.clearsAt))
    .limit(most)
    .all();
  if (rows.length) app.repeatable(() => rows.forEach((row) => clearOne(app, theClock, row)));
  return rows.length;
}

/** Clears held commissions whose clearing date has come, if the programme lets them clear by themselves. @returns how many */
export function clearDue(app: App): number {
  let count = 0;
  for (let some = clearSome(app, 500); some > 0; some = clearSome(app, 500)) count += some;
  return count;
}

/** So many are cleared before redirects and reports have their turn. */
const inATurn = 20;

/** The same beside whatever else is served. */
export async function clearDueInTurns(app: App): Promise<void> {
  while (clearSome(app, inATurn) === inATurn) await turn();
}

/** Clears by a person: only what is held and due; the rest is passed over with the reason. */
export function clearByPerson(
  app: App,
  actor: Actor,
  ids: Id<'commission'>[],
): { cleared: number; passed: { id: Id<'commission'>; why: string }[] } {
  const rows = app.db.select().from(commissions).where(inArray(commissions.id, ids)).all();
  const found = new Map(rows.map((r) => [r.id, r]));
  const passed: { id: Id<'commission'>; why: string }[] = [];
  let cleared = 0;
  for (const id of new Set(ids)) {
    const row = found.get(id);
    if (!row) passed.push({ id, why: 'does not exist' });
    else if (row.held <= 0) passed.push({ id, why: `is ${row.state}` });
    else if (row.clearsAt > app.clock.now()) passed.push({ id, why: 'its clearing date has not come' });
    else {
      clearOne(app, actor, row);
      cleared += 1;
    }
  }
  return { cleared, passed };
}

/** A share goes with its sale: what is open of it at once, what is on its way or paid if it ever comes back. */
function declineShare(app: App, actor: Actor, share: CommissionRecord, reason: string): void {
  if (share.declined !== null) return;
  if (share.inRun === 0 && share.held + Math.max(0, share.cleared) > 0)
    declineCommission(app, actor, share.id, reason);
  else
    app.db
      .update(commissions)
      .set({ declined: reason, declinedDay: dayOf(app.clock.now(), theProgramme(app).zone) })
      .where(eq(commissions.id, share.id))
      .run();
}

/** Declines what is held or cleared of a commission. @throws Problem if it is in a run, paid or has nothing left */
export function declineCommission(
  app: App,
  actor: Actor,
  id: Id<'commission'>,
  reason: string,
): { state: string } {
  const row = app.db.select().from(commissions).where(eq(commissions.id, id)).get();
  if (!row) throw new Problem('not-found', 'This commission does not exist');
  if (row.inRun !== 0)
    throw new Problem('conflict', 'This commission is in a payout run; take the run back to draft first');
  const open = row.held + Math.max(0, row.cleared);
  if (open <= 0) throw new Problem('conflict', `Nothing is left to decline: the commission is ${row.state}`);
  const declined = row.declined ?? reason;
  app.db
    .update(commissions)
    .set({ declined, declinedDay: row.declinedDay ?? dayOf(app.clock.now(), theProgramme(app).zone) })
    .where(eq(commissions.id, id))
    .run();
  postDeclined(
    app,
    actor,
    { ...row, declined },
    { amount: open, once: row.declined === null ? `declined:${id}` : `declined:${id}:${newId('entry')}` },
  );
  // a sale that earns its affiliate nothing earns nothing for the one who brought that affiliate in; a co-owner's part of it stays
  if (row.kind === 'commission') {
    const shares = app.db
      .select()
      .from(commissions)
      .where(and(eq(commissions.order, row.order), eq(commissions.kind, 'referral')))
      .all();
    for (const s of shares) declineShare(app, actor, s, reason);
  }
  return {
    state: app.db.select({ state: commissions.state }).from(commissions).where(eq(commissions.id, id)).get()!
      .state,
  };
}

/** Writes how much of a commission's corrections is still its own after a refund, minor units of base. */
export function noteAdjusted(app: App, commission: Id<'commission'>, adjusted: number): void {
  app.db.update(commissions).set({ adjusted }).where(eq(commissions.id, commission)).run();
}

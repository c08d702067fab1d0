import { eq, sql } from 'drizzle-orm';
import { entryFor } from '../../../core/ledger/entry';
import { formatMoney } from '../../../core/money/amount';
import { planRun, sumOf, type PayeeBalance, type PayoutItem } from '../../../core/payouts/plan';
import type { Id } from '../../../core/text/id';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { insertion, perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { paymentItems, payments, runs } from '../../ground/tables/runs';
import { postEntry } from '../../ledger/journal';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { payWaitsFor } from '../../setup/policy/acceptance';
import { never, type Enough } from './enough';
import { outlineOf, payability } from './outline';
import { needsSecond, runById, stepTo, type RunRecord } from './runs';

/** What was looked at when a run is approved, and how far the approval goes by itself. */
export interface Approval {
  version: number;
  /** minor units of base, as it was shown */
  total: number;
  /** who would be paid; read here where left out */
  awaited?: readonly Awaited[];
  enough?: Enough;
}

/** A payee of a draft who is to be taken in, with the sum that was looked at, minor units of base. */
export interface Awaited {
  affiliate: Id<'affiliate'>;
  amount: number;
}

interface Person {
  affiliate: Id<'affiliate'>;
  name: string;
  state: PayeeBalance['state'];
  promotes: number;
  payeeHolder: string;
  payeeIban: string;
  payeeAddress: string;
}

// a run of a large programme is thousands of payments of tens of thousands of commissions
const statements = perApp((app) => ({
  open: app.sqlite.prepare<[string, number], PayoutItem>(
    'SELECT id AS commission, cleared AS amount FROM commissions WHERE affiliate = ? AND cleared <> 0 AND (clears_at < ? OR cleared < 0) ORDER BY sold_at',
  ),
  person: app.sqlite.prepare<[string], Person>(
    'SELECT id AS affiliate, name, state, promotes, payee_holder AS payeeHolder, payee_iban AS payeeIban, payee_address AS payeeAddress FROM affiliates WHERE id = ?',
  ),
  payment: insertion(app, payments),
  item: insertion(app, paymentItems),
  itemsOf: rowsBy(app, paymentItems, ['payment']),
  some: app.sqlite.prepare<[string, number], { id: Id<'payment'>; affiliate: Id<'affiliate'> }>(
    'SELECT id, affiliate FROM payments WHERE run = ? ORDER BY affiliate LIMIT ?',
  ),
  dropItems: app.sqlite.prepare<[string]>('DELETE FROM payment_items WHERE payment = ?'),
  dropPayment: app.sqlite.prepare<[string]>('DELETE FROM payments WHERE id = ?'),
}));

/** Who is to be taken into a run: the payees of its plan that are not in it yet. */
export function awaitedOf(app: App, id: Id<'run'>): Awaited[] {
  const run = runById(app, id);
  const inside = new Set(
    app.db
      .select({ id: payments.affiliate })
      .from(payments)
      .where(eq(payments.run, id))
      .all()
      .map((p) => p.id),
  );
  return outlineOf(app, run, run.minimum)
    .payments.filter((p) => !inside.has(p.affiliate))
    .map(({ affiliate, amount }) => ({ affiliate, amount }));
}

/** What one payee would be paid as things stand, or null where it would not be. */
function paymentOf(app: App, run: RunRecord, who: Person, waits: (affiliate: string) => boolean) {
  const { affiliate, name, state } = who;
  const items = statements(app).open.all(affiliate, run.cutoff);
  return (
    planRun([{ affiliate, name, state, items, ...payability(who, waits) }], run.minimum).payments[0] ?? null
  );
}

/** Whoever began the step that a run is on its way through: a piece that is done after a restart is still that person's act. */
function stepperOf(run: RunRecord): Actor {
  return run.stepBy === null || run.stepBy === theClock.id
    ? theClock
    : { kind: 'staff', id: run.stepBy as Id<'staff'> };
}

/** Takes one payee into a run, whole. @returns how many commissions that were @throws Problem `stale` where it is no longer paid what was looked at */
function takeIn(
  app: App,
  run: RunRecord,
  { affiliate, amount }: Awaited,
  { place, waits }: { place: number; waits: (affiliate: string) => boolean },
): number {
  const who = statements(app).person.get(affiliate)!;
  const paid = paymentOf(app, run, who, waits);
  const say = (sum: number) => formatMoney({ amount: sum, currency: theProgramme(app).base });
  if (paid?.amount !== amount) {
    throw new Problem(
      'stale',
      `${who.name} would be paid ${paid ? say(paid.amount) : 'nothing'} now, no longer ${say(amount)}: look the payees over again`,
    );
  }
  const payment = newId('payment');
  statements(app).payment.run({
    id: payment,
    run: run.id,
    affiliate,
    amount,
    holder: who.payeeHolder,
    iban: who.payeeIban,
    endToEnd: `GVN-${run.number}-${place}-${payment.slice(-7)}`,
    state: 'in-run',
    reason: null,
    stateSince: app.clock.now(),
  });
  for (const item of paid.items) statements(app).item.run({ payment, ...item });
  postEntry(app, stepperOf(run), {
    event: 'taken-into-run',
    lines: paid.items.flatMap((item) =>
      entryFor('taken-into-run', item.amount, { affiliate, commission: item.commission }),
    ),
    once: `taken:${payment}`,
    memo: `Payout run ${run.number}`,
    run: run.id,
    payment,
  });
  return paid.items.length;
}

/**
 * Takes the next payees of a run that is being approved in; with the last of them it is approved. Call inside a transaction.
 * A payee is never taken in by halves.
 * @returns who is still awaited @throws Problem `stale` where what was looked at has changed
 */
export function takeSome(
  app: App,
  run: RunRecord,
  awaited: readonly Awaited[],
  enough: Enough = never,
): readonly Awaited[] {
  const first = run.payees - awaited.length + 1;
  const waits = payWaitsFor(app);
  let next = 0;
  for (let taken = 0; next < awaited.length && !enough(taken); next += 1)
    taken += takeIn(app, run, awaited[next]!, { place: first + next, waits });
  if (next === awaited.length)
    app.db.update(runs).set({ state: 'approved', stepBy: null }).where(eq(runs.id, run.id)).run();
  return awaited.slice(next);
}

/** Whether those in a run and those awaited are those that were looked at, after a time in which nobody looked. */
export function isComplete(app: App, run: RunRecord, awaited: readonly Awaited[]): boolean {
  const inside = app.db
    .select({ count: sql<number>`count(*)`, sum: sql<number>`coalesce(sum(${payments.amount}), 0)` })
    .from(payments)
    .where(eq(payments.run, run.id))
    .get()!;
  return inside.count + awaited.length === run.payees && inside.sum + sumOf(awaited) === run.total;
}

/**
 * Approves a draft: the amounts are fixed and taken out of the cleared balances. Where there is `enough` before all
 * payees are in, the others are taken in piece by piece afterwards; until then the run is being approved, and if what was looked at changes meanwhile, all of
 * it is taken back.
 * @param total what the person saw, minor units: if a refund or a clearing has changed it since, nothing is approved
 * @param awaited its payees as they were read just now; read here where left out
 */
export function approveRun(
  app: App,
  actor: Actor,
  id: Id<'run'>,
  { version, total, awaited = awaitedOf(app, id), enough = never }: Approval,
): void {
  const run = stepTo(app, id, version, 'approving');
  if (!awaited.length)
    throw new Problem('conflict', 'Nobody can be paid in this run: see why each payee is left out');
  const { base } = theProgramme(app);
  const found = sumOf(awaited);
  if (found !== total) {
    throw new Problem(
      'stale',
      `The total is ${formatMoney({ amount: found, currency: base })} now, no longer ${formatMoney({ amount: total, currency: base })}: look the payees over again`,
    );
  }
  const second = needsSecond(app, run, total, actor.id);
  if (second) throw new Problem('forbidden', second);
  const approved = {
    state: 'approving' as const,
    approvedAt: app.clock.now(),
    approvedBy: actor.id,
    stepBy: actor.id,
    notApproved: null,
    total,
    payees: awaited.length,
    version: run.version + 1,
  };
  app.db.update(runs).set(approved).where(eq(runs.id, id)).run();
  record(app, actor, 'run-approved', {
    subject: id,
    before: { state: 'draft' },
    after: { state: 'approved', total, payees: awaited.length },
  });
  takeSome(app, { ...run, ...approved }, awaited, enough);
}

/** Takes an approval back before it is through, since what was looked at has changed. The person is told by the run. */
export function setBack(app: App, run: RunRecord, why: string): void {
  app.db
    .update(runs)
    .set({ state: 'reopening', stepBy: theClock.id, notApproved: why, version: run.version + 1 })
    .where(eq(runs.id, run.id))
    .run();
  record(app, theClock, 'run-not-approved', {
    subject: run.id,
    before: { state: 'approving' },
    after: { state: 'draft', why },
  });
}

function giveBack(
  app: App,
  actor: Actor,
  run: RunRecord,
  payment: { id: Id<'payment'>; affiliate: Id<'affiliate'> },
): number {
  const items = statements(app).itemsOf.all(payment.id);
  postEntry(app, actor, {
    event: 'taken-out-of-run',
    lines: items.flatMap((item) =>
      entryFor('taken-out-of-run', item.amount, {
        affiliate: payment.affiliate,
        commission: item.commission,
      }),
    ),
    once: `out:${payment.id}`,
    memo: `Payout run ${run.number} taken back to draft`,
    run: run.id,
    payment: payment.id,
  });
  statements(app).dropItems.run(payment.id);
  statements(app).dropPayment.run(payment.id);
  return items.length;
}

/** So many payments are looked at for a piece of work. */
const atOnce = 500;

/** Gives back what the next payments of a run took; with the last of them it is a draft again. Call inside a transaction. */
export function giveBackSome(app: App, run: RunRecord, enough: Enough = never): void {
  let given = 0;
  for (
    let some = statements(app).some.all(run.id, atOnce);
    !enough(given);
    some = statements(app).some.all(run.id, atOnce)
  ) {
    if (!some.length) {
      app.db
        .update(runs)
        .set({ state: 'draft', stepBy: null, approvedAt: null, approvedBy: null, total: 0, payees: 0 })
        .where(eq(runs.id, run.id))
        .run();
      return;
    }
    for (let i = 0; i < some.length && !enough(given); i += 1)
      given += giveBack(app, stepperOf(run), run, some[i]!);
  }
}

/** Takes an approved run back to draft, or one that is being approved: the amounts return to the cleared balances, where there is `enough` piece by piece afterwards. */
export function reopenRun(
  app: App,
  actor: Actor,
  id: Id<'run'>,
  { version, enough = never }: { version: number; enough?: Enough | undefined },
): void {
  const run = stepTo(app, id, version, 'reopening');
  const reopened = { state: 'reopening' as const, stepBy: actor.id, version: run.version + 1 };
  app.db.update(runs).set(reopened).where(eq(runs.id, id)).run();
  record(app, actor, 'run-reopened', {
    subject: id,
    before: { state: run.state },
    after: { state: 'draft' },
  });
  giveBackSome(app, { ...run, ...reopened }, enough);
}

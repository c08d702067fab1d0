import { and, desc, eq, inArray, lt, ne, sql } from 'drizzle-orm';
import { addDays, dayOf, isDay, startOfDay } from '../../core/calendar/zone';
import { entryFor } from '../../core/ledger/entry';
import { formatMoney, parseAmount } from '../../core/money/amount';
import type { PayeeBalance, RunPlan } from '../../core/payouts/plan';
import { mayGo, planRun } from '../../core/payouts/plan';
import { detailsComplete } from '../affiliates/service';
import type { Actor, App } from '../context';
import { bankOf, theProgramme } from '../context';
import { newId } from '../db/ids';
import { insertion, perApp, rowsBy } from '../db/prepared';
import { affiliates, paymentItems, payments, runs } from '../db/schema';
import { Problem, refuse } from '../http/problem';
import { postEntry } from '../ledger/journal';
import { queue } from '../messages/service';
import { payWaitsFor } from '../policy/service';
import { record } from '../staff/audit';
import type { TransferFile } from './pain001';
import { faultOfPain001, writePain001 } from './pain001';

export type RunRecord = typeof runs.$inferSelect;

export function runById(app: App, id: string): RunRecord {
  const row = app.db.select().from(runs).where(eq(runs.id, id)).get();
  if (!row) throw new Problem('not-found', 'This payout run does not exist');
  return row;
}

/** The run at the version that the person saw, if it may go to the given state. @throws Problem `stale` or `conflict` */
function step(app: App, id: string, version: number, to: RunRecord['state'] | null): RunRecord {
  const row = runById(app, id);
  if (to && !mayGo(row.state, to)) throw new Problem('conflict', `Run ${row.number} is ${row.state}; it cannot become ${to}`);
  if (row.version !== version) throw new Problem('stale', `Run ${row.number} was changed meanwhile; look again and repeat`);
  return row;
}

interface Person { id: string; name: string; state: PayeeBalance['state']; promotes: number; payeeHolder: string; payeeIban: string; payeeAddress: string }

// a run of a large programme is thousands of payments of tens of thousands of commissions
const statements = perApp((app) => ({
  cleared: app.sqlite.prepare<[number], [commission: string, affiliate: string, amount: number]>('SELECT id, affiliate, cleared FROM commissions WHERE cleared <> 0 AND (clears_at < ? OR cleared < 0) ORDER BY sold_at').raw(),
  people: app.sqlite.prepare<[], Person>('SELECT id, name, state, promotes, payee_holder AS payeeHolder, payee_iban AS payeeIban, payee_address AS payeeAddress FROM affiliates WHERE joined_at IS NOT NULL OR id IN (SELECT affiliate FROM payee_totals) ORDER BY name, id'),
  payment: insertion(app, payments), item: insertion(app, paymentItems), itemsOf: rowsBy(app, paymentItems, ['payment']),
  dropItems: app.sqlite.prepare<[string]>('DELETE FROM payment_items WHERE payment = ?'), dropPayment: app.sqlite.prepare<[string]>('DELETE FROM payments WHERE id = ?'),
}));

/** Cleared items up to the cut-off, and every negative one, by payee. */
function balancesFor(app: App, cutoff: number, excluded: readonly string[]): PayeeBalance[] {
  const waits = payWaitsFor(app);
  const out = new Set(excluded);
  const items = new Map<string, { commission: string; amount: number }[]>();
  for (const [commission, affiliate, amount] of statements(app).cleared.all(cutoff)) {
    const own = items.get(affiliate);
    if (own) own.push({ commission, amount });
    else items.set(affiliate, [{ commission, amount }]);
  }
  return statements(app).people.all().filter((who) => items.has(who.id) && !out.has(who.id)).map((who) => ({
    affiliate: who.id, name: who.name, state: who.state, payable: detailsComplete(who), items: items.get(who.id)!,
    unaccepted: who.promotes === 1 && (who.state === 'active' || who.state === 'paused') && waits(who.id),
  }));
}

/** What a draft would pay as things stand. */
export function planOf(app: App, run: Pick<RunRecord, 'cutoff' | 'minimum' | 'excluded'>): RunPlan {
  return planRun(balancesFor(app, run.cutoff, run.excluded), run.minimum);
}

export function createRun(app: App, actor: Actor, input: { cutoff: string; minimum: string }): string {
  const { base, zone, minimumPayout } = theProgramme(app);
  const today = dayOf(app.clock.now(), zone);
  if (!isDay(input.cutoff)) throw refuse('cutoff', 'Cut-off day is not a day of the calendar', today);
  if (input.cutoff > today) throw refuse('cutoff', `Cut-off day ${input.cutoff} is in the future`, today);
  const parsed = input.minimum.trim() === '' ? { ok: true as const, value: minimumPayout } : parseAmount(input.minimum, base);
  if (!parsed.ok) throw refuse('minimum', `Minimum: ${parsed.reason}`, parsed.example);
  const open = app.db.select().from(runs).where(inArray(runs.state, ['draft', 'approved'])).get();
  if (open) throw new Problem('conflict', `Run ${open.number} is still ${open.state}; send or discard it first`);
  const number = (app.db.select({ n: sql<number>`coalesce(max(${runs.number}), 0)` }).from(runs).get()?.n ?? 0) + 1;
  const id = newId('run');
  // what clears after the draft was made waits for the next run, so that the total stands still while it is looked over
  const cutoff = Math.min(startOfDay(addDays(input.cutoff, 1), zone), app.clock.now() + 1);
  app.db.insert(runs).values({ id, number, state: 'draft', cutoff, minimum: parsed.value, createdAt: app.clock.now(), createdBy: actor.id, approvalAbove: theProgramme(app).approvalAbove }).run();
  record(app, actor, 'run-drafted', id, null, { number, cutoff: input.cutoff, minimum: parsed.value });
  return id;
}

export function excludePayee(app: App, actor: Actor, id: string, affiliate: string, exclude: boolean, version: number): void {
  const run = step(app, id, version, null);
  if (run.state !== 'draft') throw new Problem('conflict', `Run ${run.number} is ${run.state}; payees can be left out of a draft only`);
  const excluded = exclude ? [...new Set([...run.excluded, affiliate])] : run.excluded.filter((a) => a !== affiliate);
  app.db.update(runs).set({ excluded, version: run.version + 1 }).where(eq(runs.id, id)).run();
  record(app, actor, exclude ? 'payee-left-out' : 'payee-taken-in', id, null, { affiliate });
}

/** The lower of two sums above which a second person approves; null = never. */
function stricter(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.min(a, b);
}

/** The sum above which a second person approves was changed: runs that are under way keep the strictest. */
export function approvalChanged(app: App, to: number | null): void {
  for (const run of app.db.select().from(runs).where(inArray(runs.state, ['draft', 'approved'])).all()) {
    app.db.update(runs).set({ approvalAbove: stricter(run.approvalAbove, to) }).where(eq(runs.id, run.id)).run();
  }
}

/** Why this person cannot approve the run, or null. */
export function needsSecond(app: App, run: RunRecord, total: number, actor: string): string | null {
  const { approvalAbove, base } = theProgramme(app);
  // whatever the setting is now: a run is judged by the strictest that held since it was drafted
  const strictest = stricter(run.approvalAbove, approvalAbove);
  if (strictest === null || total <= strictest || run.createdBy !== actor) return null;
  return `Above ${formatMoney({ amount: strictest, currency: base })} a second person approves: you drafted this run yourself`;
}

/**
 * Approves a draft: the amounts are fixed and taken out of the cleared balances.
 * @param total what the person saw, minor units: if a refund or a clearing has changed it since, nothing is approved
 */
export function approveRun(app: App, actor: Actor, id: string, version: number, total: number): void {
  const run = step(app, id, version, 'approved');
  const plan = planOf(app, run);
  if (!plan.payments.length) throw new Problem('conflict', 'Nobody can be paid in this run: see why each payee is left out');
  const { base } = theProgramme(app);
  if (plan.total !== total) {
    throw new Problem('stale', `The total is ${formatMoney({ amount: plan.total, currency: base })} now, no longer ${formatMoney({ amount: total, currency: base })}: look the payees over again`);
  }
  const second = needsSecond(app, run, plan.total, actor.id);
  if (second) throw new Problem('forbidden', second);
  const details = new Map(app.db.select().from(affiliates).where(inArray(affiliates.id, plan.payments.map((p) => p.affiliate))).all().map((a) => [a.id, a]));
  plan.payments.forEach((p, i) => {
    const who = details.get(p.affiliate)!;
    const payment = newId('payment');
    statements(app).payment.run({
      id: payment, run: id, affiliate: p.affiliate, amount: p.amount, holder: who.payeeHolder, iban: who.payeeIban,
      endToEnd: `GVN-${run.number}-${i + 1}-${payment.slice(-7)}`, state: 'in-run', reason: null, stateSince: app.clock.now(),
    });
    for (const item of p.items) statements(app).item.run({ payment, ...item });
    postEntry(app, actor, {
      event: 'taken-into-run', lines: p.items.flatMap((item) => entryFor('taken-into-run', item.amount, { affiliate: p.affiliate, commission: item.commission })),
      once: `taken:${payment}`, memo: `Payout run ${run.number}`, run: id, payment,
    });
  });
  app.db.update(runs).set({ state: 'approved', approvedAt: app.clock.now(), approvedBy: actor.id, total: plan.total, payees: plan.payments.length, version: run.version + 1 }).where(eq(runs.id, id)).run();
  record(app, actor, 'run-approved', id, { state: 'draft' }, { state: 'approved', total: plan.total, payees: plan.payments.length });
}

/** Takes an approved run back to draft: the amounts return to the cleared balances. */
export function reopenRun(app: App, actor: Actor, id: string, version: number): void {
  const run = step(app, id, version, 'draft');
  for (const p of app.db.select().from(payments).where(eq(payments.run, id)).all()) {
    const items = statements(app).itemsOf.all(p.id);
    postEntry(app, actor, {
      event: 'taken-out-of-run', lines: items.flatMap((item) => entryFor('taken-out-of-run', item.amount, { affiliate: p.affiliate, commission: item.commission })),
      once: `out:${p.id}`, memo: `Payout run ${run.number} taken back to draft`, run: id, payment: p.id,
    });
    statements(app).dropItems.run(p.id);
    statements(app).dropPayment.run(p.id);
  }
  app.db.update(runs).set({ state: 'draft', approvedAt: null, approvedBy: null, total: 0, payees: 0, version: run.version + 1 }).where(eq(runs.id, id)).run();
  record(app, actor, 'run-reopened', id, { state: 'approved' }, { state: 'draft' });
}

export function discardRun(app: App, actor: Actor, id: string, version: number): void {
  const run = step(app, id, version, 'discarded');
  app.db.update(runs).set({ state: 'discarded', version: run.version + 1 }).where(eq(runs.id, id)).run();
  record(app, actor, 'run-discarded', id, { state: run.state }, { state: 'discarded' });
}

function messageId(app: App, run: RunRecord): string {
  return `GVN-${run.number}-${dayOf(run.createdAt, theProgramme(app).zone).replaceAll('-', '')}-${run.id.slice(-7)}`;
}

/** The sent run whose file has this message id, or null. */
export function runOfMessage(app: App, id: string): RunRecord | null {
  const number = Number(/^GVN-(\d{1,9})-/.exec(id)?.[1] ?? 0);
  const run = app.db.select().from(runs).where(eq(runs.number, number)).get();
  return run && run.file !== null && messageId(app, run) === id ? run : null;
}

/** The name of a run's file without its ending. */
export function fileName(app: App, run: RunRecord): string {
  return messageId(app, run).toLowerCase();
}

/** What the file of a run says: who is paid what, to which account. @param at when it is written */
export function transfersOf(app: App, run: RunRecord, rows: readonly (typeof payments.$inferSelect)[], at: number): TransferFile {
  const { base, zone, name, debtorName, debtorIban } = theProgramme(app);
  return {
    messageId: messageId(app, run), createdAt: at, executeOn: dayOf(at, zone), debtor: { name: debtorName, iban: debtorIban }, currency: base,
    payments: rows.map((p) => ({ endToEnd: p.endToEnd, amount: p.amount, holder: p.holder, iban: p.iban, text: `${name} commissions, run ${run.number}` })),
  };
}

/** Sends an approved run: the file is written and kept, the payees are told. In one transaction, so it happens once or not at all. */
export function sendRun(app: App, actor: Actor, id: string, version: number): void {
  const run = step(app, id, version, 'sent');
  const { base, zone, name, debtorName, debtorIban, promiseDays } = theProgramme(app);
  if (!debtorName || !debtorIban) throw new Problem('conflict', 'The account that payouts are made from is missing: enter its holder and IBAN under Settings');
  const rows = app.db.select({ p: payments, email: affiliates.email, called: affiliates.name }).from(payments).innerJoin(affiliates, eq(affiliates.id, payments.affiliate)).where(eq(payments.run, id)).orderBy(payments.id).all();
  const now = app.clock.now();
  const promisedDay = addDays(dayOf(now, zone), promiseDays);
  const transfers = transfersOf(app, run, rows.map(({ p }) => p), now);
  const file = writePain001(transfers);
  const fault = faultOfPain001(file, transfers);
  if (fault) throw new Problem('conflict', `The payment file is not valid, so the run is not sent: ${fault}. Take the run back to draft and leave that payee out, or have its details corrected.`);
  app.db.update(payments).set({ state: 'sent', stateSince: now }).where(eq(payments.run, id)).run();
  app.db.update(runs).set({ state: 'sent', sentAt: now, sentBy: actor.id, promisedAt: startOfDay(addDays(promisedDay, 1), zone) - 1, file, version: run.version + 1 }).where(eq(runs.id, id)).run();
  record(app, actor, 'run-sent', id, { state: 'approved' }, { state: 'sent', total: run.total, payees: run.payees });
  for (const { p, email, called } of rows) {
    queue(app, {
      to: email, affiliate: p.affiliate, kind: 'payment-sent', subject: `${formatMoney({ amount: p.amount, currency: base })} is on its way`,
      body: `Hello ${called},\n\n${formatMoney({ amount: p.amount, currency: base })} of commissions are on their way to your account ending in ${p.iban.slice(-4)}, promised by ${promisedDay}.\n\nThe statement is in the portal: ${app.address}/portal/payouts\n\n${name}`,
    });
  }
}

/** Hands the file to the bank connection. The bank knows a repeated file by its message id. */
export async function deliverRun(app: App, id: string): Promise<void> {
  const run = runById(app, id);
  if (!run.file) throw new Problem('conflict', `Run ${run.number} has not been sent yet`);
  const bank = bankOf(app);
  if (!bank) throw new Problem('conflict', 'No bank is connected; download the file instead');
  try {
    await bank.deliver(`${fileName(app, run)}.xml`, run.file);
  } catch (cause) {
    throw new Problem('unavailable', 'The bank does not answer. The file is kept; hand it over again later, it is taken once only.', { cause });
  }
  app.db.update(runs).set({ deliveredAt: app.clock.now() }).where(eq(runs.id, id)).run();
}

/** Runs for a list, newest first; discarded ones only where asked for. */
export function runsBefore(app: App, filter: { state?: RunRecord['state']; number?: number; limit: number }): RunRecord[] {
  return app.db.select().from(runs).where(and(
    filter.state ? eq(runs.state, filter.state) : ne(runs.state, 'discarded'), filter.number === undefined ? undefined : lt(runs.number, filter.number),
  )).orderBy(desc(runs.number)).limit(filter.limit).all();
}

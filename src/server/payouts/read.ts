import { and, eq, inArray, sql } from 'drizzle-orm';
import { formatDay } from '../../core/calendar/format';
import { dayOf } from '../../core/calendar/zone';
import { whyLeftOut } from '../../core/payouts/plan';
import { formatMoney, toDecimal } from '../../core/money/amount';
import type { RunOut } from '../../contract/payouts';
import { affiliateById, maskedIban } from '../affiliates/service';
import type { App } from '../context';
import { bankOf, theProgramme } from '../context';
import { readCursor } from '../db/page';
import { affiliates, commissions, orders, paymentItems, payments, runs } from '../db/schema';
import { toCsv } from '../http/csv';
import { Problem } from '../http/problem';
import { namesOf } from '../staff/names';
import { shareNames } from '../tracking/shares';
import { outlineOf } from './outline';
import type { RunRecord } from './runs';
import { fileName, needsSecond, planOf, runById, runsBefore } from './runs';

function rowOf(app: App, run: RunRecord, name: (id: string | null) => string, live: { total: number; payees: number } | null) {
  const { base } = theProgramme(app);
  const states = new Map(app.db.select({ state: payments.state, n: sql<number>`count(*)` }).from(payments).where(eq(payments.run, run.id)).groupBy(payments.state).all().map((r) => [r.state, r.n]));
  const overdue = run.state === 'sent' && run.promisedAt !== null && run.promisedAt < app.clock.now();
  return {
    id: run.id, number: run.number, state: run.state, cutoff: run.cutoff, createdAt: run.createdAt, createdBy: name(run.createdBy), payees: live?.payees ?? run.payees,
    total: { amount: live?.total ?? run.total, currency: base }, settled: states.get('settled') ?? 0, failed: (states.get('failed') ?? 0) + (states.get('returned') ?? 0),
    sentAt: run.sentAt, promisedAt: run.promisedAt, overdue,
  };
}

export function listRuns(app: App, filter: { state?: RunRecord['state']; after?: string; limit?: number }) {
  const limit = filter.limit ?? 50;
  const before = filter.after === undefined ? undefined : Number(readCursor(filter.after)[0]);
  const found = runsBefore(app, { ...(filter.state ? { state: filter.state } : {}), ...(before === undefined ? {} : { number: before }), limit: limit + 1 });
  const rows = found.slice(0, limit);
  const name = namesOf(app, rows.map((r) => r.createdBy));
  const next = found.length > limit ? Buffer.from(JSON.stringify([rows[limit - 1]!.number, rows[limit - 1]!.id])).toString('base64url') : null;
  return {
    next, rows: rows.map((r) => {
      const plan = r.state === 'draft' ? outlineOf(app, r, r.minimum) : null;
      return rowOf(app, r, name, plan ? { total: plan.total, payees: plan.payments.length } : null);
    }),
  };
}

/** @param bank whether a bank is connected, which only the serving process knows */
export function readRun(app: App, id: string, actor: string, bank = bankOf(app) !== null): RunOut {
  const run = runById(app, id);
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const draft = run.state === 'draft' ? planOf(app, run) : null;
  const name = namesOf(app, [run.createdBy, run.approvedBy, run.sentBy, ...run.excluded]);
  const stored = draft ? [] : app.db.select({ p: payments, name: affiliates.name, items: sql<number>`(SELECT count(*) FROM ${paymentItems} WHERE ${paymentItems.payment} = ${payments.id})` })
    .from(payments).innerJoin(affiliates, eq(affiliates.id, payments.affiliate)).where(eq(payments.run, id)).orderBy(affiliates.name, payments.id).all();
  const details = draft?.payments.length ? new Map(app.db.select().from(affiliates).where(inArray(affiliates.id, draft.payments.map((p) => p.affiliate))).all().map((a) => [a.id, a])) : new Map<string, typeof affiliates.$inferSelect>();
  const total = draft?.total ?? run.total;
  return {
    ...rowOf(app, run, name, draft ? { total, payees: draft.payments.length } : null), minimum: money(run.minimum),
    approvedBy: run.approvedBy === null ? null : name(run.approvedBy), sentBy: run.sentBy === null ? null : name(run.sentBy), deliveredAt: run.deliveredAt, version: run.version,
    payments: draft
      ? draft.payments.map((p) => ({ id: null, affiliate: p.affiliate, name: p.name, amount: money(p.amount), items: p.items.length, holder: details.get(p.affiliate)?.payeeHolder ?? '', iban: maskedIban(details.get(p.affiliate)?.payeeIban ?? ''), state: 'proposed', reason: null }))
      : stored.map(({ p, name: called, items }) => ({ id: p.id, affiliate: p.affiliate, name: called, amount: money(p.amount), items, holder: p.holder, iban: maskedIban(p.iban), state: p.state, reason: p.reason })),
    leftOut: draft ? [
      ...draft.leftOut.map((l) => ({ affiliate: l.affiliate, name: l.name, amount: money(l.amount), why: whyLeftOut(l, run.minimum, (amount) => formatMoney(money(amount))), byHand: false })),
      ...run.excluded.map((a) => ({ affiliate: a, name: name(a), amount: money(clearedOf(app, a, run.cutoff)), why: 'left out by a person', byHand: true })),
    ] : [],
    needsSecond: needsSecond(app, run, total, actor), bank,
  };
}

function clearedOf(app: App, affiliate: string, cutoff: number): number {
  return app.db.select({ n: sql<number>`coalesce(sum(${commissions.cleared}), 0)` }).from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), sql`(${commissions.clearsAt} < ${cutoff} OR ${commissions.cleared} < 0)`)).get()!.n;
}

/** The file of a sent run, as it was written. */
export function runFile(app: App, id: string): { name: string; content: string } {
  const run = runById(app, id);
  if (!run.file) throw new Problem('not-found', `Run ${run.number} has no file yet: it is written when the run is sent`);
  return { name: `${fileName(app, run)}.xml`, content: run.file };
}

/** The payments of a sent run as CSV for a bank's batch upload. */
export function runTable(app: App, id: string): { name: string; content: string } {
  const run = runById(app, id);
  if (!run.file) throw new Problem('not-found', `Run ${run.number} has no file yet: it is written when the run is sent`);
  const { base } = theProgramme(app);
  const rows = app.db.select().from(payments).where(eq(payments.run, id)).orderBy(payments.id).all();
  return { name: `${fileName(app, run)}.csv`, content: toCsv(['end_to_end_id', 'holder', 'iban', 'amount', 'currency'], rows.map((p) => [p.endToEnd, p.holder, p.iban, toDecimal(p.amount, base), base])) };
}

/** A payee's statement: a line a commission, then the total, which is the payment. */
export function statementOf(app: App, id: string, owner: string | null): { name: string; content: string } {
  const payment = app.db.select().from(payments).where(eq(payments.id, id)).get();
  if (!payment || (owner !== null && payment.affiliate !== owner)) throw new Problem('not-found', 'This payment does not exist');
  const { base, zone } = theProgramme(app);
  const run = runById(app, payment.run);
  const items = app.db.select({ amount: paymentItems.amount, kind: commissions.kind, soldAt: commissions.soldAt, granted: commissions.granted, reference: orders.reference, value: orders.base }).from(paymentItems)
    .innerJoin(commissions, eq(commissions.id, paymentItems.commission)).innerJoin(orders, eq(orders.id, commissions.order)).where(eq(paymentItems.payment, id)).orderBy(commissions.soldAt).all();
  const lines: (string | number)[][] = items.map((i) => [dayOf(i.soldAt, zone), i.reference, toDecimal(i.value, base), toDecimal(i.granted, base), toDecimal(i.amount, base), base, `${i.kind === 'commission' ? 'commission' : shareNames[i.kind]}${i.amount < 0 ? ', taken back after payment' : ''}`]);
  lines.push(['', 'total', '', '', toDecimal(payment.amount, base), base, `payment ${payment.endToEnd}`]);
  return { name: `statement-${run.number}-${affiliateById(app, payment.affiliate).handle}.csv`, content: toCsv(['sold_on', 'order', 'value', 'granted', 'amount', 'currency', 'what'], lines) };
}

/** Payments of an affiliate, newest first. */
export function paymentsOf(app: App, affiliate: string) {
  const { base } = theProgramme(app);
  return app.db.select({ p: payments, run: runs.number, promisedAt: runs.promisedAt }).from(payments).innerJoin(runs, eq(runs.id, payments.run))
    .where(and(eq(payments.affiliate, affiliate), sql`${payments.state} <> 'in-run'`)).orderBy(sql`${runs.number} DESC`).all()
    .map(({ p, run, promisedAt }) => ({ id: p.id, run, amount: { amount: p.amount, currency: base }, state: p.state, at: p.stateSince, promisedAt, reason: p.reason }));
}

/** What of the payouts waits for a person, for Today. */
export function payoutTasks(app: App) {
  const { base, zone } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const tasks: { count: number; text: string; more: string; amount: { amount: number; currency: string } | null; to: string; act: string; mark: string }[] = [];
  const open = app.db.select().from(runs).where(inArray(runs.state, ['draft', 'approved', 'sent'])).orderBy(runs.number).all();
  for (const run of open) {
    const plan = run.state === 'draft' ? outlineOf(app, run, run.minimum) : null;
    const payees = plan?.payments.length ?? run.payees;
    const act = run.state === 'draft' ? 'approve' : run.state === 'approved' ? 'send' : 'settle';
    const late = run.state === 'sent' && run.promisedAt !== null && run.promisedAt < app.clock.now();
    tasks.push({
      count: 1, text: `Payout run ${run.number}`, more: `${payees} payees, ${run.state}${run.state === 'sent' && run.promisedAt ? `, promised by ${formatDay(run.promisedAt, zone)}` : ''}${late ? ', overdue' : ''}`,
      amount: money(plan?.total ?? run.total), to: `/payouts/${run.id}`, act, mark: late ? 'refused' : 'under-way',
    });
  }
  const since = app.clock.now() - 30 * 86_400_000;
  const failed = app.db.select({ n: sql<number>`count(*)`, sum: sql<number>`coalesce(sum(${payments.amount}), 0)`, run: sql<string>`max(${payments.run})` }).from(payments)
    .where(and(inArray(payments.state, ['failed', 'returned']), sql`${payments.stateSince} >= ${since}`)).get()!;
  if (failed.n) tasks.push({ count: failed.n, text: `${failed.n} ${failed.n === 1 ? 'payment' : 'payments'} came back`, more: 'the money is in the cleared balance again', amount: money(failed.sum), to: `/payouts/${failed.run}`, act: 'look', mark: 'refused' });
  if (!open.some((r) => r.state !== 'sent')) {
    const { minimumPayout: minimum } = theProgramme(app);
    const plan = outlineOf(app, { cutoff: app.clock.now() + 1, minimum, excluded: [] }, minimum);
    const blocked = plan.leftOut.filter((l) => l.reason === 'no-details');
    if (plan.payments.length) tasks.push({ count: plan.payments.length, text: `${plan.payments.length} ${plan.payments.length === 1 ? 'affiliate' : 'affiliates'} can be paid`, more: 'cleared and above the minimum', amount: money(plan.total), to: '/payouts', act: 'draft', mark: 'waiting' });
    if (blocked.length) tasks.push({ count: blocked.length, text: `${blocked.length} without payout details`, more: blocked.slice(0, 3).map((b) => `${b.name} ${formatMoney(money(b.amount))}`).join(', '), amount: money(blocked.reduce((s, b) => s + b.amount, 0)), to: `/affiliates/${blocked[0]!.affiliate}`, act: 'look', mark: 'waiting' });
  }
  return tasks;
}


import { and, eq, inArray } from 'drizzle-orm';
import { entryFor } from '../../core/ledger/entry';
import type { SimpleEvent } from '../../core/ledger/entry';
import { formatMoney } from '../../core/money/amount';
import { describeReason, outcomeOf } from '../../core/payouts/status';
import type { Actor, App } from '../context';
import { bankOf, theProgramme } from '../context';
import { affiliates, paymentItems, payments, runs, statusReports } from '../db/schema';
import { Problem } from '../http/problem';
import { postEntry } from '../ledger/journal';
import { queue } from '../messages/service';
import { hash } from '../seal';
import { record } from '../staff/audit';
import { readStatusLines } from './statusfile';

type PaymentRecord = typeof payments.$inferSelect;

function move(app: App, actor: Actor, payment: PaymentRecord, event: SimpleEvent, state: PaymentRecord['state'], reason: string | null): void {
  const items = app.db.select().from(paymentItems).where(eq(paymentItems.payment, payment.id)).all();
  postEntry(app, actor, {
    event, lines: items.flatMap((item) => entryFor(event, item.amount, { affiliate: payment.affiliate, commission: item.commission })),
    once: `${event}:${payment.id}`, memo: reason ? `Payment ${payment.endToEnd}: ${reason}` : `Payment ${payment.endToEnd}`, run: payment.run, payment: payment.id,
  });
  app.db.update(payments).set({ state, reason, stateSince: app.clock.now() }).where(eq(payments.id, payment.id)).run();
}

function tell(app: App, payment: PaymentRecord, settled: boolean, reason: string): void {
  const who = app.db.select().from(affiliates).where(eq(affiliates.id, payment.affiliate)).get()!;
  const { base, name } = theProgramme(app);
  const amount = formatMoney({ amount: payment.amount, currency: base });
  queue(app, settled
    ? { to: who.email, affiliate: who.id, kind: 'payment-settled', subject: `${amount} has been paid`, body: `Hello ${who.name},\n\nyour bank transfer of ${amount} has been carried out. The statement is in the portal: ${app.address}/portal/payouts\n\n${name}` }
    : { to: who.email, affiliate: who.id, kind: 'payment-failed', subject: `A payment of ${amount} came back`, body: `Hello ${who.name},\n\nour transfer of ${amount} came back: ${reason}. The amount is in your balance again. Please check your payout details: ${app.address}/portal/details\n\n${name}` });
}

/** A sent run all of whose payments are final is settled. */
function closeRun(app: App, actor: Actor, id: string): void {
  const open = app.db.select({ id: payments.id }).from(payments).where(and(eq(payments.run, id), eq(payments.state, 'sent'))).get();
  const run = app.db.select().from(runs).where(eq(runs.id, id)).get()!;
  if (open || run.state !== 'sent') return;
  app.db.update(runs).set({ state: 'settled', settledAt: app.clock.now(), version: run.version + 1 }).where(eq(runs.id, id)).run();
  record(app, actor, 'run-settled', id, { state: 'sent' }, { state: 'settled' });
}

export interface Reading {
  settled: number;
  failed: number;
  returned: number;
  unchanged: number;
  unknown: string[];
  said: string;
}

/** Applies one line; a status that is there already changes nothing. */
function applyLine(app: App, actor: Actor, payment: PaymentRecord, outcome: 'settled' | 'failed', code: string | null): 'settled' | 'failed' | 'returned' | 'unchanged' {
  const reason = describeReason(code);
  if (payment.state === 'sent' && outcome === 'settled') {
    move(app, actor, payment, 'paid', 'settled', null);
    tell(app, payment, true, '');
    return 'settled';
  }
  if (payment.state === 'sent') {
    move(app, actor, payment, 'payment-failed', 'failed', reason);
    tell(app, payment, false, reason);
    return 'failed';
  }
  if (payment.state === 'settled' && outcome === 'failed') {
    move(app, actor, payment, 'payment-returned', 'returned', reason);
    tell(app, payment, false, reason);
    return 'returned';
  }
  return 'unchanged';
}

/** Reads a status report and settles or fails its payments. Reading it again changes nothing. Call inside a transaction. */
export function readStatus(app: App, actor: Actor, name: string, content: string): Reading {
  const { base } = theProgramme(app);
  const lines = readStatusLines(content, base);
  const reading: Reading = { settled: 0, failed: 0, returned: 0, unchanged: 0, unknown: [], said: '' };
  const touched = new Set<string>();
  for (const line of lines) {
    const outcome = outcomeOf(line.status);
    const payment = app.db.select().from(payments).where(eq(payments.endToEnd, line.endToEnd)).get();
    if (!payment || payment.state === 'in-run') reading.unknown.push(`${line.endToEnd.slice(0, 40) || '(empty)'}: no sent payment has this reference`);
    else if (outcome === null) reading.unknown.push(`${line.endToEnd}: status ${line.status.slice(0, 10) || '(empty)'} is not known`);
    else if (line.amount !== null && line.amount !== payment.amount) reading.unknown.push(`${line.endToEnd}: the bank names another amount than ${formatMoney({ amount: payment.amount, currency: base })}`);
    else if (outcome === 'under-way') reading.unchanged += 1;
    else {
      reading[applyLine(app, actor, payment, outcome, line.reason)] += 1;
      touched.add(payment.run);
    }
  }
  for (const run of touched) closeRun(app, actor, run);
  app.db.insert(statusReports).values({ id: `sta_${hash(content).slice(0, 24)}`, name, at: app.clock.now(), by: actor.id, content, lines: lines.length }).onConflictDoNothing().run();
  record(app, actor, 'status-read', `sta_${hash(content).slice(0, 24)}`, null, { name, ...reading });
  const parts = [[reading.settled, 'settled'], [reading.failed, 'failed'], [reading.returned, 'returned'], [reading.unchanged, 'unchanged'], [reading.unknown.length, 'not understood']] as const;
  reading.said = `${lines.length} ${lines.length === 1 ? 'line' : 'lines'} read: ${parts.filter(([n]) => n > 0).map(([n, what]) => `${n} ${what}`).join(', ')}`;
  return reading;
}

/** Fetches the status reports of the connected bank and reads those not read before. */
export async function collectStatus(app: App, actor: Actor): Promise<Reading> {
  const bank = bankOf(app);
  if (!bank) throw new Problem('conflict', 'No bank is connected; upload the status report instead');
  let found: { name: string; content: string }[];
  try {
    found = await bank.reports();
  } catch (cause) {
    throw new Problem('unavailable', 'The bank does not answer; nothing was changed', { cause });
  }
  const known = new Set(found.length ? app.db.select({ id: statusReports.id }).from(statusReports).where(inArray(statusReports.id, found.map((f) => `sta_${hash(f.content).slice(0, 24)}`))).all().map((r) => r.id) : []);
  const fresh = found.filter((f) => !known.has(`sta_${hash(f.content).slice(0, 24)}`));
  const sum: Reading = { settled: 0, failed: 0, returned: 0, unchanged: 0, unknown: [], said: '' };
  for (const { name, content } of fresh) {
    const one = app.transaction(() => readStatus(app, actor, name, content));
    sum.settled += one.settled;
    sum.failed += one.failed;
    sum.returned += one.returned;
    sum.unchanged += one.unchanged;
    sum.unknown.push(...one.unknown);
    sum.said = sum.said ? `${sum.said}; ${one.said}` : one.said;
  }
  sum.said ||= 'The bank has no new status report';
  return sum;
}

/** Settles a sent payment by a person who has the bank's reference. @returns the run's id */
export function settleByHand(app: App, actor: Actor, id: string, reference: string): string {
  const payment = app.db.select().from(payments).where(eq(payments.id, id)).get();
  if (!payment) throw new Problem('not-found', 'This payment does not exist');
  if (payment.state !== 'sent') throw new Problem('conflict', `This payment is ${payment.state}; only a sent one can be settled by hand`);
  move(app, actor, payment, 'paid', 'settled', null);
  app.db.update(payments).set({ reason: `settled by hand, reference ${reference}` }).where(eq(payments.id, id)).run();
  record(app, actor, 'payment-settled-by-hand', id, null, { reference, affiliate: payment.affiliate });
  tell(app, payment, true, '');
  closeRun(app, actor, payment.run);
  return payment.run;
}

import { and, eq, inArray } from 'drizzle-orm';
import { entryFor, type SimpleEvent } from '../../../core/ledger/entry';
import { formatMoney, parseAmount } from '../../../core/money/amount';
import { describePayment, outcomeOf, type PaymentReason } from '../../../core/payouts/status';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem, refuse } from '../../ground/http/problem';
import { type StatusLine, type StatusReport } from '../../ground/ports';
import { hash } from '../../ground/seal';
import { commissions } from '../../ground/tables/ledger';
import { affiliates } from '../../ground/tables/people';
import { paymentItems, payments, runs, statusReports } from '../../ground/tables/runs';
import { takeBackWriteOffs } from '../../ledger/amend';
import { postEntry } from '../../ledger/journal';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { bankOf, theProgramme } from '../../registers/programme/record';
import { readStatusFile } from '../bank/statusfile';
import { runOfMessage } from './file';
import { runById } from './runs';

type PaymentRecord = typeof payments.$inferSelect;

function move(
  app: App,
  actor: Actor,
  {
    payment,
    event,
    state,
    reason,
  }: {
    payment: PaymentRecord;
    event: SimpleEvent;
    state: PaymentRecord['state'];
    reason: PaymentReason | null;
  },
): void {
  const items = app.db.select().from(paymentItems).where(eq(paymentItems.payment, payment.id)).all();
  postEntry(app, actor, {
    event,
    lines: items.flatMap((item) =>
      entryFor(event, item.amount, { affiliate: payment.affiliate, commission: item.commission }),
    ),
    once: `${event}:${payment.id}`,
    memo: reason ? `Payment ${payment.endToEnd}: ${describePayment(reason)}` : `Payment ${payment.endToEnd}`,
    run: payment.run,
    payment: payment.id,
  });
  if (event === 'payment-failed' || event === 'payment-returned')
    takeBackWriteOffs(app, actor, {
      ids: items.map((item) => item.commission),
      memo: `payment ${payment.endToEnd} ${event === 'payment-failed' ? 'failed' : 'was returned'}`,
    });
  app.db
    .update(payments)
    .set({ state, reason, stateSince: app.clock.now() })
    .where(eq(payments.id, payment.id))
    .run();
}

function tell(app: App, payment: PaymentRecord, settled: boolean, reason: string): void {
  const who = app.db.select().from(affiliates).where(eq(affiliates.id, payment.affiliate)).get()!;
  const { base, name } = theProgramme(app);
  const amount = formatMoney({ amount: payment.amount, currency: base });
  queue(
    app,
    settled
      ? {
          to: who.email,
          affiliate: who.id,
          kind: 'payment-settled',
          subject: `${amount} has been paid`,
          body: `Hello ${who.name},\n\nyour bank transfer of ${amount} has been carried out. The statement is in the portal: ${app.address}/portal/payouts\n\n${name}`,
        }
      : {
          to: who.email,
          affiliate: who.id,
          kind: 'payment-failed',
          subject: `A payment of ${amount} was returned`,
          body: `Hello ${who.name},\n\nour transfer of ${amount} was returned: ${reason}. ${whereItIs(app, payment, base)} Please check your payout details: ${app.address}/portal/details\n\n${name}`,
        },
  );
}

/** Where the money of a payment that came back is: in the balance, but for what was declined meanwhile. */
function whereItIs(app: App, payment: PaymentRecord, base: string): string {
  const items = app.db
    .select({ amount: paymentItems.amount, declined: commissions.declined })
    .from(paymentItems)
    .innerJoin(commissions, eq(commissions.id, paymentItems.commission))
    .where(eq(paymentItems.payment, payment.id))
    .all();
  const gone = items.filter((i) => i.declined !== null && i.amount > 0).reduce((sum, i) => sum + i.amount, 0);
  if (gone === 0) return 'The amount is in your balance again.';
  return `Of it ${formatMoney({ amount: gone, currency: base })} was declined meanwhile${gone < payment.amount ? '; the rest is in your balance again' : ''}.`;
}

/** A sent run all of whose payments are final is settled. */
function closeRun(app: App, actor: Actor, id: Id<'run'>): void {
  const open = app.db
    .select({ id: payments.id })
    .from(payments)
    .where(and(eq(payments.run, id), eq(payments.state, 'sent')))
    .get();
  const run = runById(app, id);
  if (open || run.state !== 'sent') return;
  app.db
    .update(runs)
    .set({ state: 'settled', settledAt: app.clock.now(), version: run.version + 1 })
    .where(eq(runs.id, id))
    .run();
  record(app, actor, 'run-settled', { subject: id, before: { state: 'sent' }, after: { state: 'settled' } });
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
function applyLine(
  app: App,
  actor: Actor,
  { payment, outcome, code }: { payment: PaymentRecord; outcome: 'settled' | 'failed'; code: string | null },
): 'settled' | 'failed' | 'returned' | 'unchanged' {
  const reason: PaymentReason = { code: 'by-bank', status: code };
  if (payment.state === 'sent' && outcome === 'settled') {
    move(app, actor, { payment, event: 'paid', state: 'settled', reason: null });
    tell(app, payment, true, '');
    return 'settled';
  }
  if (payment.state === 'sent') {
    move(app, actor, { payment, event: 'payment-failed', state: 'failed', reason });
    tell(app, payment, false, describePayment(reason));
    return 'failed';
  }
  if (payment.state === 'settled' && outcome === 'failed') {
    move(app, actor, { payment, event: 'payment-returned', state: 'returned', reason });
    tell(app, payment, false, describePayment(reason));
    return 'returned';
  }
  return 'unchanged';
}

/** So many lines are applied in one transaction; others are served between two. */
/** A status report is known by what it says. */
const reportId = (content: string): Id<'status'> => `sta_${hash(content).slice(0, 24)}`;

const piece = 200;
/** So many lines that were not understood are named. */
const mostNamed = 100;

/** Why a line changes nothing, or null. @param run the run whose file the report answers; null where it does not say */
function misfit(
  line: StatusLine,
  payment: PaymentRecord | undefined,
  run: string | null,
  base: string,
): string | null {
  const name = line.endToEnd.slice(0, 40) || '(empty)';
  if (!payment || payment.state === 'in-run') return `${name}: no sent payment has this reference`;
  if (run !== null && payment.run !== run)
    return `${name}: it is a payment of another run than the one this report answers`;
  if (outcomeOf(line.status) === null)
    return `${name}: status ${line.status.slice(0, 10) || '(empty)'} is not known`;
  const other = otherMoney(line, payment.amount, base);
  return other && `${name}: ${other}`;
}

/** Where the bank names other money than was sent, or null; it need not name any. */
function otherMoney({ amount, currency }: StatusLine, sent: number, base: string): string | null {
  if (currency !== null && currency !== base)
    return `the bank names the currency ${currency.slice(0, 10) || '(none)'}, the payment is in ${base}`;
  if (amount === null) return null;
  const named = parseAmount(amount, base);
  return named.ok && named.value === sent
    ? null
    : `the bank names another amount, ${amount.slice(0, 20)}, than ${formatMoney({ amount: sent, currency: base })}`;
}

const paymentNamed = perApp((app) => rowsBy(app, payments, ['endToEnd']));

function applyPiece(
  app: App,
  actor: Actor,
  {
    lines,
    run,
    reading,
    touched,
  }: { lines: readonly StatusLine[]; run: string | null; reading: Reading; touched: Set<string> },
): void {
  const { base } = theProgramme(app);
  for (const line of lines) {
    const payment = paymentNamed(app).get(line.endToEnd);
    const why = misfit(line, payment, run, base);
    if (why !== null) {
      reading.unknown.push(why);
      continue;
    }
    const outcome = outcomeOf(line.status) as 'settled' | 'failed' | 'under-way';
    if (outcome === 'under-way') reading.unchanged += 1;
    else reading[applyLine(app, actor, { payment: payment!, outcome, code: line.reason })] += 1;
    touched.add(payment!.run);
  }
}

function conclude(
  app: App,
  actor: Actor,
  {
    name,
    content,
    lines,
    reading,
    touched,
  }: { name: string; content: string; lines: number; reading: Reading; touched: ReadonlySet<Id<'run'>> },
): void {
  for (const run of touched) closeRun(app, actor, run);
  const id = reportId(content);
  app.db
    .insert(statusReports)
    .values({ id, name, at: app.clock.now(), by: actor.id, content, lines })
    .onConflictDoNothing()
    .run();
  const parts = [
    [reading.settled, 'settled'],
    [reading.failed, 'failed'],
    [reading.returned, 'returned'],
    [reading.unchanged, 'unchanged'],
    [reading.unknown.length, 'not understood'],
  ] as const;
  reading.said = `${lines} ${lines === 1 ? 'line' : 'lines'} read: ${parts
    .filter(([n]) => n > 0)
    .map(([n, what]) => `${n} ${what}`)
    .join(', ')}`;
  const more = reading.unknown.length - mostNamed;
  if (more > 0) reading.unknown = [...reading.unknown.slice(0, mostNamed), `and ${more} more`];
  record(app, actor, 'status-read', { subject: id, before: null, after: { name, ...reading } });
}

/** The run whose file a report answers; null where it does not say. @throws Problem `invalid` for a file that was not sent from here */
function answered(app: App, messageId: string | null): string | null {
  if (messageId === null) return null;
  const run = runOfMessage(app, messageId);
  if (!run)
    throw refuse(
      'content',
      `Status report: it answers the file ${messageId.slice(0, 40)}, which was not sent from here; nothing was changed`,
    );
  return run.id;
}

/**
 * Applies a status report that was read: settles or fails its payments, a piece of lines at a time, each in a transaction of its own. What a line
 * says twice, or an interruption leaves, changes nothing more: reading it again goes on. @yields between two pieces
 */
function* applying(
  app: App,
  actor: Actor,
  { name, content, report }: { name: string; content: string; report: StatusReport },
): Generator<void, Reading> {
  const run = answered(app, report.messageId);
  const reading: Reading = { settled: 0, failed: 0, returned: 0, unchanged: 0, unknown: [], said: '' };
  const touched = new Set<Id<'run'>>();
  for (let from = 0; from < report.lines.length; from += piece) {
    app.transaction(() =>
      applyPiece(app, actor, { lines: report.lines.slice(from, from + piece), run, reading, touched }),
    );
    yield;
  }
  app.transaction(() =>
    conclude(app, actor, { name, content, lines: report.lines.length, reading, touched }),
  );
  return reading;
}

/** Reads a status report off the serving thread and applies it by pieces, others being served between them. */
export async function readStatus(app: App, actor: Actor, name: string, content: string): Promise<Reading> {
  const work = applying(app, actor, { name, content, report: await app.statusReader.read(content) });
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await new Promise((next) => {
      setImmediate(next);
    });
  }
}

/** The same at once, where nobody else is served: the demo's making, and tests. */
export function readStatusAtOnce(app: App, actor: Actor, name: string, content: string): Reading {
  const work = applying(app, actor, { name, content, report: readStatusFile(content) });
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

/** A report of the bank that cannot be taken is said once and does not keep the next ones from being read. @throws what is no refusal */
function refusedReport(
  app: App,
  actor: Actor,
  { name, content, fault }: { name: string; content: string; fault: unknown },
): Reading {
  if (!(fault instanceof Problem) || fault.code !== 'invalid') throw fault;
  const said = `${name}: ${fault.message}`;
  app.transaction(() => {
    app.db
      .insert(statusReports)
      .values({
        id: reportId(content),
        name,
        at: app.clock.now(),
        by: actor.id,
        content,
        lines: 0,
      })
      .onConflictDoNothing()
      .run();
    record(app, actor, 'status-refused', {
      subject: reportId(content),
      before: null,
      after: {
        name,
        said: fault.message,
      },
    });
  });
  return { settled: 0, failed: 0, returned: 0, unchanged: 0, unknown: [said], said };
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
  const known = new Set(
    found.length
      ? app.db
          .select({ id: statusReports.id })
          .from(statusReports)
          .where(
            inArray(
              statusReports.id,
              found.map((f) => reportId(f.content)),
            ),
          )
          .all()
          .map((r) => r.id)
      : [],
  );
  const fresh = found.filter((f) => !known.has(reportId(f.content)));
  const sum: Reading = { settled: 0, failed: 0, returned: 0, unchanged: 0, unknown: [], said: '' };
  for (const { name, content } of fresh) {
    const one = await readStatus(app, actor, name, content).catch((fault: unknown) =>
      refusedReport(app, actor, { name, content, fault }),
    );
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
export function settleByHand(app: App, actor: Actor, id: Id<'payment'>, reference: string): Id<'run'> {
  const payment = app.db.select().from(payments).where(eq(payments.id, id)).get();
  if (!payment) throw new Problem('not-found', 'This payment does not exist');
  if (payment.state !== 'sent')
    throw new Problem('conflict', `This payment is ${payment.state}; only a sent one can be settled by hand`);
  move(app, actor, { payment, event: 'paid', state: 'settled', reason: null });
  app.db
    .update(payments)
    .set({ reason: { code: 'by-hand', reference } })
    .where(eq(payments.id, id))
    .run();
  record(app, actor, 'payment-settled-by-hand', {
    subject: id,
    before: null,
    after: { reference, affiliate: payment.affiliate },
  });
  tell(app, payment, true, '');
  closeRun(app, actor, payment.run);
  return payment.run;
}

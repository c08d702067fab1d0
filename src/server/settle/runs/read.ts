import { and, eq, inArray, sql } from 'drizzle-orm';
import type { QueryOf } from '../../../contract/endpoint';
import type {
  listLeftOut as LeftOutCall,
  listRunPayments as PaymentsCall,
  RunOut,
} from '../../../contract/settle/payouts';
import { formatDay } from '../../../core/calendar/format';
import { dayOf } from '../../../core/calendar/zone';
import { formatMoney, toDecimal } from '../../../core/money/amount';
import { runStateWords } from '../../../core/payouts/plan';
import { describePayment } from '../../../core/payouts/status';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { readCursor } from '../../ground/db/page';
import { toCsv } from '../../ground/http/csv';
import { Problem } from '../../ground/http/problem';
import { commissions } from '../../ground/tables/ledger';
import { orders } from '../../ground/tables/orders';
import { paymentItems, payments, runs } from '../../ground/tables/runs';
import { shareNames } from '../../ledger/share-names';
import { namesOf } from '../../registers/access/names';
import { affiliateById } from '../../registers/people/record';
import { bankOf, theProgramme } from '../../registers/programme/record';
import { fileName, sentFile } from './file';
import { outlineOf } from './outline';
import { leftOutOfRun, paymentsOfRun } from './pages';
import { needsSecond, runById, runsBefore, someRuns, type RunRecord } from './runs';

function rowOf(
  app: App,
  run: RunRecord,
  name: (id: string | null) => string,
  live: { total: number; payees: number } | null,
) {
  const { base } = theProgramme(app);
  const states = new Map(
    app.db
      .select({ state: payments.state, n: sql<number>`count(*)` })
      .from(payments)
      .where(eq(payments.run, run.id))
      .groupBy(payments.state)
      .all()
      .map((r) => [r.state, r.n]),
  );
  const stored = [...states.values()].reduce((sum, n) => sum + n, 0);
  const through = {
    approving: stored,
    reopening: run.payees - stored,
    sending: stored - (states.get('in-run') ?? 0),
  };
  const overdue = run.state === 'sent' && run.promisedAt !== null && run.promisedAt < app.clock.now();
  return {
    id: run.id,
    number: run.number,
    state: run.state,
    cutoff: run.cutoff,
    createdAt: run.createdAt,
    createdBy: name(run.createdBy),
    payees: live?.payees ?? run.payees,
    total: { amount: live?.total ?? run.total, currency: base },
    done: run.state in through ? through[run.state as keyof typeof through] : null,
    settled: states.get('settled') ?? 0,
    failed: (states.get('failed') ?? 0) + (states.get('returned') ?? 0),
    sentAt: run.sentAt,
    promisedAt: run.promisedAt,
    overdue,
  };
}

export function listRuns(app: App, filter: { state?: RunRecord['state']; after?: string; limit?: number }) {
  const limit = filter.limit ?? 50;
  const before = filter.after === undefined ? undefined : Number(readCursor(filter.after)[0]);
  const found = runsBefore(app, {
    ...(filter.state ? { state: filter.state } : {}),
    ...(before === undefined ? {} : { number: before }),
    limit: limit + 1,
  });
  const rows = found.slice(0, limit);
  const name = namesOf(
    app,
    rows.map((r) => r.createdBy),
  );
  const next =
    found.length > limit
      ? Buffer.from(JSON.stringify([rows[limit - 1]!.number, rows[limit - 1]!.id])).toString('base64url')
      : null;
  return {
    next,
    rows: rows.map((r) => {
      const plan = r.state === 'draft' ? outlineOf(app, r, r.minimum) : null;
      return rowOf(app, r, name, plan ? { total: plan.total, payees: plan.payments.length } : null);
    }),
  };
}

/** @param bank whether a bank is connected, which only the serving process knows */
export function readRun(app: App, id: Id<'run'>, actor: string, bank = bankOf(app) !== null): RunOut {
  const run = runById(app, id);
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const draft = outlineOfDraft(app, run);
  const name = namesOf(app, [run.createdBy, run.approvedBy, run.sentBy]);
  const total = draft?.total ?? run.total;
  const leftOut = leftOutOfRun(app, run, draft);
  return {
    ...rowOf(app, run, name, draft ? { total, payees: draft.payments.length } : null),
    minimum: money(run.minimum),
    approvedBy: run.approvedBy === null ? null : name(run.approvedBy),
    sentBy: run.sentBy === null ? null : name(run.sentBy),
    deliveredAt: run.deliveredAt,
    version: run.version,
    payments: paymentsOfRun(app, run, draft).rows,
    leftOut: leftOut.rows,
    leftOutSums: leftOut.sums,
    needsSecond: needsSecond(app, run, total, actor),
    notApproved: run.notApproved,
    bank,
  };
}

const outlineOfDraft = (app: App, run: RunRecord) => (run.state === 'draft' ? outlineOf(app, run) : null);

/** A page of the payees of a run. */
export function listRunPayments(app: App, id: Id<'run'>, query: QueryOf<typeof PaymentsCall>) {
  const run = runById(app, id);
  return paymentsOfRun(app, run, outlineOfDraft(app, run), query);
}

/** A page of who is left out of a draft. */
export function listLeftOut(app: App, id: Id<'run'>, query: QueryOf<typeof LeftOutCall>) {
  const run = runById(app, id);
  const { rows, next } = leftOutOfRun(app, run, outlineOfDraft(app, run), query);
  return { rows, next };
}

/** The file of a sent run, as it was written. */
export function runFile(app: App, id: Id<'run'>): { name: string; content: string } {
  const run = runById(app, id);
  const content = sentFile(app, run);
  if (content === null)
    throw new Problem('not-found', `Run ${run.number} has no file yet: it is written when the run is sent`);
  return { name: `${fileName(app, run)}.xml`, content };
}

/** The payments of a sent run as CSV for a bank's batch upload. */
export function runTable(app: App, id: Id<'run'>): { name: string; content: string } {
  const run = runById(app, id);
  if (run.state !== 'sent' && run.state !== 'settled')
    throw new Problem('not-found', `Run ${run.number} has no file yet: it is written when the run is sent`);
  const { base } = theProgramme(app);
  const rows = app.db.select().from(payments).where(eq(payments.run, id)).orderBy(payments.id).all();
  return {
    name: `${fileName(app, run)}.csv`,
    content: toCsv(
      ['end_to_end_id', 'holder', 'iban', 'amount', 'currency'],
      rows.map((p) => [p.endToEnd, p.holder, p.iban, toDecimal(p.amount, base), base]),
    ),
  };
}

/** A payee's statement: a line a commission, then the total, which is the payment. */
export function statementOf(
  app: App,
  id: Id<'payment'>,
  owner: string | null,
): { name: string; content: string } {
  const payment = app.db.select().from(payments).where(eq(payments.id, id)).get();
  if (!payment || (owner !== null && payment.affiliate !== owner))
    throw new Problem('not-found', 'This payment does not exist');
  const { base, zone } = theProgramme(app);
  const run = runById(app, payment.run);
  const items = app.db
    .select({
      amount: paymentItems.amount,
      kind: commissions.kind,
      soldAt: commissions.soldAt,
      granted: commissions.granted,
      reference: orders.reference,
      value: orders.base,
    })
    .from(paymentItems)
    .innerJoin(commissions, eq(commissions.id, paymentItems.commission))
    .innerJoin(orders, eq(orders.id, commissions.order))
    .where(eq(paymentItems.payment, id))
    .orderBy(commissions.soldAt)
    .all();
  const lines: (string | number)[][] = items.map((i) => [
    dayOf(i.soldAt, zone),
    i.reference,
    toDecimal(i.value, base),
    toDecimal(i.granted, base),
    toDecimal(i.amount, base),
    base,
    `${i.kind === 'commission' ? 'commission' : shareNames[i.kind]}${i.amount < 0 ? ', taken back after payment' : ''}`,
  ]);
  lines.push(['', 'total', '', '', toDecimal(payment.amount, base), base, `payment ${payment.endToEnd}`]);
  return {
    name: `statement-${run.number}-${affiliateById(app, payment.affiliate).handle}.csv`,
    content: toCsv(['sold_on', 'order', 'value', 'granted', 'amount', 'currency', 'what'], lines),
  };
}

/** Payments of an affiliate, newest first. */
export function paymentsOf(app: App, affiliate: Id<'affiliate'>) {
  const { base } = theProgramme(app);
  return app.db
    .select({ p: payments, run: runs.number, promisedAt: runs.promisedAt })
    .from(payments)
    .innerJoin(runs, eq(runs.id, payments.run))
    .where(and(eq(payments.affiliate, affiliate), sql`${payments.state} <> 'in-run'`))
    .orderBy(sql`${runs.number} DESC`)
    .all()
    .map(({ p, run, promisedAt }) => ({
      id: p.id,
      run,
      amount: { amount: p.amount, currency: base },
      state: p.state,
      at: p.stateSince,
      promisedAt,
      reason: p.reason === null ? null : describePayment(p.reason),
    }));
}

type SomeRun = ReturnType<ReturnType<typeof someRuns>['all']>[number];

interface Task {
  count: number;
  text: string;
  more: string;
  amount: { amount: number; currency: string } | null;
  to: string;
  act: string;
  mark: string;
}

/** What a run waits for, by its state. */
const actOf: Record<string, string> = { draft: 'approve', approved: 'send', sent: 'settle' };

function taskOfRun(app: App, run: SomeRun): Task {
  const { base, zone } = theProgramme(app);
  const plan = run.state === 'draft' ? outlineOf(app, run, run.minimum) : null;
  const payees = plan?.payments.length ?? run.payees;
  const promisedAt = run.state === 'sent' ? run.promisedAt : null;
  const late = promisedAt !== null && promisedAt < app.clock.now();
  const promise = promisedAt ? `, promised by ${formatDay(promisedAt, zone)}` : '';
  return {
    count: 1,
    text: `Payout run ${run.number}`,
    more: `${payees.toLocaleString('en-GB')} payees, ${runStateWords[run.state]}${promise}${late ? ', overdue' : ''}`,
    amount: { amount: plan?.total ?? run.total, currency: base },
    to: `/payouts/${run.id}`,
    act: actOf[run.state] ?? 'look',
    mark: late ? 'refused' : 'under-way',
  };
}

/** Payments that came back in the last 30 days. */
function taskOfReturned(app: App): Task[] {
  const since = app.clock.now() - 30 * 86_400_000;
  const failed = app.db
    .select({
      n: sql<number>`count(*)`,
      sum: sql<number>`coalesce(sum(${payments.amount}), 0)`,
      run: sql<string>`max(${payments.run})`,
    })
    .from(payments)
    .where(and(inArray(payments.state, ['failed', 'returned']), sql`${payments.stateSince} >= ${since}`))
    .get()!;
  if (!failed.n) return [];
  return [
    {
      count: failed.n,
      text: `${failed.n} ${failed.n === 1 ? 'payment' : 'payments'} failed or returned`,
      more: 'the money is in the cleared balance again',
      amount: { amount: failed.sum, currency: theProgramme(app).base },
      to: `/payouts/${failed.run}`,
      act: 'look',
      mark: 'refused',
    },
  ];
}

/** Who could be paid now, and who could but for their details. */
function tasksOfPayable(app: App): Task[] {
  const { base, minimumPayout: minimum } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const plan = outlineOf(app, { cutoff: app.clock.now() + 1, minimum, excluded: [] }, minimum);
  const blocked = plan.leftOut.filter((l) => l.reason === 'no-details');
  const tasks: Task[] = [];
  const count = plan.payments.length;
  if (count)
    tasks.push({
      count,
      text: `${count.toLocaleString('en-GB')} ${count === 1 ? 'affiliate' : 'affiliates'} can be paid`,
      more: 'cleared and above the minimum',
      amount: money(plan.total),
      to: '/payouts',
      act: 'draft',
      mark: 'waiting',
    });
  if (blocked.length)
    tasks.push({
      count: blocked.length,
      text: `${blocked.length.toLocaleString('en-GB')} without payout details`,
      more: blocked
        .slice(0, 3)
        .map((b) => `${b.name} ${formatMoney(money(b.amount))}`)
        .join(', '),
      amount: money(blocked.reduce((s, b) => s + b.amount, 0)),
      to: `/affiliates/${blocked[0]!.affiliate}`,
      act: 'look',
      mark: 'waiting',
    });
  return tasks;
}

/** What of the payouts waits for a person, for Today. */
export function payoutTasks(app: App): Task[] {
  const open = someRuns(app)
    .where(inArray(runs.state, ['draft', 'approving', 'approved', 'reopening', 'sending', 'sent']))
    .orderBy(runs.number)
    .all();
  return [
    ...open.map((run) => taskOfRun(app, run)),
    ...taskOfReturned(app),
    ...(open.every((r) => r.state === 'sent') ? tasksOfPayable(app) : []),
  ];
}

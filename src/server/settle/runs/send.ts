import { and, eq, gt } from 'drizzle-orm';
import { addDays, dayOf, startOfDay } from '../../../core/calendar/zone';
import { formatMoney } from '../../../core/money/amount';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { payments, runs } from '../../ground/tables/runs';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { bankOf, theProgramme } from '../../registers/programme/record';
import { never, type Enough } from './enough';
import { fileName, sentFile, writtenFile, type WrittenFile } from './file';
import { runById, stepTo, type RunRecord } from './runs';

type PaymentRecord = typeof payments.$inferSelect;

function sendOne(
  app: App,
  run: RunRecord,
  { p, email, called }: { p: PaymentRecord; email: string; called: string },
): void {
  const { base, zone, name } = theProgramme(app);
  app.db.update(payments).set({ state: 'sent', stateSince: run.sentAt! }).where(eq(payments.id, p.id)).run();
  queue(app, {
    to: email,
    affiliate: p.affiliate,
    kind: 'payment-sent',
    subject: `${formatMoney({ amount: p.amount, currency: base })} is on its way`,
    body: `Hello ${called},\n\n${formatMoney({ amount: p.amount, currency: base })} of commissions are on their way to your account ending in ${p.iban.slice(-4)}, promised by ${dayOf(run.promisedAt!, zone)}.\n\nThe statement is in the portal: ${app.address}/portal/payouts\n\n${name}`,
  });
}

/** So many payments are read for a piece of work. */
const atOnce = 20;

/** Before every payee. */
export const beforeTheFirst: Id<'affiliate'> = 'aff_';

function nextOf(app: App, run: RunRecord, after: Id<'affiliate'>) {
  return app.db
    .select({ p: payments, email: affiliates.email, called: affiliates.name })
    .from(payments)
    .innerJoin(affiliates, eq(affiliates.id, payments.affiliate))
    .where(and(eq(payments.run, run.id), gt(payments.affiliate, after)))
    .orderBy(payments.affiliate)
    .limit(atOnce)
    .all();
}

/**
 * Marks the next payments of a run that is being sent and tells their payees; with the last of them it is sent. Call inside a transaction.
 * @param after the last payee that was dealt with @returns the last one now
 */
export function sendSome(
  app: App,
  run: RunRecord,
  after: Id<'affiliate'>,
  enough: Enough = never,
): Id<'affiliate'> {
  let last = after;
  let done = 0;
  for (let found = nextOf(app, run, last); !enough(done); found = nextOf(app, run, last)) {
    if (!found.length) {
      app.db.update(runs).set({ state: 'sent', stepBy: null }).where(eq(runs.id, run.id)).run();
      return last;
    }
    for (let i = 0; i < found.length && !enough(done); i += 1, done += 1) {
      const { p, email, called } = found[i]!;
      if (p.state === 'in-run') sendOne(app, run, { p, email, called });
      last = p.affiliate;
    }
  }
  return last;
}

/**
 * Sends an approved run: the file is kept, the payees are told. Where there is `enough` before all are, the others are told piece by piece afterwards; until
 * then the run is being sent.
 * @param file the file as it was written just now; written here where left out
 */
export function sendRun(
  app: App,
  actor: Actor,
  id: Id<'run'>,
  {
    version,
    file = writtenFile(app, id),
    enough = never,
  }: { version: number; file?: WrittenFile | null; enough?: Enough },
): void {
  const run = stepTo(app, id, version, 'sending');
  const { zone, debtorName, debtorIban, promiseDays } = theProgramme(app);
  if (!debtorName || !debtorIban)
    throw new Problem(
      'conflict',
      'The account that payouts are made from is missing: enter its holder and IBAN under Settings',
    );
  if (file?.version !== run.version || file.debtor.name !== debtorName || file.debtor.iban !== debtorIban)
    throw new Problem(
      'stale',
      `Run ${run.number} or the account it is paid from was changed meanwhile; look again and repeat`,
    );
  if (file.fault)
    throw new Problem(
      'conflict',
      `The payment file is not valid, so the run is not sent: ${file.fault}. Take the run back to draft and leave that payee out, or have its details corrected.`,
    );
  const promisedDay = addDays(dayOf(file.at, zone), promiseDays);
  const sent = {
    state: 'sending' as const,
    sentAt: file.at,
    sentBy: actor.id,
    stepBy: actor.id,
    promisedAt: startOfDay(addDays(promisedDay, 1), zone) - 1,
    file: file.content,
    version: run.version + 1,
  };
  app.db.update(runs).set(sent).where(eq(runs.id, id)).run();
  record(app, actor, 'run-sent', {
    subject: id,
    before: { state: 'approved' },
    after: { state: 'sent', total: run.total, payees: run.payees },
  });
  sendSome(app, { ...run, ...sent }, beforeTheFirst, enough);
}

/** Hands the file to the bank connection. The bank knows a repeated file by its message id. */
export async function deliverRun(app: App, id: Id<'run'>): Promise<void> {
  const run = runById(app, id);
  const file = sentFile(app, run);
  if (file === null) throw new Problem('conflict', `Run ${run.number} has not been sent yet`);
  // a bank that does not know the file any more would pay a second time
  if (run.state === 'settled')
    throw new Problem('conflict', `Run ${run.number} is settled: every payment of it is final`);
  const bank = bankOf(app);
  if (!bank) throw new Problem('conflict', 'No bank is connected; download the file instead');
  try {
    await bank.deliver(`${fileName(app, run)}.xml`, file);
  } catch (cause) {
    throw new Problem(
      'unavailable',
      'The bank does not answer. The file is kept; hand it over again later, it is taken once only.',
      { cause },
    );
  }
  app.db.update(runs).set({ deliveredAt: app.clock.now() }).where(eq(runs.id, id)).run();
}

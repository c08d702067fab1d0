import { eq } from 'drizzle-orm';
import { dayOf } from '../../../core/calendar/zone';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { payments, runs } from '../../ground/tables/runs';
import { theProgramme } from '../../registers/programme/record';
import { faultOfPain001, writePain001, type TransferFile } from '../bank/pain001';
import { runById, someRuns, type RunRecord } from './runs';

function messageId(app: App, run: RunRecord): string {
  return `GVN-${run.number}-${dayOf(run.createdAt, theProgramme(app).zone).replaceAll('-', '')}-${run.id.slice(-7)}`;
}

/** The sent run whose file has this message id, or null. */
export function runOfMessage(app: App, id: string): RunRecord | null {
  const number = Number(/^GVN-(\d{1,9})-/.exec(id)?.[1] ?? 0);
  const run = someRuns(app).where(eq(runs.number, number)).get();
  return run && run.sentAt !== null && messageId(app, run) === id ? run : null;
}

/** The name of a run's file without its ending. */
export function fileName(app: App, run: RunRecord): string {
  return messageId(app, run).toLowerCase();
}

/** The file of a run as it was sent; null before it is. */
export function sentFile(app: App, run: RunRecord): string | null {
  if (run.state !== 'sent' && run.state !== 'settled') return null;
  return app.db.select({ file: runs.file }).from(runs).where(eq(runs.id, run.id)).get()!.file;
}

/** What the file of a run says: who is paid what, to which account. @param at when it is written */
export function transfersOf(
  app: App,
  run: RunRecord,
  rows: readonly (typeof payments.$inferSelect)[],
  at: number,
): TransferFile {
  const { base, zone, name, debtorName, debtorIban } = theProgramme(app);
  return {
    messageId: messageId(app, run),
    createdAt: at,
    executeOn: dayOf(at, zone),
    debtor: { name: debtorName, iban: debtorIban },
    currency: base,
    payments: rows.map((p) => ({
      endToEnd: p.endToEnd,
      amount: p.amount,
      holder: p.holder,
      iban: p.iban,
      text: `${name} commissions, run ${run.number}`,
    })),
  };
}

/** A payment file and what it was written from. */
export interface WrittenFile {
  content: string;
  /** what is wrong with it; null if nothing is */
  fault: string | null;
  version: number;
  at: number;
  debtor: TransferFile['debtor'];
}

/** Writes the file of an approved run and reads it back; of thousands of payments that takes a second. @returns null for a run that has none to be written */
export function writtenFile(app: App, id: Id<'run'>): WrittenFile | null {
  const run = runById(app, id);
  if (run.state !== 'approved') return null;
  const at = app.clock.now();
  const transfers = transfersOf(
    app,
    run,
    app.db.select().from(payments).where(eq(payments.run, id)).orderBy(payments.id).all(),
    at,
  );
  const content = writePain001(transfers);
  return {
    content,
    fault: faultOfPain001(content, transfers),
    version: run.version,
    at,
    debtor: transfers.debtor,
  };
}

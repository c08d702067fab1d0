import { eq, sql } from 'drizzle-orm';
import { networkOf } from '../../../core/attribution/opened';
import { millisecondsInDay } from '../../../core/calendar/zone';
import type { Id } from '../../../core/text/id';
import type { ReportWay } from '../../../core/tracking/lists';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { insertion, perApp } from '../../ground/db/prepared';
import { reports } from '../../ground/tables/reports';
import { theProgramme } from '../../registers/programme/record';
import { forgetPictured } from '../orders/pictured';

export interface LogRow {
  call: string;
  way: ReportWay;
  key: string | null;
  reference: string | null;
  body: string;
}

const keptBody = 20_000;
// anybody can send what is not signed: little of it is kept
export const keptUnsigned = 500;
const keptSaid = 1000;

const statements = perApp((app) => ({
  report: insertion(app, reports),
  again: app.sqlite.prepare(
    'UPDATE reports SET count = count + 1, at = ?, said = ?, reference = ?, key = ?, body = ? WHERE slot = ?',
  ),
}));

/** Writes a report and its outcome into the log that the Connection page shows. */
export function log(
  app: App,
  row: LogRow,
  {
    outcome,
    status,
    said,
    order,
  }: { outcome: string; status: number; said: string; order: Id<'order'> | null },
): void {
  statements(app).report.run({
    id: newId('report'),
    at: app.clock.now(),
    ...row,
    body: row.body.slice(0, keptBody),
    outcome,
    status,
    said: said.slice(0, keptSaid),
    order,
    count: 1,
    slot: null,
  });
}

const minute = 60_000;
/** Addresses that are told apart in one minute; those beyond share a row. */
const mostAddresses = 100;
const seen = perApp(() => ({ minute: 0, addresses: new Set<string>() }));

/**
 * Counts what nobody is known to have sent: one row for an address, minute, call and outcome, that holds the last that came and how many came. However
 * much is sent, the log grows by some hundred rows a minute at the most.
 */
export function logCounted(
  app: App,
  address: string,
  { row, outcome, status, said }: { row: LogRow; outcome: string; status: number; said: string },
): void {
  const now = Math.floor(app.clock.real() / minute);
  const kept = seen(app);
  if (kept.minute !== now) {
    kept.minute = now;
    kept.addresses.clear();
  }
  const network = networkOf(address);
  if (kept.addresses.size < mostAddresses) kept.addresses.add(network);
  const who = kept.addresses.has(network)
    ? app.seal.digest(`reports ${now} ${network}`).slice(0, 16)
    : 'others';
  const slot = `${now} ${row.call} ${outcome} ${who}`;
  const body = row.body.slice(0, keptUnsigned);
  const again = statements(app).again.run(
    app.clock.now(),
    said.slice(0, keptSaid),
    row.reference,
    row.key,
    body,
    slot,
  );
  if (again.changes === 0)
    statements(app).report.run({
      id: newId('report'),
      at: app.clock.now(),
      ...row,
      body,
      outcome,
      status,
      said: said.slice(0, keptSaid),
      order: null,
      count: 1,
      slot,
    });
}

/** Rows that one tidying takes away: a long log is shortened over several. */
const atOnce = 5_000;

/** Forgets what the settings no longer keep: reports, and sales that only a picture reported and nobody took up. @returns how many rows */
export function forgetReports(app: App): number {
  const before = app.clock.now() - theProgramme(app).logDays * millisecondsInDay;
  const old = app.db
    .delete(reports)
    .where(sql`${reports.id} IN (SELECT id FROM reports WHERE at < ${before} LIMIT ${atOnce})`)
    .run().changes;
  return old + forgetPictured(app, before);
}

/** What the log keeps of an order that is taken away no longer leads to it. */
export function forgetOrderInLog(app: App, order: Id<'order'>): void {
  app.db.update(reports).set({ order: null }).where(eq(reports.order, order)).run();
}

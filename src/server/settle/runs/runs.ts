import { and, desc, eq, getTableColumns, inArray, lt, ne, sql } from 'drizzle-orm';
import { addDays, dayOf, isDay, startOfDay } from '../../../core/calendar/zone';
import { formatMoney, parseAmount } from '../../../core/money/amount';
import type { RunState } from '../../../core/payouts/lists';
import { mayGo, runStateWords } from '../../../core/payouts/plan';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { runs } from '../../ground/tables/runs';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';

const { file, ...columns } = getTableColumns(runs);

/** A run without its file, which is megabytes of a large one. */
export type RunRecord = Omit<typeof runs.$inferSelect, 'file'>;

/** Runs without their files, for any condition. */
export const someRuns = (app: App) => app.db.select(columns).from(runs);

export function runById(app: App, id: Id<'run'>): RunRecord {
  const row = someRuns(app).where(eq(runs.id, id)).get();
  if (!row) throw new Problem('not-found', 'This payout run does not exist');
  return row;
}

/** What a step that a run passes through makes of it. */
const goals: Partial<Record<RunState, string>> = {
  approving: 'approved',
  reopening: 'a draft again',
  sending: 'sent',
};

/** The run at the version that the person saw, if it may go to the given state. @throws Problem `stale` or `conflict` */
export function stepTo(app: App, id: Id<'run'>, version: number, to: RunRecord['state'] | null): RunRecord {
  const row = runById(app, id);
  if (to && !mayGo(row.state, to))
    throw new Problem(
      'conflict',
      `Run ${row.number} is ${runStateWords[row.state]}; it cannot become ${goals[to] ?? to}`,
    );
  if (row.version !== version)
    throw new Problem('stale', `Run ${row.number} was changed meanwhile; look again and repeat`);
  return row;
}

export function createRun(app: App, actor: Actor, input: { cutoff: string; minimum: string }): Id<'run'> {
  const { base, zone, minimumPayout } = theProgramme(app);
  const today = dayOf(app.clock.now(), zone);
  if (!isDay(input.cutoff)) throw refuse('cutoff', 'Cut-off day is not a day of the calendar', today);
  if (input.cutoff > today) throw refuse('cutoff', `Cut-off day ${input.cutoff} is in the future`, today);
  const parsed =
    input.minimum.trim() === ''
      ? { ok: true as const, value: minimumPayout }
      : parseAmount(input.minimum, base);
  if (!parsed.ok) throw refuse('minimum', `Minimum: ${parsed.reason}`, parsed.example);
  const open = someRuns(app)
    .where(inArray(runs.state, ['draft', 'approving', 'approved', 'reopening', 'sending']))
    .get();
  if (open)
    throw new Problem(
      'conflict',
      `Run ${open.number} is still ${runStateWords[open.state]}; ${open.state === 'sending' ? 'wait until it is sent' : 'send or discard it first'}`,
    );
  const number =
    (app.db
      .select({ n: sql<number>`coalesce(max(${runs.number}), 0)` })
      .from(runs)
      .get()?.n ?? 0) + 1;
  const id = newId('run');
  // what clears after the draft was made waits for the next run, so that the total stands still while it is looked over
  const cutoff = Math.min(startOfDay(addDays(input.cutoff, 1), zone), app.clock.now() + 1);
  app.db
    .insert(runs)
    .values({
      id,
      number,
      state: 'draft',
      cutoff,
      minimum: parsed.value,
      createdAt: app.clock.now(),
      createdBy: actor.id,
      approvalAbove: theProgramme(app).approvalAbove,
    })
    .run();
  record(app, actor, 'run-drafted', {
    subject: id,
    before: null,
    after: { number, cutoff: input.cutoff, minimum: parsed.value },
  });
  return id;
}

export function excludePayee(
  app: App,
  actor: Actor,
  id: Id<'run'>,
  { affiliate, exclude, version }: { affiliate: Id<'affiliate'>; exclude: boolean; version: number },
): void {
  const run = stepTo(app, id, version, null);
  if (run.state !== 'draft')
    throw new Problem(
      'conflict',
      `Run ${run.number} is ${runStateWords[run.state]}; payees can be left out of a draft only`,
    );
  const excluded = exclude
    ? [...new Set([...run.excluded, affiliate])]
    : run.excluded.filter((a) => a !== affiliate);
  app.db
    .update(runs)
    .set({ excluded, version: run.version + 1 })
    .where(eq(runs.id, id))
    .run();
  record(app, actor, exclude ? 'payee-left-out' : 'payee-taken-in', {
    subject: id,
    before: null,
    after: { affiliate },
  });
}

/** The lower of two sums above which a second person approves; null = never. */
function stricter(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.min(a, b);
}

/** The sum above which a second person approves was changed: runs that are under way keep the strictest. */
export function approvalChanged(app: App, to: number | null): void {
  for (const run of someRuns(app)
    .where(inArray(runs.state, ['draft', 'approving', 'approved', 'reopening']))
    .all()) {
    app.db
      .update(runs)
      .set({ approvalAbove: stricter(run.approvalAbove, to) })
      .where(eq(runs.id, run.id))
      .run();
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

export function discardRun(app: App, actor: Actor, id: Id<'run'>, version: number): void {
  const run = stepTo(app, id, version, 'discarded');
  app.db
    .update(runs)
    .set({ state: 'discarded', version: run.version + 1 })
    .where(eq(runs.id, id))
    .run();
  record(app, actor, 'run-discarded', {
    subject: id,
    before: { state: run.state },
    after: { state: 'discarded' },
  });
}

/** Runs for a list, newest first; discarded ones only where asked for. */
export function runsBefore(
  app: App,
  filter: { state?: RunRecord['state']; number?: number; limit: number },
): RunRecord[] {
  return someRuns(app)
    .where(
      and(
        filter.state ? eq(runs.state, filter.state) : ne(runs.state, 'discarded'),
        filter.number === undefined ? undefined : lt(runs.number, filter.number),
      ),
    )
    .orderBy(desc(runs.number))
    .limit(filter.limit)
    .all();
}

import { eq, inArray } from 'drizzle-orm';
import { passing } from '../../../core/payouts/plan';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { turn } from '../../ground/http/turns';
import { runs } from '../../ground/tables/runs';
import { giveBackSome, isComplete, setBack, takeSome, type Awaited } from './approve';
import { aTurn, type Enough } from './enough';
import { runReadings } from './readings';
import { someRuns, type RunRecord } from './runs';
import { beforeTheFirst, sendSome } from './send';

/** What is remembered between two pieces of one step; after a restart it is found again. Each decision raises the run's version, and begins another step. */
export interface Place {
  version: number;
  awaited: readonly Awaited[] | null;
  sentUpTo: Id<'affiliate'>;
}

/** The place of a step that nothing is known of yet: no run has this version. */
export const atTheBeginning = (): Place => ({ version: 0, awaited: null, sentUpTo: beforeTheFirst });

/** Whether a run still is in the step that something was read for beside the serving thread. */
function isStill(app: App, run: RunRecord): boolean {
  const now = app.db.select({ version: runs.version }).from(runs).where(eq(runs.id, run.id)).get();
  return now?.version === run.version;
}

async function findAwaited(app: App, run: RunRecord, place: Place): Promise<void> {
  const awaited = await app.reader.ask(runReadings.awaited, { id: run.id }, 'export');
  app.transaction(() => {
    if (!isStill(app, run)) return;
    if (isComplete(app, run, awaited)) place.awaited = awaited;
    else setBack(app, run, 'The payees were others when it was to go on: look them over again');
  });
}

function takeNext(app: App, run: RunRecord, place: Place, enough: Enough): void {
  try {
    app.repeatable(() => {
      place.awaited = takeSome(app, run, place.awaited!, enough);
    });
  } catch (thrown) {
    if (!(thrown instanceof Problem)) throw thrown;
    app.transaction(() => setBack(app, run, thrown.message));
  }
}

/** One piece of what a run is on its way to. @returns whether there was anything to do */
export async function goOn(app: App, id: Id<'run'>, place: Place, enough: Enough): Promise<boolean> {
  const run = someRuns(app).where(eq(runs.id, id)).get();
  // what was remembered of another step, as of an approval that was taken back, is nothing for this one
  if (run && run.version !== place.version) Object.assign(place, atTheBeginning(), { version: run.version });
  if (run?.state === 'approving') {
    if (place.awaited === null) await findAwaited(app, run, place);
    else takeNext(app, run, place, enough);
  } else if (run?.state === 'reopening') app.repeatable(() => giveBackSome(app, run, enough));
  else if (run?.state === 'sending')
    app.repeatable(() => {
      place.sentUpTo = sendSome(app, run, place.sentUpTo, enough);
    });
  else return false;
  return true;
}

async function goOnToTheEnd(app: App, id: Id<'run'>): Promise<void> {
  const place = atTheBeginning();
  while (app.sqlite.open && (await goOn(app, id, place, aTurn()))) await turn();
}

const underWay = perApp(() => new Map<string, Promise<void>>());

/** Goes on with a run until it has reached the next state, others being served between two pieces; where that is done already, waits for it. */
export function goOnWithRun(app: App, id: Id<'run'>): Promise<void> {
  const work = underWay(app).get(id) ?? goOnToTheEnd(app, id).finally(() => underWay(app).delete(id));
  underWay(app).set(id, work);
  return work;
}

/** Goes on with every run that is on its way: what a restart or a fault has interrupted. */
export async function goOnWithRuns(app: App): Promise<void> {
  for (const { id } of app.db
    .select({ id: runs.id })
    .from(runs)
    .where(inArray(runs.state, [...passing]))
    .all())
    await goOnWithRun(app, id);
}

import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { awaitedOf } from './approve';
import { writtenFile } from './file';
import { listLeftOut, listRunPayments, listRuns, readRun } from './read';

/** Payout runs, read beside the serving thread. */
export const runReadings = readingsOf({
  runs: listRuns,
  run: (app: App, { id, actor, bank }: { id: Id<'run'>; actor: string; bank: boolean }) =>
    readRun(app, id, actor, bank),
  runPayments: (app: App, { id, query }: { id: Id<'run'>; query: Parameters<typeof listRunPayments>[2] }) =>
    listRunPayments(app, id, query),
  awaited: (app: App, { id }: { id: Id<'run'> }) => awaitedOf(app, id),
  writtenFile: (app: App, { id }: { id: Id<'run'> }) => writtenFile(app, id),
  leftOut: (app: App, { id, query }: { id: Id<'run'>; query: Parameters<typeof listLeftOut>[2] }) =>
    listLeftOut(app, id, query),
});

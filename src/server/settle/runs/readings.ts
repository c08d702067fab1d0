import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { awaitedOf } from './approve';
import { writtenFile } from './file';
import { listLeftOut, listRunPayments, listRuns, readRun } from './read';

/** Payout runs, read beside the serving thread. */
export const runReadings = readingsOf({
  runs: listRuns,
  run: (app: App, { id, actor, bank }: { id: string; actor: string; bank: boolean }) =>
    readRun(app, id, actor, bank),
  runPayments: (app: App, { id, query }: { id: string; query: Parameters<typeof listRunPayments>[2] }) =>
    listRunPayments(app, id, query),
  awaited: (app: App, { id }: { id: string }) => awaitedOf(app, id),
  writtenFile: (app: App, { id }: { id: string }) => writtenFile(app, id),
  leftOut: (app: App, { id, query }: { id: string; query: Parameters<typeof listLeftOut>[2] }) =>
    listLeftOut(app, id, query),
});

import type { TodayOut } from '../../contract/lookback/today';
import type { RosterColumn } from '../../core/recruiting/roster';
import type { Actor, App } from '../ground/context';
import { listCommissions, listEntries, readBalances } from '../ledger/service';
import { search } from '../lookback/search/search';
import { readCounts, readToday } from '../lookback/today/today';
import { readHome } from '../portal/service';
import { judgePast } from '../recruit/applications/rehearsal';
import { listRules } from '../recruit/applications/screening';
import { listApplications, readApplication } from '../recruit/applications/service';
import { findProspects, type ProspectFilter } from '../recruit/prospects/search';
import { listHistory } from '../recruit/roster/history';
import { listAffiliates, rosterPiece } from '../recruit/roster/roster';
import { listSegments } from '../recruit/roster/segments';
import { readAffiliate } from '../recruit/roster/service';
import { awaitedOf } from '../settle/runs/approve';
import { writtenFile } from '../settle/runs/file';
import { listLeftOut, listRunPayments, listRuns, readRun } from '../settle/runs/read';
import { listPolicies } from '../setup/policy/service';
import { listFunnels } from '../setup/products/funnels';
import { listProducts } from '../setup/products/service';
import { readRateBook } from '../setup/terms/ratebook';
import { readSample } from '../setup/terms/rehearsals';
import { listSets, previewRemoval } from '../setup/terms/sets';
import { wrongIn } from '../totals/checks';
import { countReports, listReports } from '../track/connection/connection';
import { listOrders, prepareReferences, readOrder, salesPiece } from '../track/orders/orders';

/**
 * What is read beside the serving thread, by name: synchronous, on a connection that cannot write, from an App that has no ports. What only the serving
 * process knows is handed over with the question.
 */
export const readings = {
  today: (app: App, { troubles }: { troubles: TodayOut['waiting'] }) => readToday(app, troubles),
  counts: (app: App, { troubles }: { troubles: TodayOut['waiting'] }) => readCounts(app, troubles),
  entries: listEntries,
  commissions: listCommissions,
  runs: listRuns,
  run: (app: App, { id, actor, bank }: { id: string; actor: string; bank: boolean }) =>
    readRun(app, id, actor, bank),
  runPayments: (app: App, { id, query }: { id: string; query: Parameters<typeof listRunPayments>[2] }) =>
    listRunPayments(app, id, query),
  awaited: (app: App, { id }: { id: string }) => awaitedOf(app, id),
  writtenFile: (app: App, { id }: { id: string }) => writtenFile(app, id),
  leftOut: (app: App, { id, query }: { id: string; query: Parameters<typeof listLeftOut>[2] }) =>
    listLeftOut(app, id, query),
  policies: (app: App, _: object) => listPolicies(app),
  sets: (app: App, _: object) => listSets(app),
  removal: (app: App, { id, to }: { id: string; to: string | undefined }) => previewRemoval(app, id, to),
  rateBook: (app: App, { actor, query }: { actor: Actor; query: Parameters<typeof readRateBook>[2] }) =>
    readRateBook(app, actor, query),
  sample: (app: App, { actor }: { actor: Actor }) => readSample(app, actor),
  funnels: (app: App, _: object) => listFunnels(app),
  applications: listApplications,
  rehearseRules: judgePast,
  rules: (app: App, _: object) => listRules(app),
  balances: (app: App, _: object) => readBalances(app),
  application: (app: App, { id }: { id: string }) => readApplication(app, id),
  affiliate: (app: App, { id }: { id: string }) => readAffiliate(app, id),
  history: (app: App, { id, query }: { id: string; query: Parameters<typeof listHistory>[2] }) =>
    listHistory(app, id, query),
  products: listProducts,
  portalHome: (app: App, { affiliate }: { affiliate: string }) => readHome(app, affiliate),
  roster: listAffiliates,
  rosterPiece: (
    app: App,
    { filter, columns }: { filter: Parameters<typeof rosterPiece>[1]; columns: readonly RosterColumn[] },
  ) => rosterPiece(app, filter, columns),
  segments: (app: App, _: object) => listSegments(app),
  order: (app: App, { id }: { id: string }) => readOrder(app, id),
  orders: listOrders,
  salesPiece,
  reports: listReports,
  reportCounts: (app: App, _: object) => countReports(app),
  /** reads on, a piece with each question, what searching keeps in memory; whether there is more */
  prepare: (app: App, _: object) => prepareReferences(app),
  search: (app: App, { q, stamp }: { q: string; stamp: number }) => search(app, q, stamp),
  wrongTotal: (app: App, { table }: { table: string }) => wrongIn(app.sqlite, table),
  prospects: (
    app: App,
    {
      filter,
      after,
      limit,
      stamp,
    }: { filter: ProspectFilter; after: string | undefined; limit: number; stamp: number },
  ) => findProspects({ sqlite: app.sqlite, stamp }, filter, after, limit),
};

export type Readings = typeof readings;
export type ReadingName = keyof Readings;
export type InputOf<N extends ReadingName> = Parameters<Readings[N]>[1];
export type AnswerOf<N extends ReadingName> = ReturnType<Readings[N]>;

/** Answers one question from one moment of the data, however many statements it takes. */
export function answer(
  app: App,
  name: ReadingName,
  input: unknown,
  progress?: (done: number, total: number) => void,
): unknown {
  return app.sqlite
    .transaction(() =>
      (
        readings[name] as (
          app: App,
          input: unknown,
          progress?: (done: number, total: number) => void,
        ) => unknown
      )(app, input, progress),
    )
    .deferred();
}

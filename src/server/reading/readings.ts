import type { TodayOut } from '../../contract/reports';
import type { RosterColumn } from '../../core/recruiting/roster';
import { listHistory } from '../affiliates/history';
import { listAffiliates, rosterPiece } from '../affiliates/roster';
import { listSegments } from '../affiliates/segments';
import { readAffiliate } from '../affiliates/service';
import type { Actor, App } from '../context';
import { wrongIn } from '../db/totals';
import { listCommissions, listEntries, readBalances } from '../ledger/service';
import { awaitedOf } from '../payouts/approve';
import { writtenFile } from '../payouts/file';
import { listLeftOut, listRunPayments, listRuns, readRun } from '../payouts/read';
import { listPolicies } from '../policy/service';
import { readHome } from '../portal/service';
import { listFunnels } from '../products/funnels';
import { listProducts } from '../products/service';
import { findProspects, type ProspectFilter } from '../prospects/search';
import { judgePast } from '../recruiting/rehearsal';
import { listRules } from '../recruiting/screening';
import { listApplications, readApplication } from '../recruiting/service';
import { search } from '../reports/search';
import { readCounts, readToday } from '../reports/today';
import { readRateBook } from '../terms/ratebook';
import { readSample } from '../terms/rehearsals';
import { listSets, previewRemoval } from '../terms/sets';
import { countReports, listReports } from '../tracking/connection';
import { listOrders, prepareReferences, readOrder, salesPiece } from '../tracking/orders';

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

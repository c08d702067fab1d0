import type { App } from '../ground/context';
import { readingsOf } from '../ground/reading/readings';
import { listCommissions, listEntries, readBalances } from './service';

/** The ledger, read beside the serving thread. */
export const ledgerReadings = readingsOf({
  entries: listEntries,
  commissions: listCommissions,
  balances: (app: App, _: object) => readBalances(app),
});

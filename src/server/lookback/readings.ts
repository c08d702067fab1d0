import type { TodayOut } from '../../contract/lookback/today';
import type { App } from '../ground/context';
import { readingsOf } from '../ground/reading/readings';
import { search } from './search/search';
import { readCounts, readToday } from './today/today';

/** Today and the search over everything, read beside the serving thread. */
export const lookbackReadings = readingsOf({
  today: (app: App, { troubles }: { troubles: TodayOut['waiting'] }) => readToday(app, troubles),
  counts: (app: App, { troubles }: { troubles: TodayOut['waiting'] }) => readCounts(app, troubles),
  search: (app: App, { q, stamp }: { q: string; stamp: number }) => search(app, q, stamp),
});

import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { countReports, listReports } from './report-log';

/** The log of reports, read beside the serving thread. */
export const connectionReadings = readingsOf({
  reports: listReports,
  reportCounts: (app: App, _: object) => countReports(app),
});

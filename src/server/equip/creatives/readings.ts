import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listCreativesPage, survey } from './list';
import { resultsOf } from './results';

/** The sample book, read beside the serving thread. */
export const creativeReadings = readingsOf({
  creatives: listCreativesPage,
  creativeResults: resultsOf,
  creativeSurvey: (app: App, _: object) => survey(app),
});

import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listCreativesPage, survey } from './list';

/** The sample book, read beside the serving thread. */
export const creativeReadings = readingsOf({
  creatives: listCreativesPage,
  creativeSurvey: (app: App, _: object) => survey(app),
});

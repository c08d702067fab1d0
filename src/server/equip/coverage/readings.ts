import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { readCoverage } from './coverage';

/** Coverage, read beside the serving thread. */
export const coverageReadings = readingsOf({
  coverage: (app: App, _: object) => readCoverage(app),
});

import type { QueryOf } from '../../../contract/endpoint';
import type { readTimeline as Timeline } from '../../../contract/setup/rate-book';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { readTimeline } from '../../setup/terms/timeline';
import { plannedTold } from './told';

/** The timeline with what is planned, read beside the serving thread: it tells every change there was. */
export const plannedReadings = readingsOf({
  timeline: (app: App, query: QueryOf<typeof Timeline>) => readTimeline(app, query, plannedTold(app)),
});

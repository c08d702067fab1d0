import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { readPublishing } from './publishing';

/** Whom practices are about, read beside the serving thread: it looks through all who are with us. */
export const practiceReadings = readingsOf({
  publishing: (app: App, { id }: { id: Id<'policy'> }) => readPublishing(app, id),
});

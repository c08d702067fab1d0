import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { judgePast } from './judge-past';
import { listRules } from './screening';
import { listApplications, readApplication } from './service';

/** Applications and the rules that screen them, read beside the serving thread. */
export const applicationReadings = readingsOf({
  applications: listApplications,
  application: (app: App, { id }: { id: Id<'application'> }) => readApplication(app, id),
  rules: (app: App, _: object) => listRules(app),
  rehearseRules: judgePast,
});

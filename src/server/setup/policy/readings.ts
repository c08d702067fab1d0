import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listPolicies, readPolicy } from './view';

/** The policy, read beside the serving thread. */
export const policyReadings = readingsOf({
  policies: (app: App, _: object) => listPolicies(app),
  policy: (app: App, { id }: { id: Id<'policy'> }) => readPolicy(app, id),
});

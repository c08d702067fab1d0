import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listPolicies } from './view';

/** The policy, read beside the serving thread. */
export const policyReadings = readingsOf({ policies: (app: App, _: object) => listPolicies(app) });

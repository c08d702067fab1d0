import type { Express } from 'express';
import * as contract from '../../../contract/setup/policy';
import { type App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { programmeOrNull } from '../../registers/programme/record';
import { policyReadings } from './readings';
import {
  acceptPolicy,
  draftPolicy,
  dropPolicy,
  editPolicy,
  publishPolicy,
  readOwnPolicy,
  readPolicy,
  readPublicPolicy,
} from './service';

export function policyRoutes(server: Express, app: App): void {
  serve(server, app, contract.listPolicies, () => app.reader.say(policyReadings.policies, {}));
  serve(server, app, contract.draftPolicy, ({ actor }) => draftPolicy(app, actor));
  serve(server, app, contract.readPolicy, ({ params }) => readPolicy(app, params.id));
  serve(server, app, contract.editPolicy, ({ actor, params, body }) =>
    editPolicy(app, actor, params.id, body),
  );
  serve(server, app, contract.dropPolicy, ({ actor, params }) => dropPolicy(app, actor, params.id));
  serve(server, app, contract.publishPolicy, ({ actor, params, body }) =>
    publishPolicy(app, actor, params.id, body.version),
  );
  serve(server, app, contract.readPublicPolicy, () => (programmeOrNull(app) ? readPublicPolicy(app) : null));
  serve(server, app, contract.readOwnPolicy, ({ actor }) => readOwnPolicy(app, actor.id));
  serve(server, app, contract.acceptPolicy, ({ actor, body }) => acceptPolicy(app, actor, body.policy));
}

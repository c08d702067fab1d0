import * as contract from '../../../contract/setup/policy';
import { asAffiliate } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { programmeOrNull } from '../../registers/programme/record';
import { acceptPolicy, readOwnPolicy } from './acceptance';
import { acceptByLink, readByLink } from './by-link';
import { draftPolicy, dropPolicy, editPolicy } from './draft';
import { publishPolicy } from './publish';
import { policyReadings } from './readings';
import { readPublicPolicy } from './view';

export function policyRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listPolicies, () => app.reader.say(policyReadings.policies, {}));
  serve(site, contract.draftPolicy, ({ actor }) => draftPolicy(app, actor));
  serve(site, contract.readPolicy, ({ params }) => app.reader.say(policyReadings.policy, { id: params.id }));
  serve(site, contract.editPolicy, ({ actor, params, body }) => editPolicy(app, actor, params.id, body));
  serve(site, contract.dropPolicy, ({ actor, params }) => dropPolicy(app, actor, params.id));
  serve(site, contract.publishPolicy, ({ actor, params, body }) =>
    publishPolicy(app, actor, params.id, body),
  );
  serve(site, contract.readPublicPolicy, () => (programmeOrNull(app) ? readPublicPolicy(app) : null));
  serve(site, contract.readPolicyByLink, ({ params }) => readByLink(app, params.token));
  serve(site, contract.acceptByLink, ({ params }) => acceptByLink(app, params.token));
  serve(site, contract.readOwnPolicy, ({ actor }) => readOwnPolicy(app, asAffiliate(actor)));
  serve(site, contract.acceptPolicy, ({ actor, body }) => acceptPolicy(app, actor, body.policy));
}

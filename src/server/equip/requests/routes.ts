import * as contract from '../../../contract/equip/requests';
import { asAffiliate } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import {
  answerRequest,
  askForMaterial,
  listOwnRequests,
  listRequests,
  reopenRequest,
  withdrawRequest,
} from './service';

export function requestRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listRequests, ({ query }) => listRequests(app, query));
  serve(
    site,
    contract.answerRequest,
    ({ actor, params, body }) => answerRequest(app, actor, params.id, body),
    { tried: true },
  );
  serve(site, contract.reopenRequest, ({ actor, params }) => reopenRequest(app, actor, params.id));
  serve(site, contract.listOwnRequests, ({ actor }) => listOwnRequests(app, asAffiliate(actor)));
  serve(site, contract.askForMaterial, ({ actor, body }) => askForMaterial(app, actor, body), {
    tried: true,
  });
  serve(site, contract.withdrawRequest, ({ actor, params }) => withdrawRequest(app, actor, params.id));
}

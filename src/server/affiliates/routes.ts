import type { Express } from 'express';
import * as contract from '../../contract/affiliates';
import type { App } from '../context';
import { serve } from '../http/serve';
import { giveUpBalance } from '../ledger/amend';
import { affiliateById, listAffiliates, moveAffiliate, readAffiliate, setTiming } from './service';

export function affiliateRoutes(server: Express, app: App): void {
  serve(server, app, contract.listAffiliates, ({ query }) => listAffiliates(app, query));
  serve(server, app, contract.readAffiliate, ({ params }) => readAffiliate(app, params.id));
  serve(server, app, contract.moveAffiliate, ({ actor, params, body }) => moveAffiliate(app, actor, params.id, body.state, body.reason, body.version));
  serve(server, app, contract.giveUpBalance, ({ actor, params, body }) => {
    affiliateById(app, params.id);
    giveUpBalance(app, actor, params.id, body.reason.trim());
    return readAffiliate(app, params.id);
  });
  serve(server, app, contract.setTiming, ({ actor, params, body }) => setTiming(app, actor, params.id, body.timing, body.version));
}

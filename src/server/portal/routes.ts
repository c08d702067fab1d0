import * as contract from '../../contract/portal/portal';
import { asAffiliate } from '../ground/context';
import { FileAnswer, serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { paymentsOf, statementOf } from '../settle/runs/read';
import { chooseCard } from '../setup/terms/cards';
import { portalReadings } from './readings';
import { listEarnings, readDetails, readEarning, setDetails } from './service';

export function portalRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readPortalHome, ({ actor }) =>
    app.reader.say(portalReadings.portalHome, { affiliate: asAffiliate(actor) }),
  );
  serve(site, contract.chooseCard, ({ actor, body }) => chooseCard(app, actor, body.card));
  serve(site, contract.listEarnings, ({ actor, query }) => listEarnings(app, asAffiliate(actor), query));
  serve(site, contract.readEarning, ({ actor, params }) => readEarning(app, asAffiliate(actor), params.id));
  serve(site, contract.listOwnPayments, ({ actor }) => ({ rows: paymentsOf(app, asAffiliate(actor)) }));
  serve(site, contract.ownStatement, ({ actor, params }) => {
    const { name, content } = statementOf(app, params.id, asAffiliate(actor));
    return new FileAnswer(name, content);
  });
  serve(site, contract.readDetails, ({ actor }) =>
    readDetails(app, asAffiliate(actor), 'looking' in actor && actor.looking),
  );
  serve(site, contract.setDetails, ({ actor, body }) => setDetails(app, actor, body));
}

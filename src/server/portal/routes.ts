import * as contract from '../../contract/portal/portal';
import { FileAnswer, serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { paymentsOf, statementOf } from '../settle/runs/read';
import { chooseCard } from '../setup/terms/cards';
import { portalReadings } from './readings';
import { listEarnings, readDetails, readEarning, setDetails } from './service';

export function portalRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.readPortalHome, ({ actor }) =>
    app.reader.say(portalReadings.portalHome, { affiliate: actor.id }),
  );
  serve(site, contract.chooseCard, ({ actor, body }) => chooseCard(app, actor, body.card));
  serve(site, contract.listEarnings, ({ actor, query }) => listEarnings(app, actor.id, query));
  serve(site, contract.readEarning, ({ actor, params }) => readEarning(app, actor.id, params.id));
  serve(site, contract.listOwnPayments, ({ actor }) => ({ rows: paymentsOf(app, actor.id) }));
  serve(site, contract.ownStatement, ({ actor, params }) => {
    const { name, content } = statementOf(app, params.id, actor.id);
    return new FileAnswer(name, content);
  });
  serve(site, contract.readDetails, ({ actor }) => readDetails(app, actor.id, actor.looking));
  serve(site, contract.setDetails, ({ actor, body }) => setDetails(app, actor, body));
}

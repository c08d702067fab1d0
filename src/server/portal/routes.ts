import * as figures from '../../contract/portal/figures';
import * as letters from '../../contract/portal/messages';
import * as contract from '../../contract/portal/portal';
import { asAffiliate } from '../ground/context';
import { FileAnswer, serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { paymentsOf, statementOf } from '../settle/runs/read';
import { chooseCard } from '../setup/terms/cards';
import { countOwnMessages, listOwnMessages, noteRead } from './messages';
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
  serve(site, figures.readOwnFigures, ({ actor, query }) =>
    app.reader.say(portalReadings.ownFigures, { affiliate: asAffiliate(actor), query }),
  );
  serve(site, figures.exportOwnFigures, async ({ actor, query }) => {
    const asked = { affiliate: asAffiliate(actor), query };
    return new FileAnswer('figures.csv', await app.reader.ask(portalReadings.figuresCsv, asked));
  });
  serve(site, letters.listOwnMessages, ({ actor, query }) => listOwnMessages(app, asAffiliate(actor), query));
  serve(site, letters.countOwnMessages, ({ actor }) => countOwnMessages(app, asAffiliate(actor)));
  serve(site, letters.readOwnMessages, ({ actor }) => noteRead(app, asAffiliate(actor)));
  serve(site, contract.readDetails, ({ actor }) =>
    readDetails(app, asAffiliate(actor), 'looking' in actor && actor.looking),
  );
  serve(site, contract.setDetails, ({ actor, body }) => setDetails(app, actor, body));
}

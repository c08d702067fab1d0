import type { Express } from 'express';
import * as contract from '../../contract/portal/portal';
import type { App } from '../ground/context';
import { FileAnswer, serve } from '../ground/http/serve';
import { paymentsOf, statementOf } from '../settle/runs/read';
import { chooseCard } from '../setup/terms/members';
import { portalReadings } from './readings';
import { listEarnings, readDetails, readEarning, setDetails } from './service';

export function portalRoutes(server: Express, app: App): void {
  serve(server, app, contract.readPortalHome, ({ actor }) =>
    app.reader.say(portalReadings.portalHome, { affiliate: actor.id }),
  );
  serve(server, app, contract.chooseCard, ({ actor, body }) => chooseCard(app, actor, body.card));
  serve(server, app, contract.listEarnings, ({ actor, query }) => listEarnings(app, actor.id, query));
  serve(server, app, contract.readEarning, ({ actor, params }) => readEarning(app, actor.id, params.id));
  serve(server, app, contract.listOwnPayments, ({ actor }) => ({ rows: paymentsOf(app, actor.id) }));
  serve(server, app, contract.ownStatement, ({ actor, params }) => {
    const { name, content } = statementOf(app, params.id, actor.id);
    return new FileAnswer(name, content);
  });
  serve(server, app, contract.readDetails, ({ actor }) => readDetails(app, actor.id, actor.looking));
  serve(server, app, contract.setDetails, ({ actor, body }) => setDetails(app, actor, body));
}

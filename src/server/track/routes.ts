import * as connectionCalls from '../../contract/track/connection';
import * as pagesCalls from '../../contract/track/pages';
import * as salesCalls from '../../contract/track/sales';
import * as unconfirmedCalls from '../../contract/track/unconfirmed';
import { countryIn } from '../../core/money/countries';
import { csvByPieces } from '../ground/http/csv';
import { PiecesAnswer, serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { clearTests } from './connection/clear-tests';
import { createKey, readConnection, renewKey, revealKey, switchPictures } from './connection/connection';
import { connectionReadings } from './connection/readings';
import { readReport } from './connection/report-log';
import { downloadRoutes } from './orders/downloads';
import { downloadsNow, salesColumns } from './orders/orders';
import { confirmPictured, listPictured, setPicturedAside } from './orders/pictured';
import { orderReadings } from './orders/readings';
import { readConfirmation, readOffer } from './quotes/quotes';

export function trackingRoutes(site: Site): void {
  const { app } = site;
  serve(site, connectionCalls.readConnection, () => readConnection(app));
  serve(site, connectionCalls.createKey, ({ actor, body }) => createKey(app, actor, body.label));
  serve(site, connectionCalls.renewKey, ({ actor, params }) => renewKey(app, actor, params.id));
  serve(site, connectionCalls.revealKey, ({ actor, params }) => revealKey(app, actor, params.id));
  serve(site, connectionCalls.switchPictures, ({ actor, params, body }) =>
    switchPictures(app, actor, params.id, body.on),
  );
  serve(site, unconfirmedCalls.listUnconfirmed, ({ query }) => listPictured(app, query));
  serve(site, unconfirmedCalls.confirmUnconfirmed, ({ actor, params }) =>
    confirmPictured(app, actor, params.id),
  );
  serve(site, unconfirmedCalls.setUnconfirmedAside, ({ actor, params, body }) =>
    setPicturedAside(app, actor, params.id, body.note.trim()),
  );
  serve(site, connectionCalls.clearTests, ({ actor }) => clearTests(app, actor));
  // read by pages of the shop, in buyers' browsers
  const forPages = {
    'access-control-allow-origin': '*',
    'cross-origin-resource-policy': 'cross-origin',
    'cache-control': 'no-store',
  };
  serve(site, pagesCalls.readProductOffer, ({ params, query, req, res }) => {
    res.set(forPages).vary('accept-language');
    return readOffer(app, params.id, query.country ?? countryIn(req.get('accept-language')));
  });
  serve(site, pagesCalls.readConfirmation, ({ query, res }) => {
    res.set(forPages);
    return readConfirmation(app, query.bought);
  });
  downloadRoutes(site);
  serve(site, connectionCalls.listReports, ({ query }) => app.reader.say(connectionReadings.reports, query));
  serve(site, connectionCalls.readReport, ({ params }) => readReport(app, params.id));
  const { reader } = app;
  serve(site, salesCalls.exportOrders, ({ query }) =>
    Promise.resolve(
      new PiecesAnswer(
        'sales.csv',
        csvByPieces(salesColumns, (after) =>
          reader.ask(
            orderReadings.salesPiece,
            { ...query, ...(after === undefined ? {} : { after }) },
            'export',
          ),
        ),
      ),
    ),
  );
  serve(site, salesCalls.listOrders, ({ query }) => reader.say(orderReadings.orders, query));
  serve(site, salesCalls.readOrder, async ({ params }) => {
    const found = await reader.ask(orderReadings.order, params);
    return { ...found, downloads: downloadsNow(app, found.row) };
  });
}

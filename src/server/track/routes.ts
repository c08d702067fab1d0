import * as contract from '../../contract/track/tracking';
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
  serve(site, contract.readConnection, () => readConnection(app));
  serve(site, contract.createKey, ({ actor, body }) => createKey(app, actor, body.label));
  serve(site, contract.renewKey, ({ actor, params }) => renewKey(app, actor, params.id));
  serve(site, contract.revealKey, ({ actor, params }) => revealKey(app, actor, params.id));
  serve(site, contract.switchPictures, ({ actor, params, body }) =>
    switchPictures(app, actor, params.id, body.on),
  );
  serve(site, contract.listUnconfirmed, ({ query }) => listPictured(app, query));
  serve(site, contract.confirmUnconfirmed, ({ actor, params }) => confirmPictured(app, actor, params.id));
  serve(site, contract.setUnconfirmedAside, ({ actor, params, body }) =>
    setPicturedAside(app, actor, params.id, body.note.trim()),
  );
  serve(site, contract.clearTests, ({ actor }) => clearTests(app, actor));
  // read by pages of the shop, in buyers' browsers
  const forPages = {
    'access-control-allow-origin': '*',
    'cross-origin-resource-policy': 'cross-origin',
    'cache-control': 'no-store',
  };
  serve(site, contract.readOffer, ({ params, query, req, res }) => {
    res.set(forPages).vary('accept-language');
    return readOffer(app, params.id, query.country ?? countryIn(req.get('accept-language')));
  });
  serve(site, contract.readConfirmation, ({ query, res }) => {
    res.set(forPages);
    return readConfirmation(app, query.bought);
  });
  downloadRoutes(site);
  serve(site, contract.listReports, ({ query }) => app.reader.say(connectionReadings.reports, query));
  serve(site, contract.readReport, ({ params }) => readReport(app, params.id));
  const { reader } = app;
  serve(site, contract.exportOrders, ({ query }) =>
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
  serve(site, contract.listOrders, ({ query }) => reader.say(orderReadings.orders, query));
  serve(site, contract.readOrder, async ({ params }) => {
    const found = await reader.ask(orderReadings.order, params);
    return { ...found, downloads: downloadsNow(app, found.row) };
  });
}

import type { Express } from 'express';
import * as contract from '../../contract/track/tracking';
import { countryIn } from '../../core/money/countries';
import type { App } from '../ground/context';
import { csvByPieces } from '../ground/http/csv';
import { PiecesAnswer, serve } from '../ground/http/serve';
import { clearTests } from './connection/clear-tests';
import { createKey, readConnection, renewKey, revealKey, switchPictures } from './connection/connection';
import { connectionReadings } from './connection/readings';
import { readReport } from './connection/report-log';
import { downloadRoutes } from './orders/downloads';
import { downloadsNow, salesColumns } from './orders/orders';
import { confirmPictured, listPictured, setPicturedAside } from './orders/pictured';
import { orderReadings } from './orders/readings';
import { readConfirmation, readOffer } from './quotes/quotes';

export function trackingRoutes(server: Express, app: App): void {
  serve(server, app, contract.readConnection, () => readConnection(app));
  serve(server, app, contract.createKey, ({ actor, body }) => createKey(app, actor, body.label));
  serve(server, app, contract.renewKey, ({ actor, params }) => renewKey(app, actor, params.id));
  serve(server, app, contract.revealKey, ({ actor, params }) => revealKey(app, actor, params.id));
  serve(server, app, contract.switchPictures, ({ actor, params, body }) =>
    switchPictures(app, actor, params.id, body.on),
  );
  serve(server, app, contract.listUnconfirmed, ({ query }) => listPictured(app, query));
  serve(server, app, contract.confirmUnconfirmed, ({ actor, params }) =>
    confirmPictured(app, actor, params.id),
  );
  serve(server, app, contract.setUnconfirmedAside, ({ actor, params, body }) =>
    setPicturedAside(app, actor, params.id, body.note.trim()),
  );
  serve(server, app, contract.clearTests, ({ actor }) => clearTests(app, actor));
  // read by pages of the shop, in buyers' browsers
  const forPages = {
    'access-control-allow-origin': '*',
    'cross-origin-resource-policy': 'cross-origin',
    'cache-control': 'no-store',
  };
  serve(server, app, contract.readOffer, ({ params, query, req, res }) => {
    res.set(forPages).vary('accept-language');
    return readOffer(app, params.id, query.country ?? countryIn(req.get('accept-language')));
  });
  serve(server, app, contract.readConfirmation, ({ query, res }) => {
    res.set(forPages);
    return readConfirmation(app, query.bought);
  });
  downloadRoutes(server, app);
  serve(server, app, contract.listReports, ({ query }) => app.reader.say(connectionReadings.reports, query));
  serve(server, app, contract.readReport, ({ params }) => readReport(app, params.id));
  const { reader } = app;
  serve(server, app, contract.exportOrders, ({ query }) =>
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
  serve(server, app, contract.listOrders, ({ query }) => reader.say(orderReadings.orders, query));
  serve(server, app, contract.readOrder, async ({ params }) => {
    const found = await reader.ask(orderReadings.order, params);
    return { ...found, downloads: downloadsNow(app, found.row) };
  });
}

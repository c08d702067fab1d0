import type { Express } from 'express';
import * as contract from '../../../contract/recruit/affiliates';
import * as roster from '../../../contract/recruit/roster';
import type { App } from '../../ground/context';
import { csvByPieces } from '../../ground/http/csv';
import { PiecesAnswer, serve } from '../../ground/http/serve';
import { giveUpBalance } from '../../ledger/amend';
import { affiliateById } from '../../registers/people/record';
import { dropTrust, giveTrust, trustOf } from '../applications/trust';
import { doBulk, previewBulk, setSorting, undoBulk } from './bulk';
import { previewImport, runImport } from './import';
import { rosterReadings } from './readings';
import { readColumns, rosterColumnTitles } from './roster';
import { removeSegment, saveSegment } from './segments';
import { moveAffiliate, readAffiliate, setTiming } from './service';

export function affiliateRoutes(server: Express, app: App): void {
  serve(server, app, roster.listAffiliates, ({ query }) => app.reader.say(rosterReadings.roster, query));
  serve(server, app, roster.exportAffiliates, ({ query: { columns, ...filter } }) => {
    const chosen = readColumns(columns);
    const piece = (after: string | undefined) =>
      app.reader.ask(
        rosterReadings.rosterPiece,
        { columns: chosen, filter: { ...filter, ...(after === undefined ? {} : { after }) } },
        'export',
      );
    return Promise.resolve(
      new PiecesAnswer('affiliates.csv', csvByPieces(rosterColumnTitles(app, chosen), piece)),
    );
  });
  serve(server, app, roster.listSegments, () => app.reader.say(rosterReadings.segments, {}));
  serve(server, app, roster.saveSegment, ({ actor, body }) => saveSegment(app, actor, body));
  serve(server, app, roster.removeSegment, ({ actor, params, body }) =>
    removeSegment(app, actor, params.id, body.on),
  );
  serve(server, app, roster.previewBulk, ({ body }) => previewBulk(app, body));
  serve(server, app, roster.doBulk, ({ actor, body }) => doBulk(app, actor, body));
  serve(server, app, roster.undoBulk, ({ actor, params }) => undoBulk(app, actor, params.id));
  serve(server, app, roster.previewImport, ({ body }) => previewImport(app, body.csv));
  serve(server, app, roster.runImport, ({ actor, body }) => runImport(app, actor, body));
  serve(
    server,
    app,
    roster.setSorting,
    ({ actor, params, body }) => setSorting(app, actor, params.id, body),
    { tried: true },
  );
  serve(server, app, roster.setTrust, ({ actor, params, body }) => {
    affiliateById(app, params.id);
    if (body.on) giveTrust(app, actor, params.id, body);
    else dropTrust(app, actor, params.id);
    return trustOf(app, params.id);
  });
  serve(server, app, contract.readAffiliate, ({ params }) =>
    app.reader.say(rosterReadings.affiliate, params),
  );
  serve(server, app, contract.listHistory, ({ params, query }) =>
    app.reader.say(rosterReadings.history, { id: params.id, query }),
  );
  serve(server, app, contract.moveAffiliate, ({ actor, params, body }) =>
    moveAffiliate(app, actor, params.id, body.state, body.reason, body.version),
  );
  serve(server, app, contract.giveUpBalance, ({ actor, params, body }) => {
    affiliateById(app, params.id);
    giveUpBalance(app, actor, params.id, body.reason.trim());
    return readAffiliate(app, params.id);
  });
  serve(server, app, contract.setTiming, ({ actor, params, body }) =>
    setTiming(app, actor, params.id, body.timing, body.version),
  );
}

import * as contract from '../../../contract/recruit/affiliates';
import * as roster from '../../../contract/recruit/roster';
import { csvByPieces } from '../../ground/http/csv';
import { PiecesAnswer, serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { giveUpBalance } from '../../ledger/amend';
import { affiliateById } from '../../registers/people/record';
import { dropTrust, giveTrust, trustOf } from '../applications/trust';
import { doBulk, previewBulk, setSorting, undoBulk } from './bulk';
import { previewImport, runImport } from './import';
import { rosterReadings } from './readings';
import { readColumns, rosterColumnTitles } from './roster';
import { removeSegment, saveSegment } from './segments';
import { moveAffiliate, readAffiliate, setTiming } from './service';

export function affiliateRoutes(site: Site): void {
  const { app } = site;
  serve(site, roster.listAffiliates, ({ query }) => app.reader.say(rosterReadings.roster, query));
  serve(site, roster.exportAffiliates, ({ query: { columns, ...filter } }) => {
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
  serve(site, roster.listSegments, () => app.reader.say(rosterReadings.segments, {}));
  serve(site, roster.saveSegment, ({ actor, body }) => saveSegment(app, actor, body));
  serve(site, roster.removeSegment, ({ actor, params, body }) =>
    removeSegment(app, actor, params.id, body.on),
  );
  serve(site, roster.previewBulk, ({ body }) => previewBulk(app, body));
  serve(site, roster.doBulk, ({ actor, body }) => doBulk(app, actor, body));
  serve(site, roster.undoBulk, ({ actor, params }) => undoBulk(app, actor, params.id));
  serve(site, roster.previewImport, ({ body }) => previewImport(app, body.csv));
  serve(site, roster.runImport, ({ actor, body }) => runImport(app, actor, body));
  serve(site, roster.setSorting, ({ actor, params, body }) => setSorting(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, roster.setTrust, ({ actor, params, body }) => {
    affiliateById(app, params.id);
    if (body.on) giveTrust(app, actor, params.id, body);
    else dropTrust(app, actor, params.id);
    return trustOf(app, params.id);
  });
  serve(site, contract.readAffiliate, ({ params }) => app.reader.say(rosterReadings.affiliate, params));
  serve(site, contract.listHistory, ({ params, query }) =>
    app.reader.say(rosterReadings.history, { id: params.id, query }),
  );
  serve(site, contract.moveAffiliate, ({ actor, params, body }) =>
    moveAffiliate(app, actor, params.id, { to: body.state, reason: body.reason, version: body.version }),
  );
  serve(site, contract.giveUpBalance, ({ actor, params, body }) => {
    affiliateById(app, params.id);
    giveUpBalance(app, actor, params.id, body.reason.trim());
    return readAffiliate(app, params.id);
  });
  serve(site, contract.setTiming, ({ actor, params, body }) =>
    setTiming(app, actor, params.id, { timing: body.timing, version: body.version }),
  );
}

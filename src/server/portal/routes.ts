import * as figures from '../../contract/portal/figures';
import * as home from '../../contract/portal/home';
import * as letters from '../../contract/portal/messages';
import * as contract from '../../contract/portal/portal';
import * as profile from '../../contract/portal/profile';
import * as offers from '../../contract/recruit/offers';
import { asAffiliate, type Actor } from '../ground/context';
import { csvByPieces } from '../ground/http/csv';
import { FileAnswer, PiecesAnswer, serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { answerOwn } from '../recruit/applications/questions';
import { endOtherSessions } from '../registers/access/session';
import { paymentsOf, statementOf } from '../settle/runs/read';
import { chooseCard } from '../setup/terms/cards';
import { readDetails, setDetails } from './details';
import { earningsColumns, readEarning } from './earnings';
import { countOwnMessages, listOwnMessages, noteRead } from './messages';
import { readProfile, setProfile } from './profile';
import { portalReadings } from './readings';

/** What was earned: page by page, by state, each with its working, and as a file. */
function earningRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listEarnings, ({ actor, query }) =>
    app.reader.say(portalReadings.earnings, { affiliate: asAffiliate(actor), query }),
  );
  serve(site, contract.sumEarnings, ({ actor, query }) =>
    app.reader.say(portalReadings.earningSums, { affiliate: asAffiliate(actor), query }),
  );
  serve(site, contract.exportEarnings, ({ actor, query }) => {
    const affiliate = asAffiliate(actor);
    const piece = (after: string | undefined) =>
      app.reader.ask(
        portalReadings.earningsPiece,
        { affiliate, query: { ...query, ...(after === undefined ? {} : { after }) } },
        'export',
      );
    return Promise.resolve(new PiecesAnswer('earnings.csv', csvByPieces(earningsColumns, piece)));
  });
  serve(site, contract.readEarning, ({ actor, params }) => readEarning(app, asAffiliate(actor), params.id));
}

/** Who one is, where one is signed in, where one is paid. */
function detailRoutes(site: Site): void {
  const { app } = site;
  const isLooking = (actor: Actor) => 'looking' in actor && actor.looking === true;
  serve(site, profile.readOwnProfile, ({ actor, req }) =>
    readProfile(app, asAffiliate(actor), isLooking(actor) ? null : req),
  );
  serve(site, profile.setOwnProfile, ({ actor, body, req }) => setProfile(app, actor, body, req));
  serve(site, profile.endOtherSessions, ({ actor, req }) => ({
    ended: endOtherSessions(app, req, asAffiliate(actor)),
  }));
  serve(site, contract.readDetails, ({ actor }) => readDetails(app, asAffiliate(actor), isLooking(actor)));
  serve(site, contract.setDetails, ({ actor, body }) => setDetails(app, actor, body));
}

export function portalRoutes(site: Site): void {
  earningRoutes(site);
  detailRoutes(site);
  const { app } = site;
  serve(site, home.readPortalHome, ({ actor }) =>
    app.reader.say(portalReadings.portalHome, { affiliate: asAffiliate(actor) }),
  );
  serve(site, offers.readResources, ({ actor }) =>
    app.reader.say(portalReadings.resources, { affiliate: asAffiliate(actor) }),
  );
  serve(site, home.chooseCard, ({ actor, body }) => chooseCard(app, actor, body.card));
  serve(site, home.answerOwnQuestion, ({ actor, params, body }) =>
    answerOwn(app, actor, params.id, body.answer),
  );
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
}

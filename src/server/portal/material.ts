import * as coupons from '../../contract/portal/coupons';
import * as pages from '../../contract/portal/links';
import * as contract from '../../contract/portal/material';
import { letterFile } from '../equip/links/letter';
import { takeOwnCoupon } from '../equip/links/own-coupons';
import { listPageLinks, makePageLink, surveyPageLinks } from '../equip/links/pages';
import { showOwn, takeOwn } from '../equip/links/take';
import { asAffiliate, type Actor } from '../ground/context';
import { FileAnswer, serve } from '../ground/http/serve';
import type { Site } from '../ground/http/site';
import { portalReadings } from './readings';
import { noteHere, seenBefore } from './seen';

/** What an affiliate promotes with, and its links of it. */
export function portalMaterialRoutes(site: Site): void {
  const { app } = site;
  const asked = (actor: Actor) => {
    const affiliate = asAffiliate(actor);
    return { affiliate, before: seenBefore(app, affiliate) };
  };
  serve(site, contract.listOwnMaterial, ({ actor, query }) =>
    app.reader.say(portalReadings.ownMaterial, { asked: asked(actor), query }),
  );
  serve(site, contract.surveyOwnMaterial, ({ actor }) =>
    app.reader.say(portalReadings.ownMaterialSurvey, asked(actor)),
  );
  serve(site, contract.readOwnMaterial, ({ actor, params }) => showOwn(app, asked(actor), params.id));
  serve(site, contract.takeOwnMaterial, ({ actor, params }) => takeOwn(app, asked(actor), params.id));
  serve(
    site,
    contract.ownLetter,
    async ({ actor, params, query }) =>
      new FileAnswer(
        'letter.eml',
        await letterFile(app, asAffiliate(actor), params.id, {
          number: query.subject ?? 1,
          looking: 'looking' in actor && actor.looking === true,
        }),
      ),
  );
  serve(site, coupons.listOwnCoupons, ({ actor }) => app.reader.say(portalReadings.ownCoupons, asked(actor)));
  serve(site, coupons.takeOwnCoupon, ({ actor, params }) => takeOwnCoupon(app, asked(actor), params.id));
  serve(site, pages.listPageLinks, ({ actor, query }) => listPageLinks(app, asAffiliate(actor), query));
  serve(site, pages.surveyPageLinks, ({ actor }) => surveyPageLinks(app, asAffiliate(actor)));
  serve(site, pages.makePageLink, ({ actor, body }) => makePageLink(app, asAffiliate(actor), body));
  serve(site, contract.noteSeen, ({ actor }) => noteHere(app, asAffiliate(actor)));
}

import * as contract from '../../../contract/recruit/offers';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { staffOf } from '../../registers/access/session';
import { answerReviewer, compareOffer, submitOffer } from './catalogue';
import { createNotice, listNotices, putNoticeAway } from './notices';
import { createOffer, editOffer, listOffers, openOffer, readOffer, removeOffer } from './service';

export function offerRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listOffers, () => listOffers(app));
  serve(site, contract.createOffer, ({ actor, body }) => createOffer(app, actor, body), {
    tried: true,
  });
  serve(site, contract.editOffer, ({ actor, params, body }) => editOffer(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, contract.showOffer, ({ actor, params, body }) =>
    openOffer(app, actor, params.id, { on: body.on, version: body.version }),
  );
  serve(site, contract.removeOffer, ({ actor, params }) => removeOffer(app, actor, params.id));
  serve(site, contract.submitOffer, ({ actor, params }) => submitOffer(app, actor, params.id));
  serve(site, contract.answerReviewer, ({ actor, params, body }) =>
    answerReviewer(app, actor, params.id, body.text),
  );
  serve(site, contract.compareOffer, ({ params }) => compareOffer(app, params.id));
  serve(site, contract.listNotices, () => listNotices(app));
  serve(site, contract.createNotice, ({ actor, body }) => createNotice(app, actor, body));
  serve(site, contract.removeNotice, ({ actor, params, body }) =>
    putNoticeAway(app, actor, params.id, body.on),
  );
  serve(site, contract.readOffer, ({ params, req }) =>
    readOffer(app, params.slug, staffOf(app, req) !== null),
  );
}

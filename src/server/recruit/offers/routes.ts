import type { Express } from 'express';
import * as contract from '../../../contract/recruit/offers';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { staffOf } from '../../registers/access/session';
import { answerReviewer, compareOffer, submitOffer } from './catalogue';
import {
  createNotice,
  createOffer,
  editOffer,
  listNotices,
  listOffers,
  openOffer,
  putNoticeAway,
  readOffer,
  readResources,
  removeOffer,
} from './service';

export function offerRoutes(server: Express, app: App): void {
  serve(server, app, contract.listOffers, () => listOffers(app));
  serve(server, app, contract.createOffer, ({ actor, body }) => createOffer(app, actor, body), {
    tried: true,
  });
  serve(
    server,
    app,
    contract.editOffer,
    ({ actor, params, body }) => editOffer(app, actor, params.id, body),
    { tried: true },
  );
  serve(server, app, contract.showOffer, ({ actor, params, body }) =>
    openOffer(app, actor, params.id, body.on, body.version),
  );
  serve(server, app, contract.removeOffer, ({ actor, params }) => removeOffer(app, actor, params.id));
  serve(server, app, contract.submitOffer, ({ actor, params }) => submitOffer(app, actor, params.id));
  serve(server, app, contract.answerReviewer, ({ actor, params, body }) =>
    answerReviewer(app, actor, params.id, body.text),
  );
  serve(server, app, contract.compareOffer, ({ params }) => compareOffer(app, params.id));
  serve(server, app, contract.listNotices, () => listNotices(app));
  serve(server, app, contract.createNotice, ({ actor, body }) => createNotice(app, actor, body));
  serve(server, app, contract.removeNotice, ({ actor, params, body }) =>
    putNoticeAway(app, actor, params.id, body.on),
  );
  serve(server, app, contract.readOffer, ({ params, req }) =>
    readOffer(app, params.slug, staffOf(app, req) !== null),
  );
  serve(server, app, contract.readResources, ({ actor }) => readResources(app, actor.id));
}

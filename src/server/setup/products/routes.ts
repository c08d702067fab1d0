import * as funnel from '../../../contract/setup/funnels';
import * as contract from '../../../contract/setup/products';
import { serve } from '../../ground/http/serve';
import type { Site } from '../../ground/http/site';
import { dropPicture, pictureRoutes, setFile, setPicture } from '../../registers/catalogue/files';
import { previewOf } from './announce';
import { copyProduct } from './copy';
import { createFunnel, editFunnel, removeFunnel } from './funnels';
import { productReadings } from './readings';
import { checkPages, createProduct, editProduct, moveProduct } from './service';
import { readProduct } from './view';

export function productRoutes(site: Site): void {
  const { app } = site;
  serve(site, contract.listProducts, ({ query }) => app.reader.say(productReadings.products, query));
  serve(site, contract.readProduct, ({ params }) => readProduct(app, params.id));
  serve(site, contract.createProduct, ({ actor, body }) => createProduct(app, actor, body), {
    tried: true,
  });
  serve(site, contract.editProduct, ({ actor, params, body }) => editProduct(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, contract.checkPages, ({ params }) => checkPages(app, params.id));
  serve(site, contract.setPicture, async ({ actor, params, query, req }) => {
    await setPicture(app, actor, params.id, { name: query.name, bytes: req.body as Buffer });
    return readProduct(app, params.id);
  });
  serve(site, contract.dropPicture, ({ actor, params }) => {
    dropPicture(app, actor, params.id);
    return readProduct(app, params.id);
  });
  serve(site, contract.setFile, ({ actor, params, query, req }) => {
    setFile(app, actor, params.id, { name: query.name, bytes: req.body as Buffer });
    return readProduct(app, params.id);
  });
  pictureRoutes(site);
  serve(site, contract.copyProduct, ({ actor, params }) => copyProduct(app, actor, params.id));
  serve(site, funnel.listFunnels, () => app.reader.say(productReadings.funnels, {}));
  serve(site, funnel.createFunnel, ({ actor, body }) => createFunnel(app, actor, body), {
    tried: true,
  });
  serve(site, funnel.editFunnel, ({ actor, params, body }) => editFunnel(app, actor, params.id, body), {
    tried: true,
  });
  serve(site, funnel.removeFunnel, ({ actor, params, body }) =>
    removeFunnel(app, actor, params.id, body.version),
  );
  serve(site, contract.previewChange, ({ params, query }) => previewOf(app, params.id, query));
  serve(site, contract.moveProduct, ({ actor, params, body }) =>
    moveProduct(app, actor, params.id, { to: body.state, version: body.version }),
  );
}

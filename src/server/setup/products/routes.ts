import type { Express } from 'express';
import * as funnel from '../../../contract/setup/funnels';
import * as contract from '../../../contract/setup/products';
import type { App } from '../../ground/context';
import { serve } from '../../ground/http/serve';
import { dropPicture, pictureRoutes, setFile, setPicture } from '../../registers/catalogue/files';
import { createFunnel, editFunnel, removeFunnel } from './funnels';
import { productReadings } from './readings';
import { checkPages, copyProduct, createProduct, editProduct, moveProduct, readProduct } from './service';

export function productRoutes(server: Express, app: App): void {
  serve(server, app, contract.listProducts, ({ query }) => app.reader.say(productReadings.products, query));
  serve(server, app, contract.readProduct, ({ params }) => readProduct(app, params.id));
  serve(server, app, contract.createProduct, ({ actor, body }) => createProduct(app, actor, body), {
    tried: true,
  });
  serve(
    server,
    app,
    contract.editProduct,
    ({ actor, params, body }) => editProduct(app, actor, params.id, body),
    { tried: true },
  );
  serve(server, app, contract.checkPages, ({ params }) => checkPages(app, params.id));
  serve(server, app, contract.setPicture, async ({ actor, params, query, req }) => {
    await setPicture(app, actor, params.id, query.name, req.body as Buffer);
    return readProduct(app, params.id);
  });
  serve(server, app, contract.dropPicture, ({ actor, params }) => {
    dropPicture(app, actor, params.id);
    return readProduct(app, params.id);
  });
  serve(server, app, contract.setFile, ({ actor, params, query, req }) => {
    setFile(app, actor, params.id, query.name, req.body as Buffer);
    return readProduct(app, params.id);
  });
  pictureRoutes(server, app);
  serve(server, app, contract.copyProduct, ({ actor, params }) => copyProduct(app, actor, params.id));
  serve(server, app, funnel.listFunnels, () => app.reader.say(productReadings.funnels, {}));
  serve(server, app, funnel.createFunnel, ({ actor, body }) => createFunnel(app, actor, body), {
    tried: true,
  });
  serve(
    server,
    app,
    funnel.editFunnel,
    ({ actor, params, body }) => editFunnel(app, actor, params.id, body),
    { tried: true },
  );
  serve(server, app, funnel.removeFunnel, ({ actor, params, body }) =>
    removeFunnel(app, actor, params.id, body.version),
  );
  serve(server, app, contract.moveProduct, ({ actor, params, body }) =>
    moveProduct(app, actor, params.id, body.state, body.version),
  );
}

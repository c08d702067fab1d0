import type { Express } from 'express';
import * as contract from '../../contract/products';
import type { App } from '../context';
import { serve } from '../http/serve';
import { copyProduct, createProduct, editProduct, listProducts, moveProduct, readProduct } from './service';

export function productRoutes(server: Express, app: App): void {
  serve(server, app, contract.listProducts, ({ query }) => listProducts(app, query));
  serve(server, app, contract.readProduct, ({ params }) => readProduct(app, params.id));
  serve(server, app, contract.createProduct, ({ actor, body }) => createProduct(app, actor, body));
  serve(server, app, contract.editProduct, ({ actor, params, body }) => editProduct(app, actor, params.id, body));
  serve(server, app, contract.copyProduct, ({ actor, params }) => copyProduct(app, actor, params.id));
  serve(server, app, contract.moveProduct, ({ actor, params, body }) => moveProduct(app, actor, params.id, body.state, body.version));
}

import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listFunnels } from './funnels';
import { listProducts } from './view';

/** Products and funnels, read beside the serving thread. */
export const productReadings = readingsOf({
  products: listProducts,
  funnels: (app: App, _: object) => listFunnels(app),
});

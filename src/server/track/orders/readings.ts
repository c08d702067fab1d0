import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { readingsOf } from '../../ground/reading/readings';
import { listOrders, prepareReferences, readOrder, salesPiece } from './orders';

/** Sales, read beside the serving thread. */
export const orderReadings = readingsOf({
  order: (app: App, { id }: { id: Id<'order'> }) => readOrder(app, id),
  orders: listOrders,
  salesPiece,
  /** reads on, a piece with each question, what searching keeps in memory; whether there is more */
  prepare: (app: App, _: object) => prepareReferences(app),
});

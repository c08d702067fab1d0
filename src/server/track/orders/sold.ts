import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { countSold } from '../../registers/catalogue/write';
import { closeQuote } from '../quotes/quotes';
import { statements } from './credit';
import type { NormalOrder } from './normalise';

/** Units by product. */
type Units = ReadonlyMap<Id<'product'>, number>;

/** Units of each product that earlier payments of an order counted: a further payment sells no more of them. */
function countedBefore(app: App, reference: string, id: Id<'order'>): Units {
  const rows = statements(app).unitsOf.all(reference, id);
  const most = new Map<Id<'product'>, number>();
  for (const { product, units } of rows) most.set(product, Math.max(units, most.get(product) ?? 0));
  return most;
}

/** Units of each product in some lines. */
export function unitsIn(lines: readonly { product: Id<'product'>; quantity: number }[]): Units {
  const units = new Map<Id<'product'>, number>();
  for (const { product, quantity } of lines) units.set(product, (units.get(product) ?? 0) + quantity);
  return units;
}

const unitsOf = ({ lines }: NormalOrder): Units =>
  unitsIn(lines.map(({ product, quantity }) => ({ product: product.id, quantity })));

function closeQuotes(app: App, { lines }: NormalOrder, id: Id<'order'>): void {
  for (const { product, quote } of lines) if (quote) closeQuote(app, quote, product.id, id);
}

/** Counts the units that were sold, for stock and stepped prices, once an order whatever its payments, and closes the quotes that the buyers held. */
export function noteSold(app: App, order: NormalOrder, id: Id<'order'>): void {
  const before: Units = order.number > 1 ? countedBefore(app, order.reference, id) : new Map();
  closeQuotes(app, order, id);
  for (const [product, count] of unitsOf(order)) {
    const more = count - (before.get(product) ?? 0);
    if (more > 0) countSold(app, product, more);
  }
}

/** Counts the units of an order that was reported anew instead of those that were counted. */
export function recountSold(
  app: App,
  order: NormalOrder,
  { id, before }: { id: Id<'order'>; before: Units },
): void {
  const now = unitsOf(order);
  closeQuotes(app, order, id);
  for (const product of new Set([...now.keys(), ...before.keys()])) {
    const more = (now.get(product) ?? 0) - (before.get(product) ?? 0);
    if (more !== 0) countSold(app, product, more);
  }
}

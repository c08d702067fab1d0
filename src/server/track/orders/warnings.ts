import { eq } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import { email } from '../../../contract/shared';
import { formatMoment } from '../../../core/calendar/format';
import { formatMoney } from '../../../core/money/amount';
import { isId, type Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { orders } from '../../ground/tables/orders';
import { quotes } from '../../ground/tables/quotes';
import { detailsOf } from '../../registers/catalogue/details';
import { productById } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';

/** What is odd about a report that is recorded anyway: a sale is not lost for it. */
export type Warning = Pick<FieldFault, 'pointer' | 'detail'>;

const oneAddress = new RegExp(email().pattern as string, 'u');

/** An address that can be written to: exactly one, by the pattern of all forms, without characters that cannot be seen. */
const isOneAddress = (text: string): boolean =>
  oneAddress.test(text) && !/[\p{Cf}\p{Cc}]/u.test(text.trim()) && text.trim().length <= 254;

/** The address that is kept of a report: none where it is not exactly one. */
export function keptAddress(said: string | null | undefined, warnings: Warning[]): string {
  if (said === null || said === undefined || said.trim() === '') return '';
  if (isOneAddress(said)) return said.trim();
  warnings.push({
    pointer: '/customer/email',
    detail: `Customer e-mail “${said.slice(0, 60)}” is not exactly one address: it is not kept`,
  });
  return '';
}

/** A line of an order, as far as warnings look at it. */
interface NormalLine {
  product: { id: Id<'product'> };
  quantity: number;
  amount: number;
  quote: string | null;
}

interface OrderFacts {
  reference: string;
  placedAt: number;
  currency: string;
}

/** What is odd about the quote of a line; null where it fits. */
function oddQuote(app: App, line: NormalLine, { reference, placedAt, currency }: OrderFacts): string | null {
  const said = line.quote!;
  const row = isId(said, 'quote') ? app.db.select().from(quotes).where(eq(quotes.id, said)).get() : undefined;
  if (!row) return `Quote ${said.slice(0, 60)} is not known here: the order counts at its own price`;
  if (row.product !== line.product.id) return `Quote ${said} was for another product`;
  if (row.order !== null) {
    const other = app.db.select({ is: orders.reference }).from(orders).where(eq(orders.id, row.order)).get();
    if (other && other.is !== reference) return `Quote ${said} served order ${other.is} already`;
  }
  if (placedAt > row.until)
    return `Quote ${said} had expired on ${formatMoment(row.until, theProgramme(app).zone)}`;
  const quoted = row.price * line.quantity;
  if (row.currency !== currency || quoted !== line.amount)
    return `The amount is ${formatMoney({ amount: line.amount, currency })}, and the quote was ${formatMoney({ amount: quoted, currency: row.currency })}`;
  return null;
}

/** Warnings about the quotes of lines. */
export const quoteWarnings = (app: App, lines: readonly NormalLine[], order: OrderFacts): Warning[] =>
  lines.flatMap((line, i) => {
    const odd = line.quote === null ? null : oddQuote(app, line, order);
    return odd === null ? [] : [{ pointer: `/lines/${i}/quote`, detail: odd }];
  });

/** Products of which more was sold than is in stock, after an order was counted: each once. */
export const oversold = (app: App, lines: readonly NormalLine[]): Warning[] =>
  lines.flatMap(({ product: { id } }, i) => {
    if (lines.findIndex((line) => line.product.id === id) < i) return [];
    const product = productById(app, id);
    const stock = product ? detailsOf(product).stock : null;
    if (!product || stock === null || product.sold <= stock) return [];
    return [
      {
        pointer: `/lines/${i}/quantity`,
        detail: `${product.name} is oversold: ${product.sold} sold of ${stock} in stock`,
      },
    ];
  });

import type { FieldFault } from '../../../contract/explain';
import { type OrderReport } from '../../../contract/track/signed-calls';
import { dayOf, millisecondsInDay } from '../../../core/calendar/zone';
import { largestAmount, parseAmount, split, toDecimal } from '../../../core/money/amount';
import { currencies, exponentOf, isCurrency } from '../../../core/money/currency';
import { commissionableValue } from '../../../core/terms/order';
import { type App } from '../../ground/context';
import { invalid } from '../../ground/http/problem';
import { productByCode, type KeptProduct } from '../../registers/catalogue/store';
import { rateOn } from '../../registers/exchange/rates';
import { theProgramme } from '../../registers/programme/record';

export interface NormalLine {
  product: KeptProduct;
  quantity: number;
  amount: number;
  discount: number;
  step: string | null;
  quote: string | null;
}

/** A report with its values read: the same order written in two ways becomes the same. */
export interface NormalOrder {
  reference: string;
  payment: string;
  placedAt: number;
  day: string;
  currency: string;
  rateMicros: number;
  lines: NormalLine[];
  visit: string | null;
  visitor: string | null;
  customer: string | null;
  /** where notices before renewals go */
  email: string;
  test: boolean;
  /** a first sale, a renewal, a lead, or the clicks of a day; and its number within the subscription */
  event: 'sale' | 'renewal' | 'lead' | 'click';
  number: number;
  subscription: string | null;
  /** canonical text of everything that was said, to tell a repeat from a contradiction */
  content: string;
}

/** The moment a report speaks of. @throws nothing: a moment too far ahead is added to the faults */
export function readMoment(
  app: App,
  { text, field, title, faults }: { text: string; field: string; title: string; faults: FieldFault[] },
): number {
  const moment = Date.parse(text);
  const latest = Math.max(app.clock.now(), app.clock.real()) + millisecondsInDay;
  if (Number.isNaN(moment))
    faults.push({
      pointer: `/${field}`,
      detail: `${title} is not a moment as ISO 8601 with offset`,
      example: '2027-03-12T14:05:00+00:00',
    });
  else if (moment > latest)
    faults.push({
      pointer: `/${field}`,
      detail: `${title} is more than a day in the future`,
      example: new Date(app.clock.now()).toISOString(),
    });
  else if (moment < Date.UTC(2000, 0, 1))
    faults.push({
      pointer: `/${field}`,
      detail: `${title} is before the year 2000`,
      example: new Date(app.clock.now()).toISOString(),
    });
  return moment;
}

/** Shares a discount of the whole order over its lines, by what each is worth after its own. */
function shareDiscount(lines: NormalLine[], discount: number, written: string, faults: FieldFault[]): void {
  if (discount === 0 || !lines.length) return;
  const worth = lines.map(commissionableValue);
  if (discount > worth.reduce((a, b) => a + b, 0)) {
    faults.push({
      pointer: '/discount',
      detail: `Discount ${written} is more than the lines are worth`,
      example: '10.00',
    });
    return;
  }
  split(discount, worth).forEach((part, i) => {
    lines[i]!.discount += part;
  });
}

/** An order as a whole is held to what one amount may be, in its own currency and in base: sums over many orders then stay exact. */
function checkSize(
  lines: readonly NormalLine[],
  {
    currency,
    base,
    rateMicros,
    faults,
  }: { currency: string; base: string; rateMicros: number; faults: FieldFault[] },
): void {
  const total = lines.reduce((sum, l) => sum + l.amount, 0);
  const most = `${toDecimal(largestAmount, currency)} ${currency}`;
  if (total > largestAmount)
    faults.push({
      pointer: '/lines',
      detail: `Lines: together they are more than the ${most} that one order can be`,
      example: 'several orders',
    });
  else if (
    BigInt(total) * BigInt(10 ** exponentOf(base)) * 1_000_000n >
    BigInt(largestAmount) * BigInt(10 ** exponentOf(currency)) * BigInt(rateMicros)
  ) {
    faults.push({
      pointer: '/lines',
      detail: `Lines: together they are more than the ${toDecimal(largestAmount, base)} ${base} that one order can be worth; is the exchange rate of ${currency} right?`,
      example: 'several orders',
    });
  }
}

/**
 * Reads every value of an order report.
 * @throws Problem `invalid` naming every field at fault at once
 */
export function normaliseOrder(app: App, report: OrderReport): NormalOrder {
  const faults: FieldFault[] = [];
  const { base, zone } = theProgramme(app);
  const placedAt = readMoment(app, { text: report.placedAt, field: 'placedAt', title: 'Placed at', faults });
  const knownCurrency = isCurrency(report.currency);
  if (!knownCurrency)
    faults.push({
      pointer: '/currency',
      detail: `Currency ${report.currency} is not known`,
      example: currencies.slice(0, 4).join(', '),
    });
  const money = (text: string | undefined, pointer: string, title: string): number => {
    if (text === undefined || !knownCurrency) return 0;
    const parsed = parseAmount(text, report.currency);
    if (parsed.ok) return parsed.value;
    faults.push({ pointer, detail: `${title}: ${parsed.reason}`, example: parsed.example });
    return 0;
  };
  const rest: (number | string | null)[][] = [];
  const lines = report.lines.flatMap((line, i): NormalLine[] => {
    const at = `/lines/${i}`;
    const product = productByCode(app, line.product);
    if (!product)
      faults.push({
        pointer: `${at}/product`,
        detail: `Product ${line.product} is not known here`,
        example: 'a code from the Products page',
      });
    const amount = money(line.amount, `${at}/amount`, 'Amount');
    const discount = money(line.discount, `${at}/discount`, 'Discount');
    const aside = [money(line.tax, `${at}/tax`, 'Tax'), money(line.shipping, `${at}/shipping`, 'Shipping')];
    if (discount > amount)
      faults.push({
        pointer: `${at}/discount`,
        detail: `Discount ${line.discount} is more than the amount ${line.amount}`,
        example: line.amount,
      });
    rest.push([line.product.toUpperCase(), line.quantity, amount, discount, ...aside, line.step ?? null]);
    return product
      ? [
          {
            product,
            quantity: line.quantity,
            amount,
            discount,
            step: line.step ?? null,
            quote: line.quote ?? null,
          },
        ]
      : [];
  });
  const whole = [
    money(report.discount, '/discount', 'Discount'),
    money(report.tax, '/tax', 'Tax'),
    money(report.shipping, '/shipping', 'Shipping'),
  ];
  shareDiscount(lines, whole[0]!, report.discount ?? '', faults);
  let rateMicros = 1_000_000;
  const day = Number.isNaN(placedAt) ? '' : dayOf(placedAt, zone);
  if (knownCurrency && day) {
    const rate = rateOn(app, report.currency, day);
    if (rate === null)
      faults.push({
        pointer: '/currency',
        detail: `No exchange rate between ${report.currency} and ${base} is known for ${day}; enter one under Settings`,
        example: base,
      });
    else {
      rateMicros = rate;
      checkSize(lines, { currency: report.currency, base, rateMicros: rate, faults });
    }
  }
  if (faults.length) throw invalid(faults);
  const {
    order: reference,
    payment = reference,
    visit = null,
    visitor = null,
    coupon = null,
    customer,
    subscription = null,
    channel = null,
    test = false,
  } = report;
  const content = JSON.stringify([
    reference,
    payment,
    placedAt,
    report.currency,
    rest,
    whole,
    visit,
    visitor,
    coupon,
    customer?.id ?? null,
    customer?.email ?? null,
    customer?.country ?? null,
    customer?.new ?? null,
    subscription,
    channel,
    test,
  ]);
  return {
    reference,
    payment,
    placedAt,
    day,
    currency: report.currency,
    rateMicros,
    lines,
    visit,
    visitor,
    customer: customer?.id ?? null,
    email: customer?.email ?? '',
    test,
    content,
    event: 'sale',
    number: 1,
    subscription,
  };
}

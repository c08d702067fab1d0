import type { FieldFault } from '../../../contract/explain';
import { type OrderReport } from '../../../contract/track/signed-calls';
import { dayOf, millisecondsInDay } from '../../../core/calendar/zone';
import { largestAmount, parseAmount, split, toDecimal } from '../../../core/money/amount';
import { currencies, exponentOf, isCurrency } from '../../../core/money/currency';
import { commissionableValue } from '../../../core/terms/order';
import type { Event } from '../../../core/terms/rate';
import { type App } from '../../ground/context';
import { invalid } from '../../ground/http/problem';
import { productByCode, type KeptProduct } from '../../registers/catalogue/store';
import { rateOn } from '../../registers/exchange/rates';
import { theProgramme } from '../../registers/programme/record';
import { keptAddress, quoteWarnings, type Warning } from './warnings';

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
  /** the code that the buyer used, and one that the shop did not take */
  coupon?: string | null;
  refusedCoupon?: string | null;
  customer: string | null;
  /** where notices before renewals go */
  email: string;
  test: boolean;
  /** a first sale, a renewal, a lead, or the clicks of a day; and its number within the subscription */
  event: Event;
  number: number;
  subscription: string | null;
  /** what is odd about it; it is recorded anyway */
  warnings: readonly Warning[];
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

/** A visit that is there and empty: most likely a value that was lost on the way. */
export const emptyVisit: FieldFault = {
  pointer: '/visit',
  detail: 'Visit is empty: leave it out where the buyer came by no link',
  example: 'vis_01j8z',
};

/** A discount given by line and again for the order would be deducted twice. */
function refuseTwoDiscounts(lines: readonly LineRead[], ofOrder: number, faults: FieldFault[]): void {
  if (ofOrder === 0) return;
  lines.forEach(({ line }, i) => {
    if (!line || line.discount === 0) return;
    const detail = `Discount is given for line ${i + 1} and for the order: give it one way, or it counts twice`;
    faults.push({ pointer: `/lines/${i}/discount`, detail, example: 'left out' });
    if (!faults.some((f) => f.pointer === '/discount'))
      faults.push({
        pointer: '/discount',
        detail: 'Discount of the order: its lines have one of their own',
        example: 'left out',
      });
  });
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

/** Reads amounts in a report's currency, minor units; 0 where none is said. Faults are gathered. */
type ReadMoney = (text: string | undefined, pointer: string, title: string) => number;

function moneyIn(currency: string, faults: FieldFault[]): ReadMoney {
  const known = isCurrency(currency);
  if (!known)
    faults.push({
      pointer: '/currency',
      detail: `Currency ${currency} is not known`,
      example: currencies.slice(0, 4).join(', '),
    });
  return (text, pointer, title) => {
    if (text === undefined || !known) return 0;
    const parsed = parseAmount(text, currency);
    if (parsed.ok) return parsed.value;
    faults.push({ pointer, detail: `${title}: ${parsed.reason}`, example: parsed.example });
    return 0;
  };
}

interface LineRead {
  /** null where its product is not known */
  line: NormalLine | null;
  /** everything that was said of it, for the canonical text */
  said: (number | string | null)[];
}

function readLine(
  app: App,
  line: OrderReport['lines'][number],
  at: string,
  { money, faults }: { money: ReadMoney; faults: FieldFault[] },
): LineRead {
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
  const { quantity, step = null, quote = null } = line;
  return {
    line: product ? { product, quantity, amount, discount, step, quote } : null,
    said: [line.product.toUpperCase(), quantity, amount, discount, ...aside, step],
  };
}

/** What one unit of base buys of the order's currency on its day, × 1,000,000; the order is held to what it may be. */
function rateOfOrder(
  app: App,
  { currency, day }: { currency: string; day: string },
  lines: readonly NormalLine[],
  faults: FieldFault[],
): number {
  const { base } = theProgramme(app);
  if (!isCurrency(currency) || day === '') return 1_000_000;
  const rateMicros = rateOn(app, currency, day);
  if (rateMicros !== null) {
    checkSize(lines, { currency, base, rateMicros, faults });
    return rateMicros;
  }
  faults.push({
    pointer: '/currency',
    detail: `No exchange rate between ${currency} and ${base} is known for ${day}; enter one under Settings`,
    example: base,
  });
  return 1_000_000;
}

/** What a report says of itself, every default filled; null where nothing is said. */
function saidIn(report: OrderReport) {
  const { order: reference, payment = reference, customer, test = false } = report;
  const { visit = null, visitor = null, coupon = null, subscription = null, channel = null } = report;
  const { refusedCoupon = null } = report;
  return {
    reference,
    payment,
    visit,
    visitor,
    coupon,
    refusedCoupon,
    subscription,
    channel,
    test,
    customer: customer ?? {},
  };
}
type SaidIn = ReturnType<typeof saidIn>;

/** Everything that was said, in one text: the same order written in two ways becomes the same. */
function contentOf(
  {
    reference,
    payment,
    visit,
    visitor,
    coupon,
    customer,
    subscription,
    channel,
    test,
    refusedCoupon,
  }: SaidIn,
  read: { placedAt: number; currency: string; lines: LineRead['said'][]; order: number[] },
): string {
  const { id = null, email = null, country = null, new: isNew = null } = customer;
  return JSON.stringify([
    reference,
    payment,
    read.placedAt,
    read.currency,
    read.lines,
    read.order,
    visit,
    visitor,
    coupon,
    id,
    email,
    country,
    isNew,
    subscription,
    channel,
    test,
    // a value that came later: an order that was reported before it reads as it did
    ...(refusedCoupon === null ? [] : [refusedCoupon]),
  ]);
}

/**
 * Reads every value of an order report.
 * @throws Problem `invalid` naming every field at fault at once
 */
export function normaliseOrder(app: App, report: OrderReport): NormalOrder {
  const faults: FieldFault[] = [];
  const { currency } = report;
  const placedAt = readMoment(app, { text: report.placedAt, field: 'placedAt', title: 'Placed at', faults });
  const money = moneyIn(currency, faults);
  const read = report.lines.map((line, i) => readLine(app, line, `/lines/${i}`, { money, faults }));
  const lines = read.flatMap(({ line }) => (line ? [line] : []));
  const order = [
    money(report.discount, '/discount', 'Discount'),
    money(report.tax, '/tax', 'Tax'),
    money(report.shipping, '/shipping', 'Shipping'),
  ];
  refuseTwoDiscounts(read, order[0]!, faults);
  if (report.visit === '') faults.push(emptyVisit);
  shareDiscount(lines, order[0]!, report.discount ?? '', faults);
  const day = Number.isNaN(placedAt) ? '' : dayOf(placedAt, theProgramme(app).zone);
  const rateMicros = rateOfOrder(app, { currency, day }, lines, faults);
  if (faults.length) throw invalid(faults);
  const said = saidIn(report);
  const warnings = quoteWarnings(app, lines, { reference: said.reference, placedAt, currency });
  const { reference, payment, visit, visitor, test, subscription, customer, coupon, refusedCoupon } = said;
  return {
    ...{ reference, payment, placedAt, day, currency, rateMicros, lines, visit, visitor, test, subscription },
    ...{ coupon, refusedCoupon },
    customer: customer.id ?? null,
    email: keptAddress(customer.email, warnings),
    warnings,
    content: contentOf(said, { placedAt, currency, lines: read.map((r) => r.said), order }),
    event: 'sale',
    number: 1,
  };
}

import { type ReportAnswer } from '../../../contract/track/signed-calls';
import { type Credit } from '../../../core/attribution/credit';
import { addZonedDays, dayOf } from '../../../core/calendar/zone';
import { clearingMoment } from '../../../core/ledger/commission';
import { type Timing } from '../../../core/ledger/timing';
import { convertToBase, formatMoney, toDecimal } from '../../../core/money/amount';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import { commissionableValue } from '../../../core/terms/order';
import { isNotApproved } from '../../../core/terms/reason';
import { resolveWithWorking } from '../../../core/terms/resolve';
import { type Working } from '../../../core/terms/working';
import type { Id } from '../../../core/text/id';
import type { ReportWay } from '../../../core/tracking/lists';
import { describeOrder, describeOtherWay, orderReason } from '../../../core/tracking/reason';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import type { orders } from '../../ground/tables/orders';
import { grantCommission } from '../../ledger/journal';
import { detailsOf } from '../../registers/catalogue/details';
import { countSold } from '../../registers/catalogue/write';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { lockedAt, termsOf } from '../../setup/terms/service';
import { theTerms } from '../../setup/terms/store';
import { grantShares } from '../crediting/shares';
import { closeQuote } from '../quotes/quotes';
import { couponOf } from './coupon';
import { approvalsAt, creditOrder, nameOf, statements } from './credit';
import { downloadsOf } from './downloads';
import type { NormalOrder } from './normalise';
import { beginSubscription } from './subscriptions';
import { oversold, type Warning } from './warnings';
import { settlePicture, signAfterwards } from './ways';

export const theShop: Actor = { kind: 'open', id: 'shop' };

export interface Taken {
  status: 200 | 201;
  said: string;
  order: Id<'order'> | null;
  answer: ReportAnswer;
}

type OrderRecord = typeof orders.$inferSelect;

interface Resolution {
  working: Working;
  timing: Timing;
}

/** @param approvedAt the moment whose approvals count: of a renewal, that of its first payment */
function resolve(
  app: App,
  order: NormalOrder,
  {
    affiliate,
    at,
    visitAt,
    approvedAt,
  }: { affiliate: Id<'affiliate'>; at: number; visitAt: number; approvedAt: number },
): Resolution {
  const approved = approvalsAt(app, affiliate, approvedAt);
  const { base } = theProgramme(app);
  const working = resolveWithWorking(theTerms(app).book, termsOf(app, affiliate, at), {
    event: order.event,
    at,
    payment: order.number,
    currency: order.currency,
    base,
    rateMicros: order.rateMicros,
    lines: order.lines.map(({ product, quantity, amount, discount, step }) => ({
      product: product.id,
      name: product.name,
      kind: product.kind,
      step,
      quantity,
      amount,
      discount,
      locked: lockedAt(app, product.id, order.event, at),
      // a product that was retired while the buyer was paying still earns for the visit that led there
      approved:
        (approved.has(product.id) || approved.has(null)) &&
        (product.retiredAt === null || visitAt < product.retiredAt) &&
        product.state !== 'draft' &&
        isOpenToAffiliates(detailsOf(product), at),
    })),
  });
  const timings = order.lines.map(
    ({ product }) => approved.get(product.id) ?? approved.get(null) ?? 'after-hold',
  );
  return { working, timing: timings.every((t) => t === 'at-sale') ? 'at-sale' : 'after-hold' };
}

/** Who is credited where it is settled already: a renewal keeps the affiliate of its first payment. */
export interface Settled {
  credit: Credit;
  visitAt: number;
}

/** Units of each product that earlier payments of an order counted: a further payment sells no more of them. */
function countedBefore(app: App, reference: string, id: Id<'order'>): Map<string, number> {
  const rows = statements(app).unitsOf.all(reference, id);
  const most = new Map<string, number>();
  for (const { product, units } of rows) most.set(product, Math.max(units, most.get(product) ?? 0));
  return most;
}

/** Counts the units that were sold, for stock and stepped prices, once an order whatever its payments, and closes the quotes that the buyers held. */
function noteSold(app: App, order: NormalOrder, id: Id<'order'>): void {
  const before = order.number > 1 ? countedBefore(app, order.reference, id) : new Map<string, number>();
  const units = new Map<Id<'product'>, number>();
  for (const { product, quantity, quote } of order.lines) {
    units.set(product.id, (units.get(product.id) ?? 0) + quantity);
    if (quote) closeQuote(app, quote, product.id, id);
  }
  for (const [product, count] of units) {
    const more = count - (before.get(product) ?? 0);
    if (more > 0) countSold(app, product, more);
  }
}

/** Tells the merchant of a sale of a product that asks for it. */
function sendSaleNotice(app: App, order: NormalOrder, row: OrderRecord): void {
  const told = order.lines.filter((l) => detailsOf(l.product).saleNotice);
  if (!told.length) return;
  const { contact, base, name } = theProgramme(app);
  const sold = told.map((l) => `${l.quantity} × ${l.product.name}`).join(', ');
  const by =
    row.affiliate === null
      ? 'nobody is credited'
      : `${nameOf(app, row.affiliate)} is credited and earns ${formatMoney({ amount: row.granted, currency: base })}`;
  queue(app, {
    to: contact,
    affiliate: null,
    kind: 'sale-notice',
    subject: `${order.event === 'lead' ? 'A lead' : 'Sold'}: ${sold}`,
    subjectOf: row.id,
    body: `Order ${row.reference}: ${sold}, ${formatMoney({ amount: row.value, currency: row.currency })}; ${by}.\n\n${app.address}/sales/${row.id}\n\n${name}`,
  });
}

/** The number of a payment within its order: what counts once per order is earned with the first that was recorded. */
function numbered(app: App, order: NormalOrder): NormalOrder {
  if (order.event !== 'sale') return order;
  const before = statements(app).payments.get(order.reference)!;
  return before === 0 ? order : { ...order, number: before + 1 };
}

/** An order on its way into the books: who is credited, from when on, what each line is worth and earns. */
interface Incoming {
  order: NormalOrder;
  id: Id<'order'>;
  credit: Credit;
  /** the moment that terms are asked for */
  at: number;
  /** null where nobody is credited, and for a test */
  resolution: Resolution | null;
  /** of each line: its value in the order's currency, and in base */
  values: { value: number; base: number }[];
}

function incoming(app: App, order: NormalOrder, settled: Settled | null): Incoming {
  const { base } = theProgramme(app);
  const { credit, visitAt } = settled ?? creditOrder(app, order);
  // where the shop's clock is behind ours, the visit proves that the order came after it
  const at = Math.max(order.placedAt, credit.affiliate ? visitAt : 0);
  const resolution =
    credit.affiliate && !order.test
      ? resolve(app, order, { affiliate: credit.affiliate, at, visitAt, approvedAt: settled ? visitAt : at })
      : null;
  const values = order.lines.map((l) => {
    const value = commissionableValue(l);
    return { value, base: convertToBase(value, order.currency, base, order.rateMicros) };
  });
  return { order, id: newId('order'), credit, at, resolution, values };
}

function rowOf(app: App, coming: Incoming, way: ReportWay): OrderRecord {
  const { order, id, credit, at, resolution, values } = coming;
  return {
    id,
    reference: order.reference,
    payment: order.payment,
    placedAt: order.placedAt,
    day: order.day,
    receivedAt: app.clock.now(),
    currency: order.currency,
    rateMicros: order.rateMicros,
    value: values.reduce((s, v) => s + v.value, 0),
    base: values.reduce((s, v) => s + v.base, 0),
    way,
    visit: credit.visit,
    ...couponOf(app, order, { at, way }),
    affiliate: credit.affiliate,
    creditedBy: credit.by,
    reason: orderReason(credit.reason, {
      isTest: order.test,
      total: resolution?.working.total ?? 0,
      lines: resolution?.working.lines ?? null,
    }),
    credit,
    working: resolution?.working ?? null,
    granted: resolution?.working.total ?? 0,
    customer: order.customer,
    test: order.test,
    content: order.content,
    otherWay: null,
    event: order.event,
    number: order.number,
    subscription: order.subscription,
    resolvedAt: at,
  };
}

function writeLines(app: App, { order, id, resolution, values }: Incoming): void {
  order.lines.forEach((line, position) => {
    const { value, base } = values[position]!;
    const won = resolution?.working.lines[position];
    const commission = won?.amount ?? 0;
    statements(app).line.run({
      order: id,
      position,
      product: line.product.id,
      quantity: line.quantity,
      amount: line.amount,
      discount: line.discount,
      value,
      base,
      valueLeft: value,
      reward: won?.reward ?? null,
      approved: won ? !isNotApproved(won.reason) : true,
      step: line.step,
      commission,
      commissionLeft: commission,
    });
  });
}

/** Clicks are not given back: nothing has to be waited for but the buffer. */
const refundDaysOf = (order: NormalOrder): number =>
  order.event === 'click' ? 0 : Math.max(...order.lines.map((l) => l.product.refundDays));

/** Grants what the order earned its affiliate, if anything. */
function grantEarned(app: App, { order, id, credit, at, resolution }: Incoming, way: ReportWay): void {
  const granted = resolution?.working.total ?? 0;
  if (granted <= 0 || !credit.affiliate || !resolution) return;
  const { zone, bufferDays } = theProgramme(app);
  const refundDays = refundDaysOf(order);
  // a sale that nobody signed waits, whatever was agreed
  const timing = way === 'picture' ? 'after-hold' : resolution.timing;
  grantCommission(
    app,
    theShop,
    {
      order: id,
      affiliate: credit.affiliate,
      kind: 'commission',
      granted,
      timing,
      soldAt: at,
      clearsAt: clearingMoment(at, { timing, refundDays, bufferDays, zone }),
      refundableUntil: addZonedDays(at, refundDays, zone),
    },
    { once: `granted:${id}`, memo: `Order ${order.reference}` },
  );
}

function grantSharesOf(app: App, { order, id, credit, at, resolution, values }: Incoming): void {
  grantShares(
    app,
    theShop,
    { id, reference: order.reference, affiliate: credit.affiliate, at, refundDays: refundDaysOf(order) },
    order.lines.map((l, i) => ({
      product: l.product.id,
      base: values[i]!.base,
      commission: resolution?.working.lines[i]?.amount ?? 0,
    })),
  );
}

/** Records an order: credit, commission with its working, journal. Call inside a transaction. */
function recordOrder(app: App, reported: NormalOrder, way: ReportWay, settled: Settled | null): OrderRecord {
  const order = numbered(app, reported);
  const coming = incoming(app, order, settled);
  const row = rowOf(app, coming, way);
  statements(app).order.run(row);
  writeLines(app, coming);
  grantEarned(app, coming, way);
  if (!order.test) {
    grantSharesOf(app, coming);
    if (order.event === 'sale' || order.event === 'lead') sendSaleNotice(app, order, row);
    if (order.event === 'sale') noteSold(app, order, coming.id);
  }
  if (order.subscription !== null && order.event === 'sale') beginSubscription(app, order, row);
  return row;
}

const reasonInWords = (app: App, { reason }: OrderRecord): string =>
  describeOrder(reason, (affiliate) => nameOf(app, affiliate));

/** The answer about an order as it stands. @param amount whether the amount is what was granted or what is left */
export function answerFor(
  app: App,
  order: OrderRecord,
  outcome: ReportAnswer['outcome'],
  amount: 'granted' | 'left',
): ReportAnswer {
  const { base, zone } = theProgramme(app);
  const handle = order.affiliate
    ? (statements(app).affiliate.get(order.affiliate)?.handle ?? order.affiliate)
    : null;
  const downloads = order.event === 'renewal' ? [] : downloadsOf(app, order.id, order.receivedAt);
  const row = order.granted > 0 ? statements(app).commissionOf.get(order.id) : undefined;
  return {
    outcome,
    order: order.reference,
    credited: handle === null ? null : { affiliate: handle, by: order.creditedBy ?? 'visit' },
    reason: reasonInWords(app, order),
    commissions:
      row && handle !== null
        ? [
            {
              id: row.id,
              affiliate: handle,
              amount: {
                value: toDecimal(
                  amount === 'granted' ? row.granted : row.held + row.cleared + row.inRun + row.paid,
                  base,
                ),
                currency: base,
              },
              state: row.state,
              clearsOn: dayOf(row.clearsAt, zone),
            },
          ]
        : [],
    ...(downloads.length ? { downloads } : {}),
  };
}

const warned = (answer: ReportAnswer, warnings: readonly Warning[]): ReportAnswer =>
  warnings.length ? { ...answer, warnings: [...warnings] } : answer;

/**
 * Takes an order report: recorded once, however often and by whichever way it is reported. Call inside a transaction.
 * @throws Problem `contradicts` if the same reference was reported with other content by the same way
 */
export function takeOrder(
  app: App,
  order: NormalOrder,
  way: ReportWay,
  settled: Settled | null = null,
): Taken {
  const before = statements(app).known.get(order.reference, order.payment);
  if (!before) {
    const row = recordOrder(app, order, way, settled);
    if (way === 'server') settlePicture(app, order, row.id);
    const sold = order.event === 'sale' && !order.test ? oversold(app, order.lines) : [];
    return {
      status: 201,
      said: reasonInWords(app, row),
      order: row.id,
      answer: warned(answerFor(app, row, 'recorded', 'granted'), [...order.warnings, ...sold]),
    };
  }
  const repeat = (said: string): Taken => ({
    status: 200,
    said,
    order: before.id,
    answer: warned(answerFor(app, before, 'already-recorded', 'granted'), order.warnings),
  });
  if (before.way === 'picture' && way === 'server' && before.content !== order.content) {
    const row = signAfterwards(app, before, order);
    return {
      status: 201,
      said: describeOtherWay(row.otherWay!),
      order: row.id,
      answer: warned(answerFor(app, row, 'recorded', 'granted'), order.warnings),
    };
  }
  if (before.content === order.content) return repeat('the same order again; it counts once');
  throw new Problem(
    'contradicts',
    `Order ${order.reference}${order.payment === order.reference ? '' : `, payment ${order.payment}`} was reported with other values before: nothing was changed, both versions are in the log`,
  );
}

import { type ReportAnswer } from '../../../contract/track/signed-calls';
import { dayOf } from '../../../core/calendar/zone';
import { formatMoney, toDecimal } from '../../../core/money/amount';
import type { Id } from '../../../core/text/id';
import type { ReportWay } from '../../../core/tracking/lists';
import { describeOrder, describeOtherWay, orderReason } from '../../../core/tracking/reason';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import type { orders } from '../../ground/tables/orders';
import { detailsOf } from '../../registers/catalogue/details';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { couponOf } from './coupon';
import { nameOf, statements } from './credit';
import { downloadsOf } from './downloads';
import type { NormalOrder } from './normalise';
import { grantEarned, grantSharesOf, incoming, writeLines, type Incoming, type Settled } from './resolving';
import { applySignedReport } from './signed-report';
import { noteSold } from './sold';
import { beginSubscription } from './subscriptions';
import { oversold, type Warning } from './warnings';
import { settlePicture } from './ways';

export interface Taken {
  status: 200 | 201;
  said: string;
  order: Id<'order'> | null;
  answer: ReportAnswer;
}

type OrderRecord = typeof orders.$inferSelect;

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
    const { row, warnings } = applySignedReport(app, before, order);
    return {
      status: 201,
      said: describeOtherWay(row.otherWay!),
      order: row.id,
      answer: warned(answerFor(app, row, 'recorded', 'granted'), [...order.warnings, ...warnings]),
    };
  }
  if (before.content === order.content) return repeat('the same order again; it counts once');
  throw new Problem(
    'contradicts',
    `Order ${order.reference}${order.payment === order.reference ? '' : `, payment ${order.payment}`} was reported with other values before: nothing was changed, both versions are in the log`,
  );
}

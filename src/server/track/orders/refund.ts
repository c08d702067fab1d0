import { and, asc, eq, inArray } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import { type RefundReport } from '../../../contract/track/signed-calls';
import { formatMoment } from '../../../core/calendar/format';
import { dayOf } from '../../../core/calendar/zone';
import { adjustedAfter, takenBack } from '../../../core/ledger/commission';
import { convertToBase, parseAmount, toDecimal } from '../../../core/money/amount';
import { amountsOnRest } from '../../../core/terms/earned';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { commissions } from '../../ground/tables/ledger';
import { orderLines, orders, pictured, refunds, type RefundWorking } from '../../ground/tables/orders';
import { noteAdjusted, reverseCommission, type CommissionRecord } from '../../ledger/journal';
import { theProgramme } from '../../registers/programme/record';
import { reverseShares, sharesLeftAfter } from '../crediting/shares';
import { answerFor, type Taken } from './intake';
import { readMoment } from './normalise';
import { theShop } from './resolving';

type Line = typeof orderLines.$inferSelect;
type OrderRecord = typeof orders.$inferSelect;

/** True for the reference of a lead. */
const isLead = (app: App, reference: string): boolean =>
  app.db
    .select({ id: orders.id })
    .from(orders)
    .where(and(eq(orders.reference, reference), eq(orders.event, 'lead')))
    .get() !== undefined;

function findOrder(app: App, report: RefundReport): OrderRecord {
  // leads and clicks cannot be given back, whatever their reference; without a payment the order's first one is meant, never a renewal
  const condition = report.payment
    ? and(eq(orders.payment, report.payment), inArray(orders.event, ['sale', 'renewal']))
    : eq(orders.event, 'sale');
  const rows = app.db
    .select()
    .from(orders)
    .where(and(eq(orders.reference, report.order), condition))
    .orderBy(asc(orders.number), asc(orders.id))
    .all();
  const row = rows.find((r) => r.payment === r.reference) ?? rows[0];
  const waiting = row
    ? undefined
    : app.db
        .select({ report: pictured.report })
        .from(pictured)
        .where(and(eq(pictured.reference, report.order), eq(pictured.state, 'open')))
        .get();
  if (waiting?.report)
    throw refuse(
      'payment',
      `Payment ${report.payment} of order ${report.order} waits for a person, since it was not agreed: it earned nothing that a refund could take back`,
      'the reference of a recorded payment',
    );
  if (waiting)
    throw refuse(
      'order',
      `Order ${report.order} is known by a picture alone and unconfirmed: report it, signed, before its refund`,
      'the reference of a recorded order',
    );
  if (!row && isLead(app, report.order))
    throw refuse(
      'order',
      `Order ${report.order} is a lead: no money was paid for it, so none can be given back. Decline its commission instead`,
      'the reference of an order',
    );
  if (!row)
    throw refuse(
      report.payment ? 'payment' : 'order',
      `Order ${report.order}${report.payment ? `, payment ${report.payment}` : ''} is not known here; report it before its refund`,
      'the reference of a recorded order',
    );
  return row;
}

/** How much each line gives back. @throws Problem `invalid` where more than is left is asked of a product */
function amountsOf(
  report: RefundReport,
  order: OrderRecord,
  lines: Line[],
  codes: Map<string, string>,
): number[] {
  if (report.full) return lines.map((l) => l.valueLeft);
  const back = lines.map(() => 0);
  const faults: FieldFault[] = [];
  report.lines?.forEach((asked, i) => {
    const parsed = parseAmount(asked.amount, order.currency);
    const at = `/lines/${i}`;
    if (!parsed.ok)
      return faults.push({
        pointer: `${at}/amount`,
        detail: `Amount: ${parsed.reason}`,
        example: parsed.example,
      });
    const line = lines
      .map((l, n) => ({ l, n }))
      .filter(({ l }) => codes.get(l.product) === asked.product.toUpperCase());
    if (!line.length)
      return faults.push({
        pointer: `${at}/product`,
        detail: `Product ${asked.product} is not in order ${order.reference}`,
        example: [...codes.values()][0]!,
      });
    const left = line.reduce((sum, { l, n }) => sum + l.valueLeft - back[n]!, 0);
    if (parsed.value === 0)
      return faults.push({
        pointer: `${at}/amount`,
        detail: 'Amount: a refund of nothing',
        example: toDecimal(left, order.currency),
      });
    if (parsed.value > left)
      return faults.push({
        pointer: `${at}/amount`,
        detail: `Amount: ${asked.amount} is more than the ${toDecimal(left, order.currency)} ${order.currency} left of ${asked.product}`,
        example: toDecimal(left, order.currency),
      });
    let rest = parsed.value;
    for (const { l, n } of line) {
      const take = Math.min(rest, l.valueLeft - back[n]!);
      back[n]! += take;
      rest -= take;
    }
    return undefined;
  });
  if (faults.length) throw invalid(faults);
  return back;
}

/** What of an order was given back, line by line. Values in the order's currency; the rest in base. */
interface Given {
  order: OrderRecord;
  lines: Line[];
  back: number[];
  valuesLeft: number[];
  basesLeft: number[];
  commissionsLeft: number[];
  working: RefundWorking[];
  /** commission of all lines that the refund takes, before corrections */
  reversed: number;
  baseBack: number;
}

const linesOf = (app: App, order: Id<'order'>): Line[] =>
  app.db.select().from(orderLines).where(eq(orderLines.order, order)).orderBy(orderLines.position).all();

/** Codes of products by id. */
const codesOf = (app: App) =>
  new Map(
    app.db
      .select({ id: products.id, code: products.code })
      .from(products)
      .all()
      .map((p) => [p.id, p.code]),
  );

/** Works out what each line has left. @throws Problem `invalid` where nothing is left, or less than is asked */
function givenBack(app: App, report: RefundReport, order: OrderRecord): Given {
  const lines = linesOf(app, order.id);
  const codes = codesOf(app);
  const back = amountsOf(report, order, lines, new Map(lines.map((l) => [l.product, codes.get(l.product)!])));
  if (back.reduce((a, b) => a + b, 0) === 0)
    throw refuse('order', `Nothing is left to refund of order ${order.reference}`);
  const { base } = theProgramme(app);
  const inBase = (amount: number) => convertToBase(amount, order.currency, base, order.rateMicros);
  const valuesLeft = lines.map((line, i) => line.valueLeft - back[i]!);
  const basesLeft = valuesLeft.map(inBase);
  // of all lines at once: a cap is shared by the lines of its rate, so that one line's refund may change another's part
  const commissionsLeft = amountsOnRest(
    lines.map((l) => ({ reward: l.reward ?? null, base: l.base, amount: l.commission })),
    basesLeft,
    lines.map((l) => l.commissionLeft),
  );
  const given: Given = {
    ...{ order, lines, back, valuesLeft, basesLeft, commissionsLeft },
    working: [],
    reversed: 0,
    baseBack: 0,
  };
  lines.forEach((line, i) => {
    if (!isTouched(given, i)) return;
    const [baseLeft, commissionLeft] = [basesLeft[i]!, commissionsLeft[i]!];
    given.reversed += line.commissionLeft - commissionLeft;
    given.baseBack += inBase(line.valueLeft) - baseLeft;
    given.working.push({
      product: codes.get(line.product)!,
      refunded: back[i]!,
      valueLeft: valuesLeft[i]!,
      baseLeft,
      commissionBefore: line.commissionLeft,
      commissionLeft,
    });
  });
  return given;
}

/** True for a line of which something was given back, or whose part of a shared cap changes. */
const isTouched = ({ lines, back, commissionsLeft }: Given, i: number): boolean =>
  back[i]! > 0 || commissionsLeft[i] !== lines[i]!.commissionLeft;

function writeLinesLeft(app: App, given: Given): void {
  const { order, lines, valuesLeft, commissionsLeft } = given;
  lines.forEach(({ position }, i) => {
    if (isTouched(given, i))
      app.db
        .update(orderLines)
        .set({ valueLeft: valuesLeft[i]!, commissionLeft: commissionsLeft[i]! })
        .where(and(eq(orderLines.order, order.id), eq(orderLines.position, position)))
        .run();
  });
}

/** What each line has left, as its shares look at it. */
const leftOfLines = ({ lines, basesLeft, commissionsLeft }: Given) =>
  lines.map(({ base }, i) => ({ base, left: basesLeft[i]!, commissionLeft: commissionsLeft[i]! }));

const sum = (amounts: readonly number[]): number => amounts.reduce((a, b) => a + b, 0);

/** What is left of the sale's value beside what the rates give on it, minor units of base. */
function roomOf(app: App, given: Given): number {
  const shares = sharesLeftAfter(app, given.order.id, leftOfLines(given));
  return Math.max(0, sum(given.basesLeft) - sum(given.commissionsLeft) - shares);
}

/** The commission of an order and what the refund takes of it, minor units of base; what corrections leave is written. */
function takeFromCommission(
  app: App,
  { order, lines, back, reversed }: Given,
  room: number,
): { commission: CommissionRecord; taken: number; adjusted: number } | null {
  const commission = app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.order, order.id), eq(commissions.kind, 'commission')))
    .get();
  if (!commission) return null;
  const before = {
    standing: commission.held + commission.cleared + commission.inRun + commission.paid,
    adjusted: commission.adjusted,
    givenUp: commission.givenUp,
    declined: commission.declined !== null,
    reversed,
    linesLeft: lines.reduce((sum, l) => sum + l.commissionLeft, 0) - reversed,
    room,
    nothingLeft: lines.every((l, i) => l.valueLeft === back[i]),
  };
  const adjusted = adjustedAfter(before);
  noteAdjusted(app, commission.id, adjusted);
  return { commission, taken: takenBack(before), adjusted };
}

function applyRefund(
  app: App,
  report: RefundReport,
  { order, at, content }: { order: OrderRecord; at: number; content: string },
): void {
  const given = givenBack(app, report, order);
  const room = roomOf(app, given);
  writeLinesLeft(app, given);
  const earned = takeFromCommission(app, given, room);
  const taken = earned?.taken ?? 0;
  const id = newId('refund');
  const memo = `${report.kind === 'chargeback' ? 'Chargeback' : 'Refund'} ${report.refund} of order ${order.reference}`;
  app.db
    .insert(refunds)
    .values({
      id,
      reference: report.refund,
      order: order.id,
      at,
      day: dayOf(at, theProgramme(app).zone),
      kind: report.kind,
      value: given.back.reduce((a, b) => a + b, 0),
      base: given.baseBack,
      reversed: taken,
      content,
      working: given.working,
    })
    .run();
  if (earned && taken > 0) {
    const what = { amount: taken, once: `refund:${id}`, memo, more: { refund: id } };
    reverseCommission(app, theShop, earned.commission, what);
  }
  if (order.test) return;
  reverseShares(app, theShop, order.id, {
    lines: leftOfLines(given),
    room: room - Math.max(0, earned?.adjusted ?? 0),
    refund: { id, memo },
  });
}

/** The moment of a refund. @throws Problem `invalid` for what cannot stand in a report, with every fault */
function readRefund(app: App, report: RefundReport): number {
  const faults: FieldFault[] = [];
  const at = readMoment(app, { text: report.at, field: 'at', title: 'At', faults });
  if (report.full && report.lines)
    faults.push({ pointer: '/lines', detail: 'Lines and full exclude each other: leave one out' });
  if (!report.full && !report.lines)
    faults.push({
      pointer: '/full',
      detail: 'Full is missing: say full, or name the lines with their amounts',
      example: 'true',
    });
  if (faults.length) throw invalid(faults);
  return at;
}

/** Everything that a refund says, in one text: a repeat is told from a contradiction by it. */
function contentOf(report: RefundReport, order: OrderRecord, at: number): string {
  const lines = report.lines?.map((l) => {
    const p = parseAmount(l.amount, order.currency);
    return [l.product.toUpperCase(), p.ok ? p.value : l.amount];
  });
  return JSON.stringify([report.order, order.payment, at, report.kind, report.full ?? false, lines ?? null]);
}

/** @throws Problem `contradicts` where the refund was reported with other values before */
function repeated(app: App, report: RefundReport, order: OrderRecord, content: string): Taken | null {
  const before = app.db.select().from(refunds).where(eq(refunds.reference, report.refund)).get();
  if (!before) return null;
  if (before.content !== content)
    throw new Problem(
      'contradicts',
      `Refund ${report.refund} was reported with other values before: nothing was changed, both versions are in the log`,
    );
  return {
    status: 200,
    said: 'the same refund again; it counts once',
    order: order.id,
    answer: answerFor(app, order, 'already-recorded', 'left'),
  };
}

/** Takes a refund report, once per reference. Call inside a transaction. @throws Problem */
export function takeRefund(app: App, report: RefundReport): Taken {
  const at = readRefund(app, report);
  const order = findOrder(app, report);
  const content = contentOf(report, order, at);
  const before = repeated(app, report, order, content);
  if (before) return before;
  const { base, zone } = theProgramme(app);
  // to the second: not every shop writes smaller ones
  if (Math.floor(at / 1000) < Math.floor(order.placedAt / 1000))
    throw refuse(
      'at',
      `At is before the order itself, ${formatMoment(order.placedAt, zone)}`,
      new Date(order.placedAt).toISOString(),
    );
  applyRefund(app, report, { order, at, content });
  const reversed = app.db
    .select({ n: refunds.reversed })
    .from(refunds)
    .where(eq(refunds.reference, report.refund))
    .get()!.n;
  const said =
    reversed > 0
      ? `${report.kind}: ${toDecimal(reversed, base)} ${base} of the commission taken back`
      : `${report.kind}: no commission to take back`;
  return {
    status: 201,
    said,
    order: order.id,
    answer: { ...answerFor(app, order, 'recorded', 'left'), reason: said },
  };
}

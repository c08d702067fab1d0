import { and, asc, eq, inArray } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import { type RefundReport } from '../../../contract/track/signed-calls';
import { dayOf } from '../../../core/calendar/zone';
import { takenBack } from '../../../core/ledger/commission';
import { convertToBase, parseAmount, toDecimal } from '../../../core/money/amount';
import { amountsOnRest } from '../../../core/terms/earned';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { commissions } from '../../ground/tables/ledger';
import { orderLines, orders, pictured, refunds, type RefundWorking } from '../../ground/tables/orders';
import { noteAdjusted, reverseCommission } from '../../ledger/journal';
import { theProgramme } from '../../registers/programme/record';
import { reverseShares } from '../crediting/shares';
import { answerFor, theShop, type Taken } from './intake';
import { readMoment } from './normalise';

type Line = typeof orderLines.$inferSelect;
type OrderRecord = typeof orders.$inferSelect;

function findOrder(app: App, report: RefundReport): OrderRecord {
  // leads and clicks cannot be given back, whatever their reference; without a payment the order's first one is meant, never a renewal
  const of = report.payment
    ? and(eq(orders.payment, report.payment), inArray(orders.event, ['sale', 'renewal']))
    : eq(orders.event, 'sale');
  const rows = app.db
    .select()
    .from(orders)
    .where(and(eq(orders.reference, report.order), of))
    .orderBy(asc(orders.number), asc(orders.id))
    .all();
  const row = rows.find((r) => r.payment === r.reference) ?? rows[0];
  const waiting = row
    ? undefined
    : app.db
        .select({ id: pictured.id })
        .from(pictured)
        .where(and(eq(pictured.reference, report.order), eq(pictured.state, 'open')))
        .get();
  if (waiting)
    throw refuse(
      'order',
      `Order ${report.order} is known by a picture alone and unconfirmed: report it, signed, before its refund`,
      'the reference of a recorded order',
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
    const of = lines
      .map((l, n) => ({ l, n }))
      .filter(({ l }) => codes.get(l.product) === asked.product.toUpperCase());
    if (!of.length)
      return faults.push({
        pointer: `${at}/product`,
        detail: `Product ${asked.product} is not in order ${order.reference}`,
        example: [...codes.values()][0]!,
      });
    const left = of.reduce((sum, { l, n }) => sum + l.valueLeft - back[n]!, 0);
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
    for (const { l, n } of of) {
      const take = Math.min(rest, l.valueLeft - back[n]!);
      back[n]! += take;
      rest -= take;
    }
    return undefined;
  });
  if (faults.length) throw invalid(faults);
  return back;
}

function applyRefund(
  app: App,
  report: RefundReport,
  { order, at, content }: { order: OrderRecord; at: number; content: string },
): void {
  const lines = app.db
    .select()
    .from(orderLines)
    .where(eq(orderLines.order, order.id))
    .orderBy(orderLines.position)
    .all();
  const codes = new Map(
    app.db
      .select({ id: products.id, code: products.code })
      .from(products)
      .all()
      .map((p) => [p.id, p.code]),
  );
  const back = amountsOf(report, order, lines, new Map(lines.map((l) => [l.product, codes.get(l.product)!])));
  const value = back.reduce((a, b) => a + b, 0);
  if (value === 0) throw refuse('order', `Nothing is left to refund of order ${order.reference}`);
  const { base, zone } = theProgramme(app);
  const inBase = (amount: number) => convertToBase(amount, order.currency, base, order.rateMicros);
  const working: RefundWorking[] = [];
  let reversed = 0;
  let baseBack = 0;
  const valuesLeft = lines.map((line, i) => line.valueLeft - back[i]!);
  // of all lines at once: a cap is shared by the lines of its rate, so that one line's refund may change another's part
  const commissionsLeft = amountsOnRest(
    lines.map((l) => ({ reward: l.reward ?? null, base: l.base, amount: l.commission })),
    valuesLeft.map(inBase),
    lines.map((l) => l.commissionLeft),
  );
  lines.forEach((line, i) => {
    const valueLeft = valuesLeft[i]!;
    const baseLeft = inBase(valueLeft);
    const commissionLeft = commissionsLeft[i]!;
    if (!back[i] && commissionLeft === line.commissionLeft) return;
    reversed += line.commissionLeft - commissionLeft;
    baseBack += inBase(line.valueLeft) - baseLeft;
    working.push({
      product: codes.get(line.product)!,
      refunded: back[i] ?? 0,
      valueLeft,
      baseLeft,
      commissionBefore: line.commissionLeft,
      commissionLeft,
    });
    app.db
      .update(orderLines)
      .set({ valueLeft, commissionLeft })
      .where(and(eq(orderLines.order, order.id), eq(orderLines.position, line.position)))
      .run();
  });
  const commission = app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.order, order.id), eq(commissions.kind, 'commission')))
    .get();
  let taken = 0;
  if (commission) {
    const result = takenBack({
      standing: commission.held + commission.cleared + commission.inRun + commission.paid,
      adjusted: commission.adjusted,
      givenUp: commission.givenUp,
      declined: commission.declined !== null,
      reversed,
      linesLeft: lines.reduce((sum, l) => sum + l.commissionLeft, 0) - reversed,
      whole: lines.every((l, i) => l.valueLeft === back[i]),
    });
    taken = result.taken;
    noteAdjusted(app, commission.id, result.adjusted);
  }
  const id = newId('refund');
  const memo = `${report.kind === 'chargeback' ? 'Chargeback' : 'Refund'} ${report.refund} of order ${order.reference}`;
  app.db
    .insert(refunds)
    .values({
      id,
      reference: report.refund,
      order: order.id,
      at,
      day: dayOf(at, zone),
      kind: report.kind,
      value,
      base: baseBack,
      reversed: taken,
      content,
      working,
    })
    .run();
  if (commission && taken > 0) {
    reverseCommission(app, theShop, commission, {
      amount: taken,
      once: `refund:${id}`,
      memo,
      more: { refund: id },
    });
  }
  if (!order.test)
    reverseShares(app, theShop, order.id, {
      lines: lines.map((l, i) => ({
        base: l.base,
        left: inBase(valuesLeft[i]!),
        commissionLeft: commissionsLeft[i]!,
      })),
      refund: { id, memo },
    });
}

/** Takes a refund report, once per reference. Call inside a transaction. @throws Problem */
export function takeRefund(app: App, report: RefundReport): Taken {
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
  const order = findOrder(app, report);
  const normal = report.lines?.map((l) => {
    const p = parseAmount(l.amount, order.currency);
    return [l.product.toUpperCase(), p.ok ? p.value : l.amount];
  });
  const content = JSON.stringify([
    report.order,
    order.payment,
    at,
    report.kind,
    report.full ?? false,
    normal ?? null,
  ]);
  const before = app.db.select().from(refunds).where(eq(refunds.reference, report.refund)).get();
  if (before) {
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
  applyRefund(app, report, { order, at, content });
  const reversed = app.db
    .select({ n: refunds.reversed })
    .from(refunds)
    .where(eq(refunds.reference, report.refund))
    .get()!.n;
  const said =
    reversed > 0
      ? `${report.kind}: ${toDecimal(reversed, theProgramme(app).base)} ${theProgramme(app).base} of the commission taken back`
      : `${report.kind}: no commission to take back`;
  return {
    status: 201,
    said,
    order: order.id,
    answer: { ...answerFor(app, order, 'recorded', 'left'), reason: said },
  };
}

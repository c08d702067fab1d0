import { type KeptCredit } from '../../../core/attribution/credit';
import { addZonedDays } from '../../../core/calendar/zone';
import { clearingMoment } from '../../../core/ledger/commission';
import { type Timing } from '../../../core/ledger/timing';
import { convertToBase } from '../../../core/money/amount';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import { commissionableValue } from '../../../core/terms/order';
import { isNotApproved } from '../../../core/terms/reason';
import { resolveWithWorking } from '../../../core/terms/resolve-working';
import { type Working } from '../../../core/terms/working';
import type { Id } from '../../../core/text/id';
import type { ReportWay } from '../../../core/tracking/lists';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { grantCommission } from '../../ledger/journal';
import { detailsOf } from '../../registers/catalogue/details';
import { theProgramme } from '../../registers/programme/record';
import { lockedAt, termsOf } from '../../setup/terms/service';
import { theTerms } from '../../setup/terms/store';
import { grantShares } from '../crediting/shares';
import { approvalsAt, creditOrder, statements } from './credit';
import type { NormalOrder } from './normalise';
import { spentBefore } from './parts';

export const theShop: Actor = { kind: 'open', id: 'shop' };

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
    spent: spentBefore(app, order),
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
  credit: KeptCredit;
  visitAt: number;
}

/** An order on its way into the books: who is credited, from when on, what each line is worth and earns. */
export interface Incoming {
  order: NormalOrder;
  id: Id<'order'>;
  credit: KeptCredit;
  /** the moment that terms are asked for */
  at: number;
  /** null where nobody is credited, and for a test */
  resolution: Resolution | null;
  /** of each line: its value in the order's currency, and in base */
  values: { value: number; base: number }[];
}

interface Circumstances extends Settled {
  id: Id<'order'>;
  /** the moment that terms are asked for */
  at: number;
  /** the moment whose approvals count */
  approvedAt: number;
}

/** Works out what an order is worth, and earns whoever is credited. */
export function workedOut(
  app: App,
  order: NormalOrder,
  { id, credit, at, visitAt, approvedAt }: Circumstances,
): Incoming {
  const { base } = theProgramme(app);
  const resolution =
    credit.affiliate && !order.test
      ? resolve(app, order, { affiliate: credit.affiliate, at, visitAt, approvedAt })
      : null;
  const values = order.lines.map((l) => {
    const value = commissionableValue(l);
    return { value, base: convertToBase(value, order.currency, base, order.rateMicros) };
  });
  return { order, id, credit, at, resolution, values };
}

/** An order as it comes in. @param settled null: whoever its report and what is stored credit */
export function incoming(app: App, order: NormalOrder, settled: Settled | null): Incoming {
  const { credit, visitAt } = settled ?? creditOrder(app, order);
  // where the shop's clock is behind ours, the visit proves that the order came after it
  const at = Math.max(order.placedAt, credit.affiliate ? visitAt : 0);
  const approvedAt = settled ? visitAt : at;
  return workedOut(app, order, { id: newId('order'), credit, at, visitAt, approvedAt });
}

/** Writes what was bought, line by line. */
export function writeLines(app: App, { order, id, resolution, values }: Incoming): void {
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
export const refundDaysOf = (order: NormalOrder): number =>
  order.event === 'click' ? 0 : Math.max(...order.lines.map((l) => l.product.refundDays));

/** Grants what the order earned its affiliate, if anything. */
export function grantEarned(app: App, { order, id, credit, at, resolution }: Incoming, way: ReportWay): void {
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

/** An order as its shares look at it. */
export const sharedOrder = ({ order, id, credit, at, resolution, values }: Incoming) => ({
  order: {
    ...{ id, reference: order.reference, affiliate: credit.affiliate, at },
    refundDays: refundDaysOf(order),
  },
  lines: order.lines.map((l, i) => ({
    product: l.product.id,
    base: values[i]!.base,
    commission: resolution?.working.lines[i]?.amount ?? 0,
  })),
});

/** Grants what others have of the order: who brought its affiliate in, and co-owners of what was sold. */
export function grantSharesOf(app: App, coming: Incoming): void {
  const { order, lines } = sharedOrder(coming);
  grantShares(app, theShop, order, lines);
}

import { and, eq } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import { type LeadReport, type RenewalReport } from '../../../contract/track/signed-calls';
import type { Credit } from '../../../core/attribution/credit';
import type { CreditReason } from '../../../core/attribution/reason';
import { dayOf } from '../../../core/calendar/zone';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { orders } from '../../ground/tables/orders';
import { affiliates } from '../../ground/tables/people';
import { productByCode } from '../../registers/catalogue/store';
import { wasBlocked } from '../../registers/people/blocked';
import { theProgramme } from '../../registers/programme/record';
import { takeOrder, type Taken } from './intake';
import { emptyVisit, normaliseOrder, readMoment, type NormalOrder } from './normalise';
import { type Settled } from './resolving';
import { noteRenewal, subscriptionOf } from './subscriptions';
import { heldBack } from './waiting';
import { keptAddress, type Warning } from './warnings';

type Resolved = Settled & { credit: Credit };

/**
 * A renewal keeps the affiliate of the first payment, whatever was clicked since. One that was blocked when it was paid earns nothing.
 * @param startedAt the moment as of which the first payment was resolved: where the shop's clock is behind, later than it said
 */
function creditOf(
  app: App,
  {
    affiliate,
    visit,
    startedAt,
    placedAt,
    subscription,
  }: {
    affiliate: Id<'affiliate'> | null;
    visit: Id<'visit'> | null;
    startedAt: number;
    placedAt: number;
    subscription: string;
  },
): Resolved {
  const row =
    affiliate === null
      ? null
      : app.db
          .select({ state: affiliates.state, blockedAt: affiliates.blockedAt })
          .from(affiliates)
          .where(eq(affiliates.id, affiliate))
          .get();
  const nobody = (reason: CreditReason): Resolved => ({
    visitAt: startedAt,
    credit: { affiliate: null, visit: null, by: null, reason, considered: [] },
  });
  if (affiliate === null || !row) return nobody({ code: 'first-payment-by-nobody', subscription });
  if (wasBlocked(row, placedAt)) return nobody({ code: 'first-payment-blocked', affiliate, subscription });
  return {
    visitAt: startedAt,
    credit: {
      affiliate,
      visit,
      by: 'subscription',
      reason: { code: 'first-payment', affiliate, subscription },
      considered: [],
    },
  };
}

/** @returns true where this payment is recorded already @throws Problem `contradicts` where its number was reported under another reference */
function refuseOther(app: App, report: RenewalReport): boolean {
  const other = app.db
    .select({ payment: orders.payment })
    .from(orders)
    .where(
      and(
        eq(orders.subscription, report.subscription),
        eq(orders.number, report.number),
        eq(orders.event, 'renewal'),
      ),
    )
    .get();
  if (other && other.payment !== report.payment)
    throw new Problem(
      'contradicts',
      `Payment number ${report.number} of subscription ${report.subscription} was reported as ${other.payment} before: nothing was changed, both versions are in the log`,
    );
  return other !== undefined;
}

/**
 * Takes a renewal report: a further payment of a subscription, once per payment reference and once per number. One that
 * does not fit what was agreed waits for a person. Call inside a transaction.
 * @param confirmed true where a person confirmed it @throws Problem
 */
export function takeRenewal(app: App, report: RenewalReport, confirmed = false): Taken {
  if (report.payment === report.subscription)
    throw refuse(
      'payment',
      `Payment ${report.payment} is the subscription’s own id: each payment has a reference of its own`,
      `${report.payment}-${report.number}`,
    );
  const subscription = subscriptionOf(app, report.subscription);
  if (!subscription)
    throw refuse(
      'subscription',
      `Subscription ${report.subscription} is not known here: report its first payment as an order that names it`,
      'the subscription of a recorded order',
    );
  const first = app.db.select().from(orders).where(eq(orders.id, subscription.order)).get()!;
  const normal = normaliseOrder(app, {
    order: first.reference,
    payment: report.payment,
    placedAt: report.placedAt,
    currency: report.currency,
    lines: report.lines,
    test: first.test,
  });
  const isKnown = refuseOther(app, report);
  const order: NormalOrder = {
    ...normal,
    event: 'renewal',
    number: report.number,
    subscription: report.subscription,
    content: JSON.stringify(['renewal', report.subscription, report.number, normal.content]),
  };
  const settled = creditOf(app, {
    affiliate: subscription.affiliate,
    visit: subscription.visit,
    startedAt: first.resolvedAt ?? subscription.startedAt,
    placedAt: order.placedAt,
    subscription: report.subscription,
  });
  const { credit } = settled;
  const held = confirmed || isKnown ? null : heldBack(app, { report, subscription, first, order, credit });
  if (held) return held;
  const taken = takeOrder(app, order, 'server', settled);
  if (taken.status === 201) noteRenewal(app, subscription, report.number);
  return taken;
}

/** Takes a lead report, once per reference. Call inside a transaction. @throws Problem */
export function takeLead(app: App, report: LeadReport): Taken {
  const faults: FieldFault[] = [];
  const { base, zone } = theProgramme(app);
  const at = readMoment(app, { text: report.at, field: 'at', title: 'At', faults });
  const product = productByCode(app, report.product);
  if (!product)
    faults.push({
      pointer: '/product',
      detail: `Product ${report.product} is not known here`,
      example: 'a code from the Products page',
    });
  if (report.visit === '') faults.push(emptyVisit);
  if (faults.length) throw invalid(faults);
  const warnings: Warning[] = [];
  const { visit = null, visitor = null, customer } = report;
  const { id = null, email = null } = customer ?? {};
  return takeOrder(
    app,
    {
      reference: report.lead,
      payment: `lead ${report.lead}`,
      placedAt: at,
      day: dayOf(at, zone),
      currency: base,
      rateMicros: 1_000_000,
      visit,
      visitor,
      customer: id,
      email: keptAddress(email, warnings),
      warnings,
      test: false,
      lines: [{ product: product!, quantity: 1, amount: 0, discount: 0, step: null, quote: null }],
      event: 'lead',
      number: 1,
      subscription: null,
      content: JSON.stringify(['lead', report.lead, product!.code, at, visit, visitor, id, email]),
    },
    'server',
  );
}

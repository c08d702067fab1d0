import { and, eq, lt, sql } from 'drizzle-orm';
import { dayOf } from '../../core/calendar/zone';
import { clearedBand, shrunkRefundRate, tenure } from '../../core/recruiting/evidence';
import type { App } from '../context';
import { theProgramme } from '../context';
import type { affiliates} from '../db/schema';
import { applications, commissions, products, refunds } from '../db/schema';

/** Above this shrunk refund rate an applicant is marked, in parts per million. */
export const refundLine = 120_000;

export interface Record {
  sales: number;
  refunded: number;
  cleared: string;
  refundRate: number;
}

/** Sales of an affiliate past their refund window, how many of them were refunded, and the shrunk rate. */
export function recordOf(app: App, affiliate: string): Record {
  const past = and(eq(commissions.affiliate, affiliate), eq(commissions.kind, 'commission'), lt(commissions.refundableUntil, app.clock.now()));
  const sales = app.db.select({ n: sql<number>`count(*)` }).from(commissions).where(past).get()!.n;
  const refunded = sales === 0 ? 0 : app.db.select({ n: sql<number>`count(DISTINCT ${commissions.id})` }).from(commissions).innerJoin(refunds, eq(refunds.order, commissions.order)).where(past).get()!.n;
  return { sales, refunded, cleared: clearedBand(sales - refunded), refundRate: shrunkRefundRate(refunded, sales) };
}

/** Everything shown about an applicant beside the decision. */
export function evidenceOf(app: App, application: typeof applications.$inferSelect, affiliate: typeof affiliates.$inferSelect) {
  const found = recordOf(app, affiliate.id);
  const { zone } = theProgramme(app);
  const { years, days } = tenure(dayOf(affiliate.joinedAt ?? affiliate.createdAt, zone), dayOf(app.clock.now(), zone));
  const earlier = app.db.select({ id: applications.id, at: applications.createdAt, state: applications.state, product: products.name })
    .from(applications).leftJoin(products, eq(products.id, applications.product)).where(eq(applications.affiliate, affiliate.id)).orderBy(applications.createdAt).all();
  return {
    cleared: found.cleared, sales: found.sales, refunds: found.refunded, refundRate: found.refundRate, aboveLine: found.sales > 0 && found.refundRate > refundLine,
    tenure: affiliate.joinedAt === null ? 'not an affiliate yet' : `${years} ${years === 1 ? 'year' : 'years'} ${days} ${days === 1 ? 'day' : 'days'}`,
    earlier: earlier.filter((e) => e.id !== application.id).map(({ at, state, product }) => ({ at, state, product })),
  };
}

/** Short remarks for the row of the queue. */
export function remarksOf(application: { note: string }, affiliate: { state: string }, found: Record): string[] {
  const remarks: string[] = [];
  if (affiliate.state === 'blocked') remarks.push('blocked before');
  if (application.note.trim() === '') remarks.push('no note');
  if (found.sales > 0 && found.refundRate > refundLine) remarks.push('refunds above your line');
  return remarks;
}

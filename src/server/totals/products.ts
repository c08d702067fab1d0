import { and, eq, sql } from 'drizzle-orm';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
import { productDays, stepTotals } from '../ground/tables/totals';
import { clickDays } from '../ground/tables/visits';

const soldSince = (product: Id<'product'>, day: string) =>
  and(eq(productDays.product, product), sql`${productDays.day} >= ${day}`);

/** Orders of a product since a day, renewals not counted; test orders are not counted. */
export function ordersSince(app: App, product: Id<'product'>, day: string): number {
  return app.db
    .select({ n: sql<number>`coalesce(sum(${productDays.sold}), 0)` })
    .from(productDays)
    .where(soldSince(product, day))
    .get()!.n;
}

/** First sales of a product since a day that are credited to an affiliate; of a free product its leads. */
export function creditedSince(
  app: App,
  { id, kind }: { id: Id<'product'>; kind: string },
  day: string,
): number {
  const counted = kind === 'free' ? productDays.leads : productDays.orders;
  return app.db
    .select({ n: sql<number>`coalesce(sum(${counted}), 0)` })
    .from(productDays)
    .where(soldSince(id, day))
    .get()!.n;
}

/** Orders of a product of which something was given back. */
export function refundsOf(app: App, product: Id<'product'>): number {
  return app.db
    .select({ n: sql<number>`coalesce(sum(${productDays.refunded}), 0)` })
    .from(productDays)
    .where(eq(productDays.product, product))
    .get()!.n;
}

/** Value of first sales of a product since a day, and of it what discounts took off, in ten thousandths of the list price. */
export function discountsSince(
  app: App,
  product: Id<'product'>,
  day: string,
): { weight: number; discounted: number } {
  return app.db
    .select({
      weight: sql<number>`coalesce(sum(${productDays.weight}), 0)`,
      discounted: sql<number>`coalesce(sum(${productDays.discounted}), 0)`,
    })
    .from(productDays)
    .where(soldSince(product, day))
    .get()!;
}

/** How often a follow-on offer was taken, renewals not counted; its lines with them, their value in base and what they granted. */
export function stepSums(
  app: App,
  step: string,
): { taken: number; lines: number; base: number; commission: number } {
  const { taken, lines, base, commission } = stepTotals;
  return (
    app.db
      .select({ taken, lines, base, commission })
      .from(stepTotals)
      .where(eq(stepTotals.step, step))
      .get() ?? { taken: 0, lines: 0, base: 0, commission: 0 }
  );
}

/** Value in base and commission of a product where it was no follow-on offer and no renewal. */
export function openedBy(app: App, product: Id<'product'>): { value: number; commission: number } {
  return app.db
    .select({
      value: sql<number>`coalesce(sum(${productDays.openedBase}), 0)`,
      commission: sql<number>`coalesce(sum(${productDays.openedCommission}), 0)`,
    })
    .from(productDays)
    .where(eq(productDays.product, product))
    .get()!;
}

export function clicksSince(app: App, product: Id<'product'>, day: string): number {
  return (
    app.db
      .select({ n: sql<number>`coalesce(sum(${clickDays.clicks}), 0)` })
      .from(clickDays)
      .where(and(eq(clickDays.product, product), sql`${clickDays.day} >= ${day}`))
      .get()?.n ?? 0
  );
}

/** Clicks, credited orders and what they earned of a product since a day: what an average earning is made of. Test orders are not counted. */
export function countsOfProduct(
  app: App,
  product: Id<'product'>,
  day: string,
): { clicks: number; orders: number; granted: number } {
  const sold = app.db
    .select({
      orders: sql<number>`coalesce(sum(${productDays.credited}), 0)`,
      granted: sql<number>`coalesce(sum(${productDays.granted}), 0)`,
    })
    .from(productDays)
    .where(soldSince(product, day))
    .get()!;
  return { ...sold, clicks: clicksSince(app, product, day) };
}

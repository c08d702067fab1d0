import { and, eq, gt, isNull, lte, or } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { approvals } from '../../ground/tables/people';

/** True if an affiliate is let in for a product now, by itself or with the whole programme. */
export function approvedNow(app: App, affiliate: Id<'affiliate'>, product: Id<'product'>): boolean {
  const now = app.clock.now();
  const inForce = and(lte(approvals.from, now), or(isNull(approvals.until), gt(approvals.until, now)));
  return (
    app.db
      .select({ id: approvals.id })
      .from(approvals)
      .where(
        and(
          eq(approvals.affiliate, affiliate),
          or(eq(approvals.product, product), isNull(approvals.product)),
          inForce,
        ),
      )
      .limit(1)
      .get() !== undefined
  );
}

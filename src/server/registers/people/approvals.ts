import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { changing, insertion, perApp, rowsBy } from '../../ground/db/prepared';
import { approvals } from '../../ground/tables/people';

export type ApprovalRecord = typeof approvals.$inferSelect;

/** Prepared: hundreds are approved at once. */
const statements = perApp((app) => ({
  same: rowsBy(app, approvals, ['affiliate', 'product', 'until'], {
    only: ['id'],
    maybe: ['product', 'until'],
  }),
  open: insertion(app, approvals),
  end: changing(app, approvals, ['until'], ['id']),
}));

/** Approvals of an affiliate that are in force. */
export function openApprovals(app: App, affiliate: Id<'affiliate'>): ApprovalRecord[] {
  return app.db
    .select()
    .from(approvals)
    .where(and(eq(approvals.affiliate, affiliate), isNull(approvals.until)))
    .all();
}

/**
 * Approves an affiliate for a product, or for every product (null), from a moment on; what it was approved for the same
 * before ends then. @returns ids of the approvals that ended
 */
export function openApproval(
  app: App,
  approval: Pick<ApprovalRecord, 'affiliate' | 'product' | 'timing' | 'from'>,
): Id<'approval'>[] {
  const { same, open, end } = statements(app);
  const replaced = same.all(approval.affiliate, approval.product, null).map((a) => a.id);
  for (const id of replaced) end.run({ until: approval.from }, id);
  open.run({ id: newId('approval'), ...approval, until: null });
  return replaced;
}

const sameOf = (affiliate: Id<'affiliate'>, product: Id<'product'> | null) =>
  and(
    eq(approvals.affiliate, affiliate),
    isNull(approvals.until),
    product === null ? isNull(approvals.product) : eq(approvals.product, product),
  );

/** Ends the approval of an affiliate for a product, or for every product (null). */
export function endApproval(
  app: App,
  affiliate: Id<'affiliate'>,
  product: Id<'product'> | null,
  at: number,
): void {
  app.db.update(approvals).set({ until: at }).where(sameOf(affiliate, product)).run();
}

/** Takes an approval back as if it had not been, and brings back those that it took the place of. */
export function undoApproval(
  app: App,
  affiliate: Id<'affiliate'>,
  product: Id<'product'> | null,
  replaced: readonly Id<'approval'>[],
): void {
  app.db
    .update(approvals)
    .set({ until: sql`${approvals.from}` })
    .where(sameOf(affiliate, product))
    .run();
  if (replaced.length)
    app.db
      .update(approvals)
      .set({ until: null })
      .where(inArray(approvals.id, [...replaced]))
      .run();
}

/** Changes the payment timing of everything an affiliate is approved for, from a moment on. */
export function changeTiming(
  app: App,
  affiliate: Id<'affiliate'>,
  timing: ApprovalRecord['timing'],
  at: number,
): void {
  for (const { product } of openApprovals(app, affiliate).filter((a) => a.timing !== timing))
    openApproval(app, { affiliate, product, timing, from: at });
}

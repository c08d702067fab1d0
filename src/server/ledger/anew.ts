import { and, eq, ne, sql } from 'drizzle-orm';
import { correct } from '../../core/ledger/entry';
import type { Id } from '../../core/text/id';
import { type Actor, type App } from '../ground/context';
import { commissions } from '../ground/tables/ledger';
import { postEntry, standingOf, type CommissionRecord } from './journal';
import { worthLeft } from './worth';

/** What of a person's corrections has to go so that commission and shares stay within what is left of the order, minor units of base. */
function beyondWorth(app: App, row: CommissionRecord, difference: number): number {
  if (row.adjusted <= 0) return 0;
  const standing = sql<number>`coalesce(sum(${commissions.held} + ${commissions.cleared} + ${commissions.inRun} + ${commissions.paid}), 0)`;
  const others = app.db
    .select({ n: standing })
    .from(commissions)
    .where(and(eq(commissions.order, row.order), ne(commissions.id, row.id)))
    .get()!.n;
  const after = row.held + row.cleared + row.inRun + row.paid + difference;
  return Math.min(row.adjusted, Math.max(0, after + others - worthLeft(app, row.order)));
}

/**
 * Brings a commission, or a share, to what its order comes to after it was reported anew: what was granted becomes the new
 * amount, and one entry corrects the difference where the commission stands, paid or not. What was declined stays declined.
 * Nothing was refunded of the order. Call inside the transaction of the report.
 * @param granted minor units of base @returns false where there is none to bring there
 */
export function grantAnew(
  app: App,
  actor: Actor,
  {
    order,
    kind,
    affiliate,
    granted,
    memo,
  }: Pick<CommissionRecord, 'order' | 'kind' | 'granted'> & {
    affiliate: Id<'affiliate'> | null;
    memo: string;
  },
): boolean {
  if (affiliate === null) return false;
  const row = app.db
    .select()
    .from(commissions)
    .where(
      and(eq(commissions.order, order), eq(commissions.kind, kind), eq(commissions.affiliate, affiliate)),
    )
    .get();
  if (!row) return false;
  const difference = granted - row.granted;
  const beyond = beyondWorth(app, row, difference);
  app.db
    .update(commissions)
    .set({
      granted,
      adjusted: row.adjusted - beyond,
      // what is declined is all of what was granted, so that figures come to nothing
      ...(row.declined === null ? {} : { declinedAmount: Math.max(0, row.declinedAmount + difference) }),
    })
    .where(eq(commissions.id, row.id))
    .run();
  if (row.declined === null && difference - beyond !== 0)
    postEntry(app, actor, {
      event: 'reported-anew',
      lines: correct(difference - beyond, standingOf(row), { affiliate, commission: row.id }),
      once: `reported-anew:${row.id}`,
      memo,
      order,
    });
  return true;
}

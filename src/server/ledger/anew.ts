import { and, eq } from 'drizzle-orm';
import { regranted } from '../../core/ledger/commission';
import { correct } from '../../core/ledger/entry';
import type { Id } from '../../core/text/id';
import { type Actor, type App } from '../ground/context';
import { commissions } from '../ground/tables/ledger';
import { postEntry, standingOf, type CommissionRecord } from './journal';
import { standingOfOthers, worthLeft } from './worth';

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
  const { held, cleared, inRun, paid, adjusted, declined } = row;
  const next = regranted(
    {
      ...{ granted: row.granted, standing: held + cleared + inRun + paid, adjusted },
      declinedAmount: declined === null ? null : row.declinedAmount,
      ...{ others: standingOfOthers(app, row), worth: worthLeft(app, order) },
    },
    granted,
  );
  app.db
    .update(commissions)
    .set({ granted, adjusted: next.adjusted, declinedAmount: next.declinedAmount })
    .where(eq(commissions.id, row.id))
    .run();
  if (next.corrected !== 0)
    postEntry(app, actor, {
      event: 'reported-anew',
      lines: correct(next.corrected, standingOf(row), { affiliate, commission: row.id }),
      once: `reported-anew:${row.id}`,
      memo,
      order,
    });
  return true;
}

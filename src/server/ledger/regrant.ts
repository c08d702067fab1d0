import { and, eq } from 'drizzle-orm';
import { regranted } from '../../core/ledger/commission';
import { correct } from '../../core/ledger/entry';
import type { Id } from '../../core/text/id';
import { type Actor, type App } from '../ground/context';
import { commissions } from '../ground/tables/ledger';
import { postEntry, standingOf, type CommissionRecord } from './journal';
import { standingOfOthers, worthLeft } from './worth';

/**
 * Sets a commission, or a share, to the amount that its order earns after a report with other values. One entry corrects
 * the difference, paid or not. A declined one stays declined. Call inside the transaction of the report.
 * @param granted the new amount, minor units of base @returns false where the order has no such commission yet
 */
export function regrant(
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
      event: 'corrected-by-report',
      lines: correct(next.corrected, standingOf(row), { affiliate, commission: row.id }),
      once: `corrected-by-report:${row.id}`,
      memo,
      order,
    });
  return true;
}

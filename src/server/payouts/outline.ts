import { eq, gte, and, sql } from 'drizzle-orm';
import type { RunPlan } from '../../core/payouts/plan';
import { planRun } from '../../core/payouts/plan';
import { detailsComplete } from '../affiliates/service';
import type { App } from '../context';
import { affiliates, commissions, payeeTotals } from '../db/schema';
import { payWaitsFor } from '../policy/service';
import type { RunRecord } from './runs';

/** What is cleared but only clears after a cut-off, by payee: not part of a run. */
function clearedLater(app: App, cutoff: number): Map<string, number> {
  return new Map(app.db.select({ affiliate: commissions.affiliate, n: sql<number>`sum(${commissions.cleared})` }).from(commissions)
    .where(and(sql`${commissions.cleared} > 0`, gte(commissions.clearsAt, cutoff))).groupBy(commissions.affiliate).all().map((r) => [r.affiliate, r.n]));
}

/**
 * What a run would pay as things stand, by payee and in all, from the totals: the same sums as its plan, without the commissions that each is made of. Payees
 * whose commissions and reversals cancel out are not in it.
 */
export function outlineOf(app: App, run: Pick<RunRecord, 'cutoff' | 'minimum' | 'excluded'>): RunPlan {
  const later = clearedLater(app, run.cutoff);
  const waits = payWaitsFor(app);
  const out = new Set(run.excluded);
  const rows = app.db.select({ affiliate: payeeTotals.affiliate, cleared: payeeTotals.cleared, who: { name: affiliates.name, state: affiliates.state, promotes: affiliates.promotes, payeeHolder: affiliates.payeeHolder, payeeIban: affiliates.payeeIban, payeeAddress: affiliates.payeeAddress } })
    .from(payeeTotals).innerJoin(affiliates, eq(affiliates.id, payeeTotals.affiliate)).where(sql`${payeeTotals.cleared} <> 0`).orderBy(affiliates.name, affiliates.id).all();
  const payees = rows.filter((r) => !out.has(r.affiliate)).map(({ affiliate, cleared, who }) => ({
    affiliate, name: who.name, state: who.state,
    // looked at only where it decides: most are below the minimum
    get payable() { return detailsComplete(who); },
    unaccepted: who.promotes && (who.state === 'active' || who.state === 'paused') && waits(affiliate),
    items: [{ commission: '', amount: cleared - (later.get(affiliate) ?? 0) }],
  }));
  return planRun(payees.filter((p) => p.items[0]!.amount !== 0), run.minimum);
}

import { sql } from 'drizzle-orm';
import { planRun, type PayeeBalance, type RunPlan } from '../../src/core/payouts/plan';
import type { App } from '../../src/server/ground/context';
import { commissions } from '../../src/server/ground/tables/ledger';
import { affiliates } from '../../src/server/ground/tables/people';
import { detailsComplete } from '../../src/server/registers/people/record';
import { payWaitsFor } from '../../src/server/setup/policy/acceptance';

/** What a run would pay, from each commission by itself: what the totals are compared with. */
export function planOf(
  app: App,
  run: { cutoff: number; minimum: number; excluded: readonly string[] },
): RunPlan {
  const waits = payWaitsFor(app);
  const open = app.db
    .select()
    .from(commissions)
    .where(sql`cleared <> 0`)
    .all()
    .filter((c) => c.clearsAt < run.cutoff || c.cleared < 0);
  const payees = app.db
    .select()
    .from(affiliates)
    .orderBy(affiliates.name, affiliates.id)
    .all()
    .filter((a) => !run.excluded.includes(a.id))
    .map((a): PayeeBalance => ({
      affiliate: a.id,
      name: a.name,
      state: a.state,
      payable: detailsComplete(a),
      items: open.filter((c) => c.affiliate === a.id).map((c) => ({ commission: c.id, amount: c.cleared })),
      unaccepted: a.promotes && (a.state === 'active' || a.state === 'paused') && waits(a.id),
    }))
    .filter((p) => p.items.length > 0);
  return planRun(payees, run.minimum);
}

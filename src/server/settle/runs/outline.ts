import { and, gte, sql } from 'drizzle-orm';
import { planRun, type PayeeBalance, type RunPlan } from '../../../core/payouts/plan';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { commissions } from '../../ground/tables/ledger';
import { detailsComplete } from '../../registers/people/record';
import { payWaitsFor } from '../../setup/policy/acceptance';
import type { RunRecord } from './runs';

interface Payee {
  affiliate: Id<'affiliate'>;
  cleared: number;
  name: string;
  state: PayeeBalance['state'];
  promotes: number;
  payeeHolder: string;
  payeeIban: string;
  payeeAddress: string;
}

// rows as the driver gives them: of a large programme it is tens of thousands
const statements = perApp((app) => ({
  payees: app.sqlite.prepare<
    [string, number],
    Payee
  >(`SELECT t.affiliate, t.cleared, a.name, a.state, a.promotes, a.payee_holder AS payeeHolder, a.payee_iban AS payeeIban, a.payee_address AS payeeAddress
    FROM payee_totals t JOIN affiliates a ON a.id = t.affiliate WHERE (t.cleared <> 0 OR t.affiliate IN (SELECT value FROM json_each(?))) AND t.cleared >= ? ORDER BY a.name, a.id`),
}));

/** What is cleared but only clears after a cut-off, by payee: not part of a run. */
function clearedLater(app: App, cutoff: number): Map<string, number> {
  return new Map(
    app.db
      .select({ affiliate: commissions.affiliate, n: sql<number>`sum(${commissions.cleared})` })
      .from(commissions)
      .where(and(sql`${commissions.cleared} > 0`, gte(commissions.clearsAt, cutoff)))
      .groupBy(commissions.affiliate)
      .all()
      .map((r) => [r.affiliate, r.n]),
  );
}

type Standing = Pick<
  Payee,
  'affiliate' | 'state' | 'promotes' | 'payeeHolder' | 'payeeIban' | 'payeeAddress'
>;

/** Whether somebody can be paid, and whether the policy has to be accepted first. @param waits see `payWaitsFor` */
export function payability(
  who: Standing,
  waits: (affiliate: string) => boolean,
): Pick<PayeeBalance, 'payable' | 'unaccepted'> {
  const isBound = who.promotes === 1 && (who.state === 'active' || who.state === 'paused');
  return { payable: detailsComplete(who), unaccepted: isBound && waits(who.affiliate) };
}

/**
 * What a run would pay as things stand, by payee and in all, from the totals: the same sums as its plan, without the commissions that each is made of. Payees
 * whose commissions and reversals cancel out are not in it.
 * @param least payees with less in their cleared balance are not looked at: where nobody asks who is below the minimum, the minimum
 */
export function outlineOf(
  app: App,
  run: Pick<RunRecord, 'cutoff' | 'minimum' | 'excluded'>,
  least = Number.MIN_SAFE_INTEGER,
): RunPlan {
  const later = clearedLater(app, run.cutoff);
  const waits = payWaitsFor(app);
  const out = new Set(run.excluded);
  const payees: PayeeBalance<{ amount: number }>[] = [];
  for (const who of statements(app).payees.all(JSON.stringify([...later.keys()]), least)) {
    const amount = who.cleared - (later.get(who.affiliate) ?? 0);
    if (amount === 0 || out.has(who.affiliate)) continue;
    // looked at only where they decide: most are below the minimum
    payees.push({
      affiliate: who.affiliate,
      name: who.name,
      state: who.state,
      ...(amount >= run.minimum ? payability(who, waits) : { payable: false }),
      items: [{ amount }],
    });
  }
  return planRun(payees, run.minimum);
}

import { and, eq, gte, ne, sql } from 'drizzle-orm';
import type { PortalHome } from '../../../contract/portal/home';
import { comingOf, lastClearing, recentSince } from '../../../core/figures/coming';
import { sumOf } from '../../../core/money/amount';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { commissions } from '../../ground/tables/ledger';
import { payments } from '../../ground/tables/runs';
import { balancesOf } from '../../ledger/service';
import { theProgramme } from '../../registers/programme/record';
import { periodOf } from '../period';

const left = sql<number>`${commissions.held} + ${commissions.cleared} + ${commissions.inRun} + ${commissions.paid}`;

/** The last payments that the bank has carried out; what was only sent to it is in the run still. */
const lastPaid = (app: App, affiliate: Id<'affiliate'>) =>
  app.db
    .select({ at: payments.stateSince, amount: payments.amount })
    .from(payments)
    .where(and(eq(payments.affiliate, affiliate), eq(payments.state, 'settled')))
    .orderBy(sql`${payments.stateSince} DESC`)
    .limit(2)
    .all();

const heldOf = (app: App, affiliate: Id<'affiliate'>) =>
  app.db
    .select({ clearsAt: commissions.clearsAt, amount: commissions.held })
    .from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), ne(commissions.held, 0)))
    .all();

/** What was sold in the last four weeks, and how long it takes to clear. */
function recentOf(app: App, affiliate: Id<'affiliate'>) {
  return app.db
    .select({
      amount: sql<number>`coalesce(sum(${left}), 0)`,
      orders: sql<number>`count(*)`,
      lag: sql<number>`CAST(coalesce(avg(${commissions.clearsAt} - ${commissions.soldAt}), 0) AS INTEGER)`,
    })
    .from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), gte(commissions.soldAt, recentSince(app.clock.now()))))
    .get()!;
}

/** What was earned in thirty days, and what of it by shares of others' sales. */
function earnedLately(app: App, affiliate: Id<'affiliate'>) {
  const { begin } = periodOf(app, {});
  return app.db
    .select({
      all: sql<number>`coalesce(sum(${left}), 0)`,
      shares: sql<number>`coalesce(sum(CASE WHEN ${commissions.kind} <> 'commission' THEN ${left} ELSE 0 END), 0)`,
    })
    .from(commissions)
    .where(and(eq(commissions.affiliate, affiliate), gte(commissions.soldAt, begin)))
    .get()!;
}

type ComingOut = Pick<
  PortalHome,
  'balances' | 'due' | 'earned30' | 'shares30' | 'coming' | 'clearsUntil' | 'minimum'
>;

/** What an affiliate earned lately, what comes to it and when. */
export function comingFor(app: App, affiliate: Id<'affiliate'>): ComingOut {
  const { base, zone, minimumPayout } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const { held, cleared, inRun, paid } = balancesOf(app, affiliate);
  const waiting = heldOf(app, affiliate);
  const lately = earnedLately(app, affiliate);
  const columns = comingOf(
    {
      paid: lastPaid(app, affiliate),
      ...{ inRun, cleared, held: waiting },
      recent: recentOf(app, affiliate),
    },
    app.clock.now(),
    { zone, currency: base },
  );
  return {
    balances: { held: money(held), cleared: money(cleared), inRun: money(inRun), paid: money(paid) },
    due: sumOf([money(held), money(cleared), money(inRun)]),
    earned30: money(lately.all),
    shares30: money(lately.shares),
    coming: columns.map(({ amount, ...column }) => ({ ...column, amount: money(amount) })),
    clearsUntil: lastClearing(waiting),
    minimum: minimumPayout > cleared && minimumPayout > 0 ? money(minimumPayout) : null,
  };
}

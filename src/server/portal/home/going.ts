import { and, eq, gte, lte, sql } from 'drizzle-orm';
import type { PortalHome } from '../../../contract/portal/home';
import { addDays, dayOf, type Day } from '../../../core/calendar/zone';
import { figuresOf, noCounts } from '../../../core/figures/measures';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { commissions } from '../../ground/tables/ledger';
import { refunds } from '../../ground/tables/orders';
import { theProgramme } from '../../registers/programme/record';
import { ownFigures } from '../figures';

const shownDays = 30;

/** Orders of an affiliate that were refunded, in whole or in part, on some days. */
const sentBack = (app: App, affiliate: Id<'affiliate'>, from: Day, to: Day): number =>
  app.db
    .select({ n: sql<number>`count(DISTINCT ${refunds.order})` })
    .from(refunds)
    .innerJoin(commissions, and(eq(commissions.order, refunds.order), eq(commissions.kind, 'commission')))
    .where(and(eq(commissions.affiliate, affiliate), gte(refunds.day, from), lte(refunds.day, to)))
    .get()!.n;

/** How it goes: the last thirty days beside the thirty before, and by product what links earned. */
export function goingOf(app: App, affiliate: Id<'affiliate'>) {
  const today = dayOf(app.clock.now(), theProgramme(app).zone);
  const ofDays = (to: Day) => {
    const from = addDays(to, 1 - shownDays);
    const { rows, total, conversion } = ownFigures(app, affiliate, { by: 'product', from, to });
    const going = {
      clicks: total.clicks,
      orders: total.orders,
      conversion,
      sentBack: sentBack(app, affiliate, from, to),
    };
    return { rows, going };
  };
  const [now, before] = [ofDays(today), ofDays(addDays(today, -shownDays))];
  return { going: { now: now.going, before: before.going }, byProduct: byProduct(app, now.rows) };
}

type Rows = ReturnType<typeof ownFigures>['rows'];
type LinkFigures = Pick<PortalHome['links'][number], 'earned30' | 'per100'>;

/** What a product's links earned, and from a hundred clicks. */
function byProduct(app: App, rows: Rows): (product: string) => LinkFigures {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const known = new Map(rows.map((row) => [row.key, row]));
  return (product) => {
    const row = known.get(product);
    if (!row) return { earned30: money(0), per100: null };
    const { clicks, orders, value, commission } = row;
    const { epc } = figuresOf({
      ...noCounts,
      ...{ clicks, orders, value: value.amount },
      granted: commission.amount,
    });
    return { earned30: commission, per100: epc === null ? null : money(epc) };
  };
}

import { eq, inArray } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { WorkingOut } from '../../../contract/setup/terms';
import { type readOrder } from '../../../contract/track/sales';
import { formatPercent } from '../../../core/money/percent';
import { presentShare } from '../../../core/terms/present';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { products } from '../../ground/tables/catalogue';
import { orderLines, type orders } from '../../ground/tables/orders';
import type { CommissionRecord } from '../../ledger/journal';
import { lifeOf } from '../../ledger/service';
import { shareNames, type ShareKind } from '../../ledger/share-names';
import { namesOf } from '../../registers/access/names';
import { theProgramme } from '../../registers/programme/record';
import { shareLinesOf, sharesIn } from './shares';

type OrderRecord = typeof orders.$inferSelect;

function productNames(app: App, order: Id<'order'>): Map<number, string> {
  return new Map(
    app.db
      .select({ position: orderLines.position, name: products.name })
      .from(orderLines)
      .innerJoin(products, eq(products.id, orderLines.product))
      .where(inArray(orderLines.order, [order]))
      .all()
      .map((l) => [l.position, l.name]),
  );
}

/** The shares of a sale beside its commission: whose, of what, how much of it is left. */
export function sharesView(app: App, order: OrderRecord): ReplyOf<typeof readOrder>['shares'] {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const rows = sharesIn(app, order.id);
  if (!rows.length) return [];
  const name = namesOf(
    app,
    rows.map((r) => r.affiliate),
  );
  const sold = productNames(app, order.id);
  const words = {
    sale: 'the sale',
    commission: 'the commission',
    rest: 'what commission and referral share leave',
  };
  return rows.map((r) => ({
    id: r.id,
    kind: r.kind as ShareKind,
    payee: r.affiliate,
    name: name(r.affiliate),
    granted: money(r.granted),
    left: money(r.held + r.cleared + r.inRun + r.paid),
    state: r.state,
    clearsAt: r.clearsAt,
    declined: r.declined,
    lines: shareLinesOf(app, order.id, r.kind as ShareKind, r.affiliate).map((l) => ({
      product: sold.get(l.position) ?? '',
      text: `${formatPercent(l.ppm)} of ${words[l.of]}`,
      basis: money(l.basis),
      amount: money(l.amount),
    })),
  }));
}

/** The working of a share for the one who is paid it. */
export function shareWorking(app: App, order: OrderRecord, row: CommissionRecord): WorkingOut {
  const { base } = theProgramme(app);
  const name = namesOf(app, [order.affiliate]);
  const kind = row.kind as ShareKind;
  const who = order.affiliate === null ? null : name(order.affiliate);
  const sold = productNames(app, order.id);
  const money = (amount: number) => ({ amount, currency: base });
  const why =
    kind === 'referral'
      ? `${who ?? 'an affiliate'}, whom you brought in, sold this`
      : 'you have a share of what was sold';
  const changes = lifeOf(app, row.id)
    .filter((e) => e.signed !== 0 && e.event !== 'granted')
    .map((e) => ({
      at: e.at,
      what: e.event === 'given-up' ? 'Negative balance given up' : e.memo,
      amount: money(e.signed),
    }));
  return {
    credit: { who: null, reason: why, considered: [] },
    exchange: null,
    lines: shareLinesOf(app, order.id, kind, row.affiliate).map((l) => ({
      product: sold.get(l.position) ?? shareNames[kind],
      locked: false,
      rungs: [],
      reason: null,
      sums: presentShare(l, base, who),
    })),
    total: money(row.granted),
    changes,
    left: money(row.held + row.cleared + row.inRun + row.paid),
  };
}

import { and, eq, sql } from 'drizzle-orm';
import { historyRows } from '../../../contract/recruit/affiliates';
import { figuresOf } from '../../../core/figures/metrics';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem, refuse } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { commissions } from '../../ground/tables/ledger';
import { orders, refunds } from '../../ground/tables/orders';
import { messages } from '../../ground/tables/outbox';
import { balancesOf, lastCommissionsOf } from '../../ledger/service';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { endSessionsOf } from '../../registers/access/session';
import { stale } from '../../registers/access/stale';
import { changeTiming } from '../../registers/people/approvals';
import {
  affiliateById,
  detailsComplete,
  maskedIban,
  type AffiliateRecord,
} from '../../registers/people/record';
import { changeAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { ownAcceptance } from '../../setup/policy/acceptance';
import { termsInForce } from '../../setup/terms/in-force';
import { clicksOf, ordersOf } from '../../totals/affiliates';
import { declineOpen } from '../applications/change';
import { trustOf } from '../applications/trust';
import { prospectOf } from '../prospects/copy';
import { listHistory } from './history';

type State = AffiliateRecord['state'];

export function readAffiliate(app: App, id: string) {
  const row = affiliateById(app, id);
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const b = balancesOf(app, id);
  const clicks = clicksOf(app, id, 0);
  const value = app.db
    .select({ n: sql<number>`coalesce(sum(${orders.base}), 0)` })
    .from(orders)
    .where(eq(orders.affiliate, id))
    .get()!.n;
  const back = app.db
    .select({ n: sql<number>`count(*)`, reversed: sql<number>`coalesce(sum(${refunds.reversed}), 0)` })
    .from(refunds)
    .innerJoin(commissions, and(eq(commissions.order, refunds.order), eq(commissions.kind, 'commission')))
    .where(eq(commissions.affiliate, id))
    .get()!;
  const figures = figuresOf({
    clicks,
    orders: ordersOf(app, id),
    value,
    granted: b.granted,
    reversed: back.reversed,
  });
  return {
    id,
    handle: row.handle,
    name: row.name,
    email: row.email,
    country: row.country,
    address: row.address,
    sites: row.sites,
    state: row.state,
    timing: row.timing,
    createdAt: row.createdAt,
    joinedAt: row.joinedAt,
    version: row.version,
    payout: { holder: row.payeeHolder, iban: maskedIban(row.payeeIban), complete: detailsComplete(row) },
    balances: {
      held: money(b.held),
      cleared: money(b.cleared),
      inRun: money(b.inRun),
      paid: money(b.paid),
      exposure: money(b.exposure),
    },
    figures: {
      clicks,
      orders: figures.orders,
      refunds: back.n,
      conversion: figures.conversion,
      epc: figures.epc,
      shareReversed: figures.shareReversed,
    },
    terms: termsInForce(app, id).map(
      ({ product, code, name: called, reward, renewals, locked, raised, rung, timing, link }) => ({
        product,
        code,
        name: called,
        reward,
        renewals,
        locked,
        raised,
        rung,
        timing,
        link,
      }),
    ),
    commissions: lastCommissionsOf(app, id, 30),
    kind: row.kind,
    lookedAfter:
      row.lookedAfter === null
        ? null
        : { id: row.lookedAfter, name: namesOf(app, [row.lookedAfter])(row.lookedAfter) },
    newsletters: row.newsletters,
    mailFault: row.mailFault,
    audience: row.audience,
    trust: trustOf(app, id),
    policy: ownAcceptance(app, id),
    prospect: prospectOf(app, id),
    applications: app.db
      .select({
        id: applications.id,
        at: applications.createdAt,
        state: applications.state,
        product: products.name,
      })
      .from(applications)
      .leftJoin(products, eq(products.id, applications.product))
      .where(eq(applications.affiliate, id))
      .orderBy(sql`${applications.createdAt} DESC`)
      .limit(50)
      .all(),
    history: listHistory(app, id, { limit: historyRows }).rows,
    messages: app.db
      .select({
        id: messages.id,
        at: messages.at,
        subject: messages.subject,
        body: messages.body,
        fault: messages.fault,
        state: messages.state,
      })
      .from(messages)
      .where(eq(messages.affiliate, id))
      .orderBy(sql`${messages.at} DESC`)
      .limit(20)
      .all(),
  };
}

const moves: Record<State, readonly State[]> = {
  applied: ['blocked'],
  active: ['paused', 'ended', 'blocked'],
  paused: ['active', 'ended', 'blocked'],
  ended: ['active', 'blocked'],
  blocked: ['active', 'ended'],
};

function atVersion(app: App, id: string, version: number): AffiliateRecord {
  const row = affiliateById(app, id);
  if (row.version !== version) throw stale(app, id, row.name, readAffiliate(app, id));
  return row;
}

export function moveAffiliate(
  app: App,
  actor: Actor,
  id: string,
  { to, reason, version }: { to: State; reason: string; version: number },
) {
  const row = atVersion(app, id, version);
  if (!moves[row.state].includes(to))
    throw new Problem('conflict', `An affiliate that is ${row.state} cannot become ${to}`);
  if (to === 'active' && row.joinedAt === null)
    throw new Problem('conflict', 'This affiliate was never approved; decide its application instead');
  if (to === 'blocked' && reason.trim() === '')
    throw refuse(
      'reason',
      'Reason is empty: a block needs one, for those who ask later',
      'Bought through its own links',
    );
  changeAffiliate(app, id, { state: to, pausedFor: null });
  record(app, actor, 'affiliate-moved', {
    subject: id,
    before: { state: row.state },
    after: { state: to, reason: reason.trim() || null },
  });
  if (to === 'blocked') {
    endSessionsOf(app, 'affiliate', id);
    declineOpen(app, actor, id);
  }
  touch(app, 'records');
  return readAffiliate(app, id);
}

/** Changes the payment timing of everything the affiliate is approved for, from now on. */
export function setTiming(
  app: App,
  actor: Actor,
  id: string,
  { timing, version }: { timing: AffiliateRecord['timing']; version: number },
) {
  const row = atVersion(app, id, version);
  changeTiming(app, id, timing, app.clock.now());
  changeAffiliate(app, id, { timing });
  record(app, actor, 'timing-changed', { subject: id, before: { timing: row.timing }, after: { timing } });
  return readAffiliate(app, id);
}

import { and, eq, sql } from 'drizzle-orm';
import { historyRows } from '../../../contract/recruit/affiliates';
import { figuresOf } from '../../../core/figures/measures';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem, refuse } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { products } from '../../ground/tables/catalogue';
import { commissions } from '../../ground/tables/ledger';
import { refunds } from '../../ground/tables/orders';
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
import { clicksOf, salesOf } from '../../totals/affiliates';
import { declineOpen } from '../applications/change';
import { trustOf } from '../applications/trust';
import { practicesOfAffiliate } from '../practices/view';
import { prospectOf } from '../prospects/copy';
import { listHistory } from './history';

type State = AffiliateRecord['state'];

/** What an affiliate's clicks came to, all time. */
function figuresOfAffiliate(app: App, id: Id<'affiliate'>, granted: number) {
  const clicks = clicksOf(app, id, 0);
  const sold = salesOf(app, id);
  const back = app.db
    .select({ n: sql<number>`count(*)`, reversed: sql<number>`coalesce(sum(${refunds.reversed}), 0)` })
    .from(refunds)
    .innerJoin(commissions, and(eq(commissions.order, refunds.order), eq(commissions.kind, 'commission')))
    .where(eq(commissions.affiliate, id))
    .get()!;
  const found = figuresOf({ clicks, ...sold, granted, reversed: back.reversed });
  const { conversion, epc, shareReversed } = found;
  return { clicks, orders: found.orders, refunds: back.n, conversion, epc, shareReversed };
}

const applicationsOf = (app: App, id: Id<'affiliate'>) =>
  app.db
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
    .all();

const messagesOf = (app: App, id: Id<'affiliate'>) =>
  app.db
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
    .all();

/** What an affiliate is approved for, as its page shows it. */
const termsShown = (app: App, id: Id<'affiliate'>) =>
  termsInForce(app, id).map(({ price: _price, currency: _currency, ...shown }) => shown);

/** The record itself, as its page shows it. */
function recordShown(app: App, row: AffiliateRecord) {
  const { id, handle, name, email, country, address, sites, state, timing, createdAt, joinedAt, version } =
    row;
  const { kind, lookedAfter, newsletters, mailFault, audience } = row;
  return {
    ...{ id, handle, name, email, country, address, sites, state, timing, createdAt, joinedAt, version },
    payout: { holder: row.payeeHolder, iban: maskedIban(row.payeeIban), complete: detailsComplete(row) },
    ...{ kind, newsletters, mailFault, audience },
    lookedAfter:
      lookedAfter === null ? null : { id: lookedAfter, name: namesOf(app, [lookedAfter])(lookedAfter) },
  };
}

export function readAffiliate(app: App, id: Id<'affiliate'>) {
  const row = affiliateById(app, id);
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const b = balancesOf(app, id);
  return {
    ...recordShown(app, row),
    balances: {
      held: money(b.held),
      cleared: money(b.cleared),
      inRun: money(b.inRun),
      paid: money(b.paid),
      exposure: money(b.exposure),
    },
    figures: figuresOfAffiliate(app, id, b.granted),
    terms: termsShown(app, id),
    commissions: lastCommissionsOf(app, id, 30),
    trust: trustOf(app, id),
    practices: practicesOfAffiliate(app, row),
    policy: ownAcceptance(app, id),
    prospect: prospectOf(app, id),
    applications: applicationsOf(app, id),
    history: listHistory(app, id, { limit: historyRows }).rows,
    messages: messagesOf(app, id),
  };
}

const moves: Record<State, readonly State[]> = {
  applied: ['blocked'],
  active: ['paused', 'ended', 'blocked'],
  paused: ['active', 'ended', 'blocked'],
  ended: ['active', 'blocked'],
  blocked: ['active', 'ended'],
};

function atVersion(app: App, id: Id<'affiliate'>, version: number): AffiliateRecord {
  const row = affiliateById(app, id);
  if (row.version !== version) throw stale(app, id, row.name, readAffiliate(app, id));
  return row;
}

export function moveAffiliate(
  app: App,
  actor: Actor,
  id: Id<'affiliate'>,
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
  const blockedAt = to === 'blocked' ? app.clock.now() : null;
  changeAffiliate(app, id, { state: to, pausedFor: null, blockedAt });
  record(app, actor, 'affiliate-moved', {
    subject: id,
    before: { state: row.state },
    after: { state: to, reason: reason.trim() || null },
  });
  if (to === 'blocked') {
    endSessionsOf(app, id);
    declineOpen(app, actor, id);
  }
  touch(app, 'records');
  return readAffiliate(app, id);
}

/** Changes the payment timing of everything the affiliate is approved for, from now on. */
export function setTiming(
  app: App,
  actor: Actor,
  id: Id<'affiliate'>,
  { timing, version }: { timing: AffiliateRecord['timing']; version: number },
) {
  const row = atVersion(app, id, version);
  changeTiming(app, id, timing, app.clock.now());
  changeAffiliate(app, id, { timing });
  record(app, actor, 'timing-changed', { subject: id, before: { timing: row.timing }, after: { timing } });
  return readAffiliate(app, id);
}

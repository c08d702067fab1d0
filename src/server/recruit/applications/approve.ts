import { type Timing } from '../../../core/ledger/timing';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { type applications, type BeforeApproval } from '../../ground/tables/applications';
import type { affiliates } from '../../ground/tables/people';
import { openApproval, openApprovals, undoApproval } from '../../registers/people/approvals';
import { giveLinks } from '../../registers/people/links';
import { changeAffiliate, noteApproved } from '../../registers/people/write';
import { beginReferral, forgetReferral } from '../../setup/terms/referrals';
import { prospectLeft, takeAlong } from '../prospects/joined';
import { dropTrust, trustOf } from './trust';

/**
 * Approves an affiliate for a product, or for everything (null), from now on. Whom somebody has paused stays paused: an approval is no word about that.
 * @returns what it found, for taking it back
 */
export function approve(
  app: App,
  actor: Actor,
  affiliate: typeof affiliates.$inferSelect,
  { product, timing }: { product: Id<'product'> | null; timing: Timing },
): BeforeApproval {
  const now = app.clock.now();
  const replaced = openApproval(app, { affiliate: affiliate.id, product, timing, from: now });
  if (affiliate.joinedAt === null) beginReferral(app, actor, affiliate, now);
  const state = affiliate.state === 'paused' ? 'paused' : 'active';
  noteApproved(app, affiliate, { state, promotes: true, joinedAt: affiliate.joinedAt ?? now, timing });
  giveLinks(app, affiliate.id, product);
  if (affiliate.joinedAt === null) takeAlong(app, affiliate);
  return {
    state: affiliate.state,
    joinedAt: affiliate.joinedAt,
    promotes: affiliate.promotes,
    timing: affiliate.timing,
    approvals: replaced,
  };
}

/** Brings back what an approval found: the approvals it took the place of, and the affiliate as it was, but what somebody changed since. */
export function takeApprovalBack(
  app: App,
  actor: Actor,
  a: typeof applications.$inferSelect,
  f: typeof affiliates.$inferSelect,
): void {
  const { before } = a;
  undoApproval(app, f.id, a.product, before?.approvals ?? []);
  const trust = trustOf(app, f.id);
  if (trust && trust.since >= (a.decidedAt ?? 0)) dropTrust(app, actor, f.id);
  if (!before) return;
  if (before.joinedAt === null) {
    // approved for something else meanwhile: it has joined by that
    if (openApprovals(app, f.id).length) return;
    forgetReferral(app, f.id, a.decidedAt ?? 0);
    prospectLeft(app, f.id);
  }
  changeAffiliate(app, f.id, asBefore(before, a, f));
}

/** The affiliate as the approval found it, but what somebody changed since. */
function asBefore(
  before: BeforeApproval,
  a: typeof applications.$inferSelect,
  f: typeof affiliates.$inferSelect,
) {
  const untouched = f.state === (before.state === 'paused' ? 'paused' : 'active');
  return {
    ...(untouched ? { state: before.state } : {}),
    ...(f.timing === a.timing ? { timing: before.timing } : {}),
    joinedAt: before.joinedAt,
    promotes: before.promotes,
  };
}

import { and, eq, inArray } from 'drizzle-orm';
import { isId, type Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import type { RegistryEvent } from '../../ground/ports';
import { affiliates } from '../../ground/tables/people';
import { invites, prospects } from '../../ground/tables/prospects';
import { record } from '../../registers/access/audit';
import { prospectJoined } from './copy';

const theRegistry: Actor = { kind: 'open', id: 'registry' };

export type InvitationEvent = Extract<RegistryEvent, { kind: 'invitation' }>;
type Invite = typeof invites.$inferSelect;

/** The invitation that an event answers; null where it was answered before. One that we gave up on can still be. */
export function answeredInvite(app: App, event: InvitationEvent): Invite | null {
  const id = event.invitation;
  const row = isId(id, 'invite') && app.db.select().from(invites).where(eq(invites.id, id)).get();
  if (!row || row.state === 'accepted' || row.state === 'declined') return null;
  if (event.state === 'opened' && row.state !== 'sent' && row.state !== 'waiting') return null;
  return row;
}

const hasJoined = (app: App, affiliate: Id<'affiliate'>): boolean =>
  app.db.select({ at: affiliates.joinedAt }).from(affiliates).where(eq(affiliates.id, affiliate)).get()
    ?.at !== null;

/** The prospect is ours now: other invitations that wait for it are not sent. */
function noteJoined(app: App, prospect: string, affiliate: Id<'affiliate'>, at: number): void {
  const p = app.db.select({ n: prospects.n }).from(prospects).where(eq(prospects.id, prospect)).get();
  if (!p) return;
  prospectJoined(app, p.n, affiliate);
  app.db
    .update(invites)
    .set({ state: 'withdrawn', stateAt: at })
    .where(and(eq(invites.prospect, prospect), inArray(invites.state, ['waiting'])))
    .run();
}

/** Writes what became of an invitation. @param affiliate who accepted it, null for anything but accepting */
export function noteOutcome(
  app: App,
  invite: Invite,
  event: InvitationEvent,
  affiliate: Id<'affiliate'> | null,
): void {
  app.db
    .update(invites)
    .set({ state: event.state, stateAt: event.at, ...(affiliate ? { affiliate } : {}) })
    .where(eq(invites.id, invite.id))
    .run();
  if (affiliate !== null && hasJoined(app, affiliate)) noteJoined(app, invite.prospect, affiliate, event.at);
  record(app, theRegistry, `invite-${event.state}`, {
    subject: invite.id,
    before: { state: invite.state },
    after: { state: event.state, ...(affiliate ? { affiliate } : {}) },
  });
}

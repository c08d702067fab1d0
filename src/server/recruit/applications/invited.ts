import { eq } from 'drizzle-orm';
import { emailKey } from '../../../core/recruiting/evidence';
import { printable } from '../../../core/text/characters';
import { theClock, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { applications } from '../../ground/tables/applications';
import { affiliates } from '../../ground/tables/people';
import { prospects, type invites } from '../../ground/tables/prospects';
import { queue, withAccess } from '../../registers/outbox/queue';
import { handleFor } from '../../registers/people/names';
import { addAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { readPublicPolicy } from '../../setup/policy/view';
import { placeInto } from '../prospects/joined';
import { answeredInvite, noteOutcome, type InvitationEvent } from '../prospects/outcomes';
import { approve } from './approve';
import { indexNote } from './notes';

/** Lets somebody in who accepted an invitation: after hold, with the card, group, tags and product that were promised. */
function letIn(
  app: App,
  invite: typeof invites.$inferSelect,
  event: Extract<InvitationEvent, { state: 'accepted' }>,
): string {
  const p = app.db.select().from(prospects).where(eq(prospects.id, invite.prospect)).get();
  const known = app.db
    .select()
    .from(affiliates)
    .where(eq(affiliates.emailKey, emailKey(event.email)))
    .get();
  const now = app.clock.now();
  const id = known?.id ?? newId('affiliate');
  const name = p?.name ?? invite.prospect;
  if (!known) {
    addAffiliate(app, {
      id,
      handle: handleFor(app, name),
      name,
      email: event.email,
      emailKey: emailKey(event.email),
      country: p?.country ?? 'ZZ',
      sites: (p?.sites ?? []).slice(0, 10),
      audience: p ? p.kinds.join(', ') : '',
      kind: p?.kinds[0] ?? '',
      createdAt: now,
      addressKey: '',
    });
  }
  const application = newId('application');
  // whoever was blocked, or has left, is looked at by a person
  const waits = known && (known.state === 'blocked' || known.state === 'ended');
  app.db
    .insert(applications)
    .values({
      id: application,
      affiliate: id,
      product: invite.product,
      note: printable(event.note, true),
      channels: p?.kinds.join(', ') ?? '',
      policy: readPublicPolicy(app)?.number ?? null,
      state: waits ? 'waiting' : 'approved',
      timing: waits ? null : 'after-hold',
      decidedAt: waits ? null : now,
      decidedBy: waits ? null : invite.by,
      createdAt: now,
    })
    .run();
  indexNote(app, application, event.note);
  if (waits) return id;
  approve(app, theClock, app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()!, {
    product: invite.product,
    timing: 'after-hold',
  });
  placeInto(app, id, [invite.card, invite.group, ...invite.tags]);
  const { name: programme, contact } = theProgramme(app);
  queue(app, {
    to: event.email,
    affiliate: id,
    kind: 'invitation-accepted',
    subject: `Welcome to ${programme}`,
    subjectOf: application,
    body: withAccess(
      app,
      { password: known?.password ?? null },
      `Hello ${name},\n\nthank you for accepting our invitation. Your commissions are held until the refund window has passed.\n\n`,
      `\n\nYour tracking links wait for you in the portal. Questions: ${contact}\n\n${programme}`,
    ),
  });
  return id;
}

/** Takes what the registry says of an invitation; whoever accepted is let in. Call inside a transaction. */
export function takeInvitationEvent(app: App, event: InvitationEvent): void {
  const invite = answeredInvite(app, event);
  if (!invite) return;
  noteOutcome(app, invite, event, event.state === 'accepted' ? letIn(app, invite, event) : null);
}

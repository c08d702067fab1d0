import { eq } from 'drizzle-orm';
import { emailKey } from '../../../core/recruiting/evidence';
import { printable } from '../../../core/text/characters';
import type { Id } from '../../../core/text/id';
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
import { keepMeant } from '../practices/meant';
import { placeInto } from '../prospects/joined';
import { answeredInvite, noteOutcome, type InvitationEvent } from '../prospects/outcomes';
import { approve } from './approve';
import { indexNote } from './notes';

type Invite = typeof invites.$inferSelect;
type Prospect = typeof prospects.$inferSelect;
type Accepted = Extract<InvitationEvent, { state: 'accepted' }>;

/** A record for somebody we did not know, of what the registry says. @returns its id */
function addPartner(app: App, name: string, email: string, p: Prospect | undefined): Id<'affiliate'> {
  const id = newId('affiliate');
  const { country = 'ZZ', sites = [], kinds = [] } = p ?? {};
  addAffiliate(app, {
    id,
    handle: handleFor(app, name),
    name,
    email,
    emailKey: emailKey(email),
    country,
    sites: sites.slice(0, 10),
    audience: kinds.join(', '),
    kind: kinds[0] ?? '',
    createdAt: app.clock.now(),
    addressKey: '',
  });
  return id;
}

/** Writes the application that accepting an invitation is. @param waits a person looks at it @returns its id */
function addApplication(
  app: App,
  { product, by }: Invite,
  invited: { affiliate: Id<'affiliate'>; note: string; channels: string; waits: boolean },
): Id<'application'> {
  const id = newId('application');
  const now = app.clock.now();
  const decision = invited.waits
    ? { state: 'waiting' as const }
    : { state: 'approved' as const, timing: 'after-hold' as const, decidedAt: now, decidedBy: by };
  app.db
    .insert(applications)
    .values({
      id,
      affiliate: invited.affiliate,
      product,
      note: printable(invited.note, true),
      channels: invited.channels,
      policy: readPublicPolicy(app)?.number ?? null,
      createdAt: now,
      ...decision,
    })
    .run();
  indexNote(app, id, invited.note);
  keepMeant(app, { id, note: invited.note, channels: invited.channels }, null);
  return id;
}

function welcome(
  app: App,
  to: { id: Id<'affiliate'>; name: string; email: string; password: string | null },
  application: string,
): void {
  const { name: programme, contact } = theProgramme(app);
  queue(app, {
    to: to.email,
    affiliate: to.id,
    kind: 'invitation-accepted',
    subject: `Welcome to ${programme}`,
    subjectOf: application,
    body: withAccess(
      app,
      { password: to.password },
      `Hello ${to.name},\n\nthank you for accepting our invitation. Your commissions are held until the refund window has passed.\n\n`,
      `\n\nYour tracking links wait for you in the portal. Questions: ${contact}\n\n${programme}`,
    ),
  });
}

/** Lets somebody in who accepted an invitation: after hold, with the card, group, tags and product that were promised. */
function letIn(app: App, invite: Invite, { email, note }: Accepted): Id<'affiliate'> {
  const p = app.db.select().from(prospects).where(eq(prospects.id, invite.prospect)).get();
  const known = app.db
    .select()
    .from(affiliates)
    .where(eq(affiliates.emailKey, emailKey(email)))
    .get();
  const name = p?.name ?? invite.prospect;
  const id = known?.id ?? addPartner(app, name, email, p);
  // whoever was blocked, or has left, is looked at by a person
  const waits = known !== undefined && (known.state === 'blocked' || known.state === 'ended');
  const channels = p?.kinds.join(', ') ?? '';
  const application = addApplication(app, invite, { affiliate: id, note, channels, waits });
  if (waits) return id;
  approve(app, theClock, app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()!, {
    product: invite.product,
    timing: 'after-hold',
  });
  placeInto(app, id, [invite.card, invite.group, ...invite.tags]);
  welcome(app, { id, name, email, password: known?.password ?? null }, application);
  return id;
}

/** Takes what the registry says of an invitation; whoever accepted is let in. Call inside a transaction. */
export function takeInvitationEvent(app: App, event: InvitationEvent): void {
  const invite = answeredInvite(app, event);
  if (!invite) return;
  noteOutcome(app, invite, event, event.state === 'accepted' ? letIn(app, invite, event) : null);
}

import { and, eq, inArray } from 'drizzle-orm';
import { emailKey } from '../../../core/recruiting/evidence';
import { printable } from '../../../core/text/characters';
import { touch } from '../../ground/cache';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import type { RegistryEvent } from '../../ground/ports';
import { affiliates, applications, invites, prospects, registrySync } from '../../ground/tables';
import { record } from '../../registers/access/audit';
import { queue, withAccess } from '../../registers/outbox/queue';
import { handleFor } from '../../registers/people/names';
import { registryOf, theProgramme } from '../../registers/programme/record';
import { readPublicPolicy } from '../../setup/policy/service';
import { indexNote } from '../applications/notes';
import { approve } from '../applications/service';
import { takeEntryEvent } from '../offers/catalogue';
import { prospectJoined } from './copy';
import { placeInto } from './joined';

export const theRegistry: Actor = { kind: 'open', id: 'registry' };

type InvitationEvent = Extract<RegistryEvent, { kind: 'invitation' }>;

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
    app.db
      .insert(affiliates)
      .values({
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
      })
      .run();
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
  approve(
    app,
    theClock,
    app.db.select().from(affiliates).where(eq(affiliates.id, id)).get()!,
    invite.product,
    'after-hold',
  );
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

function takeInvitationEvent(app: App, event: InvitationEvent): void {
  const row = app.db.select().from(invites).where(eq(invites.id, event.invitation)).get();
  // an answer after we gave up on it still counts; a second one does not
  if (!row || row.state === 'accepted' || row.state === 'declined') return;
  if (event.state === 'opened' && row.state !== 'sent' && row.state !== 'waiting') return;
  const affiliate = event.state === 'accepted' ? letIn(app, row, event) : null;
  app.db
    .update(invites)
    .set({ state: event.state, stateAt: event.at, ...(affiliate ? { affiliate } : {}) })
    .where(eq(invites.id, row.id))
    .run();
  const p = app.db.select({ n: prospects.n }).from(prospects).where(eq(prospects.id, row.prospect)).get();
  const joined =
    affiliate !== null &&
    app.db.select({ at: affiliates.joinedAt }).from(affiliates).where(eq(affiliates.id, affiliate)).get()
      ?.at !== null;
  if (joined && p) {
    prospectJoined(app, p.n, affiliate);
    app.db
      .update(invites)
      .set({ state: 'withdrawn', stateAt: event.at })
      .where(and(eq(invites.prospect, row.prospect), inArray(invites.state, ['waiting'])))
      .run();
  }
  record(
    app,
    theRegistry,
    `invite-${event.state}`,
    row.id,
    { state: row.state },
    { state: event.state, ...(affiliate ? { affiliate } : {}) },
  );
}

/** Reads what happened at the registry since the last time: each event once, with the place it was read to in the same transaction. @returns how many */
export async function readEvents(app: App): Promise<number> {
  const port = registryOf(app);
  if (!port) return 0;
  let count = 0;
  for (;;) {
    const after =
      app.db.select({ n: registrySync.outcomes }).from(registrySync).where(eq(registrySync.id, 1)).get()?.n ??
      0;
    const events = await port.events(after, app.clock.now());
    for (const event of events) {
      app.transaction(() => {
        const at =
          app.db.select({ n: registrySync.outcomes }).from(registrySync).where(eq(registrySync.id, 1)).get()
            ?.n ?? 0;
        if (event.number <= at) return;
        if (event.kind === 'invitation') takeInvitationEvent(app, event);
        else takeEntryEvent(app, event);
        app.db
          .insert(registrySync)
          .values({ id: 1, outcomes: event.number })
          .onConflictDoUpdate({ target: registrySync.id, set: { outcomes: event.number } })
          .run();
        count += 1;
      });
    }
    if (events.length < 500) break;
  }
  if (count) touch(app, 'records');
  return count;
}

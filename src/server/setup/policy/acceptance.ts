import { and, eq, isNull, sql } from 'drizzle-orm';
import { type ReplyOf } from '../../../contract/endpoint';
import { type readOwnPolicy as Own } from '../../../contract/setup/policy';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { asAffiliate, theClock, type Actor, type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { acceptances, policies } from '../../ground/tables/policy';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { affiliateById } from '../../registers/people/record';
import { changeAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { dueAt, hasNot, hasToAccept, latest, policyInForce } from './versions';
import { byId, changesOf, sectionsNow } from './view';

export function readOwnPolicy(app: App, affiliate: Id<'affiliate'>): ReplyOf<typeof Own> {
  const row = latest(app);
  if (!row) return { current: null };
  const own = app.db
    .select()
    .from(acceptances)
    .where(and(eq(acceptances.policy, row.id), eq(acceptances.affiliate, affiliate)))
    .get();
  return {
    current: {
      id: row.id,
      number: row.number,
      holdsFrom: row.holdsFrom!,
      sections: sectionsNow(app, row.content, { affiliate }),
      changes: changesOf(app, row),
      acceptedAt: own?.at ?? null,
      inNotice: dueAt(app, row) > app.clock.now(),
      atEnd: row.content.atEnd,
      due: dueAt(app, row),
    },
  };
}

/** The newest version and whether an affiliate has accepted it or when; null before the first. */
export function ownAcceptance(
  app: App,
  affiliate: Id<'affiliate'>,
): { number: number; at: number | null } | null {
  const row = latest(app);
  return (
    row && {
      number: row.number,
      at:
        app.db
          .select({ at: acceptances.at })
          .from(acceptances)
          .where(and(eq(acceptances.policy, row.id), eq(acceptances.affiliate, affiliate)))
          .get()?.at ?? null,
    }
  );
}

/** Writes that an affiliate has accepted the newest version, if there is one. Call where it is known to be that person. */
export function noteAcceptance(app: App, affiliate: Id<'affiliate'>): void {
  const row = latest(app);
  if (row)
    app.db
      .insert(acceptances)
      .values({ policy: row.id, affiliate, at: app.clock.now() })
      .onConflictDoNothing()
      .run();
}

/** An affiliate accepts; one that was paused for not doing so goes on. */
export function acceptPolicy(app: App, actor: Actor, id: Id<'policy'>): ReplyOf<typeof Own> {
  const affiliate = asAffiliate(actor);
  const row = byId(app, id);
  if (row.state !== 'published' || latest(app)?.id !== id)
    throw new Problem('conflict', 'A newer version was published meanwhile; read it and accept that one');
  const done = app.db
    .insert(acceptances)
    .values({ policy: id, affiliate, at: app.clock.now() })
    .onConflictDoNothing()
    .run();
  if (done.changes)
    record(app, actor, 'policy-accepted', {
      subject: id,
      before: null,
      after: { number: row.number, affiliate },
    });
  const person = affiliateById(app, affiliate);
  if (person.state === 'paused' && person.pausedFor !== null) {
    changeAffiliate(app, person.id, { state: 'active', pausedFor: null });
    record(app, actor, 'affiliate-moved', {
      subject: person.id,
      before: { state: 'paused' },
      after: { state: 'active', reason: 'accepted the policy' },
    });
    touch(app, 'records');
  }
  return readOwnPolicy(app, affiliate);
}

const acceptedSince = perApp((app) =>
  app.sqlite.prepare<[string, number]>(
    'SELECT 1 FROM acceptances c JOIN policies v ON v.id = c.policy WHERE c.affiliate = ? AND v.number >= ?',
  ),
);

/** True where a payment has to wait because the policy in force was not accepted and says so. */
export function payWaitsFor(app: App): (affiliate: string) => boolean {
  const row = policyInForce(app);
  if (!row || row.content.atEnd !== 'hold-pay' || dueAt(app, row) > app.clock.now()) return () => false;
  return (affiliate) => acceptedSince(app).get(affiliate, row.number) === undefined;
}

/** Deals, once, with those who have not accepted a version whose notice is over: reminds them, or pauses them as it says. @returns how many */
export function closeNotice(app: App): number {
  const row = policyInForce(app);
  if (!row || row.closedAt !== null || dueAt(app, row) > app.clock.now()) return 0;
  const { name } = theProgramme(app);
  const late = app.db
    .select()
    .from(affiliates)
    .where(and(hasToAccept, hasNot(row.number)))
    .all();
  const { atEnd } = row.content;
  for (const a of late) {
    if (atEnd === 'pause' && a.state === 'active') {
      changeAffiliate(app, a.id, { state: 'paused', pausedFor: row.id });
      record(app, theClock, 'affiliate-moved', {
        subject: a.id,
        before: { state: 'active' },
        after: { state: 'paused', reason: `has not accepted version ${row.number} of the policy` },
      });
    }
    const said = {
      remind: 'They hold from today.',
      'hold-pay': 'They hold from today, and we cannot pay you until you have accepted them.',
      pause: 'They hold from today, and your account is paused until you have accepted them.',
    }[atEnd];
    queue(app, {
      to: a.email,
      affiliate: a.id,
      kind: 'policy-reminder',
      subject: `You have not accepted the terms of ${name} yet`,
      body: `Hello ${a.name},\n\nour terms changed and you have not accepted them yet. ${said}\n\n${app.address}/portal/policy\n\n${name}`,
    });
  }
  // those that were published before and never came into force on their own are done with as well
  app.db
    .update(policies)
    .set({ closedAt: app.clock.now() })
    .where(
      and(
        eq(policies.state, 'published'),
        isNull(policies.closedAt),
        sql`${policies.number} <= ${row.number}`,
      ),
    )
    .run();
  if (late.length) touch(app, 'records');
  return late.length;
}

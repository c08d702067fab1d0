import { and, eq } from 'drizzle-orm';
import { type ReplyOf } from '../../../contract/endpoint';
import { type readOwnPolicy as Own } from '../../../contract/setup/policy';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { asAffiliate, type Actor, type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { acceptances } from '../../ground/tables/policy';
import { record } from '../../registers/access/audit';
import { affiliateById } from '../../registers/people/record';
import { changeAffiliate } from '../../registers/people/write';
import { filled } from '../terms/live';
import { affiliateReader } from './readers';
import { dueAt, latest, policyInForce } from './versions';
import { asAffiliateReads, byId, changesOf, sectionsNow } from './view';

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
      sections: sectionsNow(app, row.content, asAffiliateReads(app, affiliate)),
      changes: changesOf(app, row, affiliateReader(app, affiliate), (text) =>
        filled(app, text, { affiliate }),
      ),
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
  const { state, name } = affiliateById(app, affiliate);
  if (state === 'ended' || state === 'blocked')
    throw new Problem('conflict', `${name} is not with us any more, so there is nothing to accept`);
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

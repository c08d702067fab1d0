import { and, desc, eq, gt, isNull, or } from 'drizzle-orm';
import { addDays, dayOf, isDay, startOfDay } from '../../../core/calendar/zone';
import { formatPercent } from '../../../core/money/percent';
import type { Id } from '../../../core/text/id';
import { theClock, type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { refuse } from '../../ground/http/problem';
import { trusts } from '../../ground/tables/applications';
import { affiliates } from '../../ground/tables/people';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { recordOf } from './evidence';

/** The trust that an affiliate has now: let in for later products without being looked at; null = none. */
export function trustOf(
  app: App,
  affiliate: Id<'affiliate'>,
): { until: number | null; atSale: boolean; since: number } | null {
  const now = app.clock.now();
  const row = app.db
    .select()
    .from(trusts)
    .where(
      and(
        eq(trusts.affiliate, affiliate),
        isNull(trusts.endedAt),
        or(isNull(trusts.until), gt(trusts.until, now)),
      ),
    )
    .orderBy(desc(trusts.from))
    .limit(1)
    .get();
  return row ? { until: row.until, atSale: row.atSale, since: row.from } : null;
}

/** Trusts an affiliate until the end of a day, or without an end. A trust that stood before is replaced. */
export function giveTrust(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  input: { until: string; atSale: boolean },
): void {
  const { zone } = theProgramme(app);
  const now = app.clock.now();
  if (input.until !== '' && !isDay(input.until))
    throw refuse(
      'until',
      `Until: ${input.until} is not a day of the calendar`,
      addDays(dayOf(now, zone), 365),
    );
  const until = input.until === '' ? null : startOfDay(addDays(input.until, 1), zone);
  if (until !== null && until <= now)
    throw refuse('until', `Until: ${input.until} is over already`, addDays(dayOf(now, zone), 365));
  endTrust(app, affiliate, null);
  app.db
    .insert(trusts)
    .values({ id: newId('trust'), affiliate, from: now, until, atSale: input.atSale, by: actor.id })
    .run();
  record(app, actor, 'trusted', {
    subject: affiliate,
    before: null,
    after: { until, atSale: input.atSale ? 'yes' : 'no' },
  });
}

function endTrust(app: App, affiliate: Id<'affiliate'>, why: string | null): boolean {
  return (
    app.db
      .update(trusts)
      .set({ endedAt: app.clock.now(), why })
      .where(and(eq(trusts.affiliate, affiliate), isNull(trusts.endedAt)))
      .run().changes > 0
  );
}

/** Takes trust away. */
export function dropTrust(app: App, actor: Actor, affiliate: Id<'affiliate'>): void {
  if (endTrust(app, affiliate, 'taken away'))
    record(app, actor, 'trust-ended', { subject: affiliate, before: null, after: { why: 'taken away' } });
}

/** Why the trust in an affiliate cannot last, or null: its refunds have risen above the line, or it is not with us any more. */
function whyNot(app: App, affiliate: Id<'affiliate'>): string | null {
  const { refundLine } = theProgramme(app);
  const state = app.db
    .select({ state: affiliates.state })
    .from(affiliates)
    .where(eq(affiliates.id, affiliate))
    .get()?.state;
  if (state === 'blocked' || state === 'ended') return `is ${state}`;
  const known = recordOf(app, affiliate);
  return known.sales > 0 && known.refundRate > refundLine
    ? `refunds of ${formatPercent(Math.round(known.refundRate / 1000) * 1000)} are above the line of ${formatPercent(refundLine)}`
    : null;
}

/** True if somebody is let in without being looked at; a trust whose ground is gone lapses by being asked for. */
export function stillTrusted(app: App, affiliate: Id<'affiliate'>): { atSale: boolean } | null {
  const trust = trustOf(app, affiliate);
  if (!trust) return null;
  const why = whyNot(app, affiliate);
  if (why === null) return trust;
  endTrust(app, affiliate, why);
  record(app, theClock, 'trust-lapsed', { subject: affiliate, before: null, after: { why } });
  return null;
}

/** Ends trusts whose ground is gone, and says so to the one who gave each. @returns how many */
export function lapseTrusts(app: App): number {
  const open = app.db.select().from(trusts).where(isNull(trusts.endedAt)).all();
  let lapsed = 0;
  for (const t of open) {
    if (t.until !== null && t.until <= app.clock.now()) {
      endTrust(app, t.affiliate, 'its time is over');
      record(app, theClock, 'trust-ended', {
        subject: t.affiliate,
        before: null,
        after: { why: 'its time is over' },
      });
      lapsed += 1;
      continue;
    }
    if (stillTrusted(app, t.affiliate) === null) {
      lapsed += 1;
      const { name, contact } = theProgramme(app);
      const who =
        app.db.select({ name: affiliates.name }).from(affiliates).where(eq(affiliates.id, t.affiliate)).get()
          ?.name ?? '';
      queue(app, {
        to: contact,
        affiliate: null,
        kind: 'trust-lapsed',
        subject: `${who} is not let in by itself any more`,
        body: `${who}: ${whyNot(app, t.affiliate) ?? 'the ground for trusting it is gone'}. Its next application waits for a person.\n\n${app.address}/affiliates/${t.affiliate}\n\n${name}`,
      });
    }
  }
  return lapsed;
}

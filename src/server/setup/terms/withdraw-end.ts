import { eq } from 'drizzle-orm';
import { inForce, isEmpty } from '../../../core/calendar/span';
import { replaces, type TermsData } from '../../../core/terms/draft';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { locks, pauses, rates } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { refuseCut } from './cuts';
import { asRate, theTerms, type RateRecord } from './store';

const instead = 'leave the end as it is, or schedule a rate that begins then';

/** True for an end that was scheduled after the rate was saved, and that no other rate brought. */
export const hasScheduledEnd = ({ until, untilSaved, endedAt, endedFor }: RateRecord): boolean =>
  until !== null && until !== untilSaved && endedAt !== null && endedFor === null;

/** @throws Problem `conflict` unless it runs now and is to end later */
export function checkRunning(app: App, span: { from: number; until: number | null }): void {
  const now = app.clock.now();
  if (!inForce(span, now) || span.until === null)
    throw new Problem('conflict', 'This has no end that could be withdrawn: it ended already, or has none');
}

const withRate = (data: TermsData, id: string, until: number | null): TermsData => ({
  ...data,
  rates: data.rates.map((r) => (r.id === id ? { ...r, until } : r)),
});

/** Withdraws the scheduled end of a running rate: it runs on to the end that it was saved with, or until another takes its place. */
export function withdrawRateEnd(app: App, actor: Actor, rate: RateRecord): void {
  checkRunning(app, rate);
  if (!hasScheduledEnd(rate))
    throw new Problem(
      'conflict',
      'This end came with the rate, or with the one that follows: change that one',
    );
  const open = { ...asRate(rate), until: null };
  const { data } = theTerms(app);
  const next = data.rates
    .filter((r) => r.id !== rate.id && !isEmpty(r) && replaces({ ...r, until: null }, open))
    .sort((a, b) => a.from - b.from)[0];
  const ends = [rate.untilSaved, next?.from ?? null].filter((at) => at !== null);
  const until = ends.length ? Math.min(...ends) : null;
  refuseCut(app, withRate(data, rate.id, until), 'id', instead);
  app.db
    .update(rates)
    .set({
      until,
      endedFor: next && until === next.from ? next.id : null,
      ...(next && until === next.from ? {} : { endedAt: null, endedBy: null }),
    })
    .where(eq(rates.id, rate.id))
    .run();
  record(app, actor, 'rate-end-withdrawn', {
    subject: rate.product ?? rate.who ?? 'programme',
    before: { reward: rate.reward, until: rate.until },
    after: { until },
  });
  touch(app, 'terms');
}

/** The same of a lock. */
export function withdrawLockEnd(app: App, actor: Actor, lock: typeof locks.$inferSelect): void {
  checkRunning(app, lock);
  const { data } = theTerms(app);
  const after = data.locks.map((l) =>
    l.product === lock.product && l.event === lock.event && l.from === lock.from ? { ...l, until: null } : l,
  );
  refuseCut(app, { ...data, locks: after }, 'id', instead);
  app.db.update(locks).set({ until: null }).where(eq(locks.id, lock.id)).run();
  record(app, actor, 'lock-end-withdrawn', {
    subject: lock.product,
    before: { until: lock.until },
    after: { until: null },
  });
  touch(app, 'terms');
}

/** The same of the pause of a group. */
export function withdrawPauseEnd(app: App, actor: Actor, pause: typeof pauses.$inferSelect): void {
  checkRunning(app, pause);
  const { data } = theTerms(app);
  const after = data.pauses.map((p) =>
    p.group === pause.set && p.from === pause.from ? { ...p, until: null } : p,
  );
  refuseCut(app, { ...data, pauses: after }, 'id', instead);
  app.db.update(pauses).set({ until: null }).where(eq(pauses.id, pause.id)).run();
  record(app, actor, 'pause-end-withdrawn', {
    subject: pause.set,
    before: { until: pause.until },
    after: { until: null },
  });
  touch(app, 'terms');
}

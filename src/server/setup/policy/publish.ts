import { eq } from 'drizzle-orm';
import { type ReplyOf } from '../../../contract/endpoint';
import { type readPolicy as Read } from '../../../contract/setup/policy';
import { formatDay } from '../../../core/calendar/format';
import { addZonedDays } from '../../../core/calendar/zone';
import { policyChanges } from '../../../core/recruiting/policy';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { refuseFaulty } from './draft';
import { dueAt, hasToAccept, latest, policyInForce, weekDays } from './versions';
import { byId, changesOf, policyShown } from './view';

/**
 * Publishes the draft. The first version holds at once; a later one after the notice that the version in force promises, and never before one that was
 * announced already: a shorter notice of a version whose own notice still runs is nobody's promise yet. Everybody
 * with us is told what changes and from when; whoever applies from now on ticks it, which counts once the person is known.
 */
export function publishPolicy(
  app: App,
  actor: Actor,
  id: Id<'policy'>,
  version: number,
): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  if (row.state !== 'draft') throw new Problem('conflict', `Version ${row.number} is published already`);
  refuseFaulty(app, row.content);
  const last = latest(app);
  if (last && policyChanges(last.content, row.content).length === 0)
    throw new Problem(
      'conflict',
      `Nothing differs from version ${last.number}, so there is nothing to announce`,
    );
  const now = app.clock.now();
  const { name, zone, contact } = theProgramme(app);
  const holdsFrom = last
    ? Math.max(
        addZonedDays(now, (policyInForce(app) ?? last).content.noticeWeeks * weekDays, zone),
        last.holdsFrom ?? now,
      )
    : now;
  app.db
    .update(policies)
    .set({ state: 'published', publishedAt: now, holdsFrom, by: actor.id, version: row.version + 1 })
    .where(eq(policies.id, id))
    .run();
  changeProgramme(app, { kindsWanted: row.content.accepted, kindsUnwanted: row.content.refused });
  record(app, actor, 'policy-published', {
    subject: id,
    before: null,
    after: { number: row.number, from: holdsFrom },
  });
  const titles = changesOf(app, byId(app, id)).map((c) => c.title);
  const due = dueAt(app, byId(app, id));
  const ends = {
    remind: 'We will remind you then.',
    'hold-pay': 'Until you have accepted it, we cannot pay you from that day on.',
    pause: 'Until you have accepted it, your account is paused from that day on.',
  }[row.content.atEnd];
  for (const a of app.db
    .select({ id: affiliates.id, name: affiliates.name, email: affiliates.email })
    .from(affiliates)
    .where(hasToAccept)
    .all()) {
    queue(app, {
      to: a.email,
      affiliate: a.id,
      kind: 'policy',
      subject: last ? `Our terms change on ${formatDay(holdsFrom, zone)}` : `The terms of ${name}`,
      body: `Hello ${a.name},\n\n${last ? `from ${formatDay(holdsFrom, zone)} new terms hold. What changes: ${titles.join(', ')}.` : `these are our terms for affiliates. Please accept them by ${formatDay(due, zone)}.`} Read them, with the changes marked, and accept them here:\n${app.address}/portal/policy\n\n${ends}\n\nQuestions: ${contact}\n\n${name}`,
    });
  }
  touch(app, 'records');
  return policyShown(app, byId(app, id));
}

import { eq } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { publishPolicy as Publish, readPolicy as Read } from '../../../contract/setup/policy';
import { formatDay } from '../../../core/calendar/format';
import { carriedOver, gapsOf, isEmptyPolicy, type PracticesPolicy } from '../../../core/recruiting/policy';
import { nothingDiffers, policyChanges } from '../../../core/recruiting/policy-changes';
import { holdsFrom } from '../../../core/recruiting/policy-notice';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { invalid, Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { changeProgramme } from '../../registers/programme/write';
import { refuseFaulty } from './draft';
import { promoterOf, staffReader } from './readers';
import { announced, dueAt, hasToAccept, latest, versionBefore, type PolicyRecord } from './versions';
import { byId, policyShown } from './view';

/** @throws Problem `conflict` where it cannot be published, `invalid` where something is empty that nobody has seen to be so */
function checkDraft(app: App, row: PolicyRecord, content: PracticesPolicy, seen: readonly string[]): void {
  if (row.state !== 'draft') throw new Problem('conflict', `Version ${row.number} is published already`);
  refuseFaulty(app, content);
  const last = latest(app);
  if (last && nothingDiffers(policyChanges(last.content, content, staffReader(app))))
    throw new Problem(
      'conflict',
      `Nothing differs from version ${last.number}, so there is nothing to announce`,
    );
  if (isEmptyPolicy(content))
    throw refuse('general', 'Everything is empty: say what taking part means', 'Cash return: not here');
  const unseen = gapsOf(content).filter((gap) => !seen.includes(gap.key));
  if (unseen.length)
    throw invalid(
      unseen.map((gap) => ({
        pointer: '/empty',
        detail: `“${gap.name}” is empty: fill it in, or say that it is to stay so`,
        example: gap.key,
      })),
    );
}

type Told = Pick<typeof affiliates.$inferSelect, 'id' | 'name' | 'email' | 'kind' | 'audience'>;

/** What changes, by who reads it: the same for all of one kind in one group. */
function titlesOfChanges(app: App, row: PolicyRecord): (who: Told) => string[] {
  const before = versionBefore(app, row);
  const known = new Map<string, string[]>();
  return (who) => {
    const promoter = promoterOf(app, who);
    const key = JSON.stringify(promoter);
    const found = known.get(key);
    if (found) return found;
    const changes = policyChanges(before?.content ?? null, row.content, { of: 'affiliate', promoter });
    const titles = [...changes.practices.map((c) => c.name), ...changes.sections.map((c) => c.title)];
    known.set(key, titles);
    return titles;
  };
}

/** Tells one affiliate of a version, with a link of its own by which it can accept. */
function tell(app: App, row: PolicyRecord, { id, name: to, email }: Told, titles: readonly string[]): void {
  const { name, zone, contact } = theProgramme(app);
  const from = formatDay(row.holdsFrom!, zone);
  const isFirst = versionBefore(app, row) === null;
  const what = titles.length
    ? `What changes for you: ${titles.join('; ')}.`
    : 'Nothing of it changes what is said to you.';
  const news = isFirst
    ? `these are our terms for affiliates. Please accept them by ${formatDay(dueAt(app, row), zone)}.`
    : `from ${from} new terms hold. ${what}`;
  const ends = {
    remind: 'We will remind you then.',
    'hold-pay': 'Until you have accepted it, we cannot pay you from that day on.',
    pause: 'Until you have accepted it, your account is paused from that day on.',
  }[row.content.atEnd];
  queue(app, {
    to: email,
    affiliate: id,
    kind: 'policy',
    subject: isFirst ? `The terms of ${name}` : `Our terms change on ${from}`,
    body: [
      `Hello ${to},\n\n${news} Read them, with the changes marked, and accept them here:\n`,
      `\n\n${ends}\n\nQuestions: ${contact}\n\n${name}`,
    ],
    link: { use: 'accept', person: id, policy: row.id },
  });
}

/**
 * Publishes the draft, and tells everybody who promotes and is with us what changes and from when (`holdsFrom` in core). Whoever applies from now on ticks
 * it, which counts once the person is known.
 * @param seen keys of what is empty and is to stay so
 */
export function publishPolicy(
  app: App,
  actor: Actor,
  id: Id<'policy'>,
  { version, empty: seen }: BodyOf<typeof Publish>,
): ReplyOf<typeof Read> {
  const row = byId(app, id, version);
  const content = carriedOver(row.content);
  checkDraft(app, row, content, seen);
  const now = app.clock.now();
  const from = holdsFrom(announced(app), now, theProgramme(app).zone);
  app.db
    .update(policies)
    .set({
      state: 'published',
      content,
      publishedAt: now,
      holdsFrom: from,
      by: actor.id,
      version: row.version + 1,
    })
    .where(eq(policies.id, id))
    .run();
  changeProgramme(app, { kindsWanted: content.accepted, kindsUnwanted: content.refused });
  record(app, actor, 'policy-published', {
    subject: id,
    before: null,
    after: { number: row.number, from },
  });
  const published = byId(app, id);
  const titles = titlesOfChanges(app, published);
  const { id: who, name, email, kind, audience } = affiliates;
  for (const a of app.db
    .select({ id: who, name, email, kind, audience })
    .from(affiliates)
    .where(hasToAccept)
    .all())
    tell(app, published, a, titles(a));
  touch(app, 'records');
  return policyShown(app, byId(app, id));
}

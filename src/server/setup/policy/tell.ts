import { and, asc, eq, gt, isNotNull } from 'drizzle-orm';
import { formatDay } from '../../../core/calendar/format';
import { policyChanges } from '../../../core/recruiting/policy-changes';
import { type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { turn } from '../../ground/http/turns';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { promoterOf } from './readers';
import { dueAt, hasNot, hasToAccept, versionBefore, type PolicyRecord } from './versions';

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

/** So many are told at once with the act, and so many in each turn after it. */
const withTheAct = 100;
const inATurn = 50;

/** The oldest version that not everybody has been told of. */
const untold = (app: App) =>
  app.db
    .select()
    .from(policies)
    .where(isNotNull(policies.toldTo))
    .orderBy(asc(policies.number))
    .limit(1)
    .get();

/** Tells some of those who are still to be told of a version. @returns how many */
export function tellSome(app: App, most = withTheAct): number {
  const row = untold(app);
  if (!row) return 0;
  const { id, name, email, kind, audience } = affiliates;
  const next = app.db
    .select({ id, name, email, kind, audience })
    .from(affiliates)
    .where(and(hasToAccept, hasNot(row.number), gt(affiliates.id, row.toldTo as Id<'affiliate'>)))
    .orderBy(asc(affiliates.id))
    .limit(most)
    .all();
  const titles = titlesOfChanges(app, row);
  for (const a of next) tell(app, row, a, titles(a));
  app.db
    .update(policies)
    .set({ toldTo: next.length < most ? null : next.at(-1)!.id })
    .where(eq(policies.id, row.id))
    .run();
  return next.length;
}

/** Tells the others, beside whatever else is served. */
export async function tellInTurns(app: App): Promise<void> {
  while (untold(app)) {
    app.transaction(() => tellSome(app, inATurn));
    await turn();
  }
}

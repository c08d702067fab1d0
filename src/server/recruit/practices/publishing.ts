import { and, eq, inArray, or, sql, type SQL } from 'drizzle-orm';
import type { ReplyOf } from '../../../contract/endpoint';
import type { readPublishing as Read } from '../../../contract/setup/policy';
import { dayOf, startOfDay } from '../../../core/calendar/zone';
import { carriedOver, gapsOf } from '../../../core/recruiting/policy';
import { policyChanges, type PracticeChange } from '../../../core/recruiting/policy-changes';
import { holdsFrom } from '../../../core/recruiting/policy-notice';
import type { PracticeKey } from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { applications } from '../../ground/tables/applications';
import { affiliates } from '../../ground/tables/people';
import { applicationPractices, permissions } from '../../ground/tables/practices';
import { theProgramme } from '../../registers/programme/record';
import { staffReader } from '../../setup/policy/readers';
import { announced, hasToAccept, latest } from '../../setup/policy/versions';
import { byId } from '../../setup/policy/view';

type Publishing = ReplyOf<typeof Read>;

/** So many names are said of those whom a change is about. */
const mostNamed = 8;

/** Those who applied with a practice: ticked it, or named it in their words. */
export const usesPractice = (practice: PracticeKey): SQL =>
  sql`EXISTS (SELECT 1 FROM ${applicationPractices} p JOIN ${applications} q ON q.id = p.application WHERE q.affiliate = ${affiliates.id} AND p.practice = ${practice})`;

/** Those who were let in for a practice, and still are. */
export const isPermitted = (practice: PracticeKey): SQL =>
  sql`EXISTS (SELECT 1 FROM ${permissions} m WHERE m.affiliate = ${affiliates.id} AND m.practice = ${practice} AND m.allowed = 1 AND m.ended_at IS NULL)`;

const count = sql<number>`count(*)`;

function countOf(app: App, where: SQL | undefined): number {
  return app.db.select({ n: count }).from(affiliates).where(where).get()!.n;
}

/** Whom a change of one practice is about. */
function about(app: App, change: PracticeChange): Publishing['practices'][number] {
  const key = change.key as PracticeKey;
  const concerned = and(hasToAccept, or(usesPractice(key), isPermitted(key)));
  return {
    key,
    name: change.name,
    was: change.before?.answer ?? null,
    is: change.after?.answer ?? null,
    users: countOf(app, and(hasToAccept, usesPractice(key))),
    permitted: countOf(app, and(hasToAccept, isPermitted(key))),
    waiting: app.db
      .select({ n: count })
      .from(applicationPractices)
      .innerJoin(applications, eq(applications.id, applicationPractices.application))
      .where(and(eq(applicationPractices.practice, key), inArray(applications.state, ['waiting', 'asked'])))
      .get()!.n,
    sample: app.db
      .select({ id: affiliates.id, name: affiliates.name })
      .from(affiliates)
      .where(concerned)
      .orderBy(affiliates.name, affiliates.id)
      .limit(mostNamed)
      .all(),
  };
}

/** What publishing a draft would bring about. Changes nothing. @throws Problem `conflict` where it is published already */
export function readPublishing(app: App, id: Id<'policy'>): Publishing {
  const row = byId(app, id);
  if (row.state !== 'draft') throw new Problem('conflict', `Version ${row.number} is published already`);
  const content = carriedOver(row.content);
  const { zone } = theProgramme(app);
  const { practices, sections } = policyChanges(latest(app)?.content ?? null, content, staffReader(app));
  return {
    number: row.number,
    told: countOf(app, hasToAccept),
    holdsOn: startOfDay(dayOf(holdsFrom(announced(app), app.clock.now(), zone), zone), zone),
    gaps: gapsOf(content),
    changes: practices.length + sections.length,
    practices: practices.map((change) => about(app, change)),
  };
}

import { eq, lt } from 'drizzle-orm';
import { kindsIn } from '../../../core/recruiting/kinds';
import { carriedOver } from '../../../core/recruiting/policy';
import {
  judgePractices,
  practicesMeant,
  type JudgedPractice,
  type MeantPractice,
  type Practice,
  type PracticeKey,
  type Promoter,
} from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import { cached, touch } from '../../ground/cache';
import type { App } from '../../ground/context';
import { turn } from '../../ground/http/turns';
import { applications } from '../../ground/tables/applications';
import type { affiliates } from '../../ground/tables/people';
import { applicationPractices, practiceMatches } from '../../ground/tables/practices';
import { promoterOf } from '../../setup/policy/readers';
import { latest } from '../../setup/policy/versions';

/** The table that whoever applies now is asked by: that of the newest version. Empty before the first. */
export const practicesNow = cached('records', (app): { number: number; table: readonly Practice[] } => {
  const row = latest(app);
  return row
    ? { number: row.number, table: carriedOver(row.content).practices.filter((p) => p.answer !== null) }
    : { number: 0, table: [] };
});

type Written = Pick<typeof applications.$inferSelect, 'id' | 'note' | 'channels'>;

const wordsOf = ({ note, channels }: Pick<Written, 'note' | 'channels'>) => `${channels}\n${note}`;

/** Keeps what an applicant means to use, as the newest version has the words for it. @param ticked null where nobody asked */
export function keepMeant(app: App, application: Written, ticked: readonly PracticeKey[] | null): void {
  const { number, table } = practicesNow(app);
  const meant = practicesMeant(table, ticked, wordsOf(application));
  app.db.delete(applicationPractices).where(eq(applicationPractices.application, application.id)).run();
  if (meant.length)
    app.db
      .insert(applicationPractices)
      .values(meant.map(({ key, ...how }) => ({ application: application.id, practice: key, ...how })))
      .run();
  app.db
    .insert(practiceMatches)
    .values({ application: application.id, policy: number, asked: ticked !== null })
    .onConflictDoUpdate({ target: practiceMatches.application, set: { policy: number } })
    .run();
}

/** Whether the applicant of one application was asked to tick practices. */
export const wasAsked = (app: App, application: Id<'application'>): boolean =>
  app.db
    .select({ asked: practiceMatches.asked })
    .from(practiceMatches)
    .where(eq(practiceMatches.application, application))
    .get()?.asked ?? false;

/** What was ticked in an application; null where nobody asked. */
function tickedIn(app: App, application: Id<'application'>): PracticeKey[] | null {
  if (!wasAsked(app, application)) return null;
  return meantIn(app, application)
    .filter((m) => m.ticked)
    .map((m) => m.key);
}

/** Looks through applications that the words of the newest version were not looked for in yet, some at a time. @returns how many */
export function matchPractices(app: App, most = 500): number {
  const { number } = practicesNow(app);
  const rows = app.db
    .select({ id: applications.id, note: applications.note, channels: applications.channels })
    .from(practiceMatches)
    .innerJoin(applications, eq(applications.id, practiceMatches.application))
    .where(lt(practiceMatches.policy, number))
    .limit(most)
    .all();
  if (!rows.length) return 0;
  app.transaction(() => {
    for (const row of rows) keepMeant(app, row, tickedIn(app, row.id));
    touch(app, 'records');
  });
  return rows.length;
}

/** So many applications are looked through in each turn. */
const inATurn = 50;

/** The same for all of them, beside whatever else is served. */
export async function matchInTurns(app: App): Promise<void> {
  while (matchPractices(app, inATurn) > 0) await turn();
}

/** What the applicant of one application means to use. */
export function meantIn(app: App, application: Id<'application'>): MeantPractice[] {
  return app.db
    .select()
    .from(applicationPractices)
    .where(eq(applicationPractices.application, application))
    .all()
    .map(({ practice, ticked, said }) => ({ key: practice, ticked, said }));
}

/** An applicant as the policy answers it: of every kind that its words name. */
export function promoterWhoApplies(
  app: App,
  application: Pick<Written, 'channels'>,
  f: typeof affiliates.$inferSelect,
): Promoter {
  const { kinds, group } = promoterOf(app, f);
  return { kinds: [...new Set([...kinds, ...kindsIn(application.channels)])], group };
}

/** What the newest version answers to what an applicant means to use, in the order of its table. */
export function judgedIn(
  app: App,
  application: Pick<Written, 'id' | 'channels'>,
  f: typeof affiliates.$inferSelect,
): JudgedPractice[] {
  const { table } = practicesNow(app);
  const place = new Map(table.map((p, i) => [p.key, i]));
  const meant = meantIn(app, application.id).sort(
    (a, b) => (place.get(a.key) ?? table.length) - (place.get(b.key) ?? table.length),
  );
  return judgePractices(table, meant, promoterWhoApplies(app, application, f));
}

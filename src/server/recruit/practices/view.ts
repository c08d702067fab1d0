import type { Static } from '@sinclair/typebox';
import { eq } from 'drizzle-orm';
import type { PracticeOfOne } from '../../../contract/recruit/practices';
import {
  answerFor,
  isUsual,
  usualPractices,
  type MeantPractice,
  type PracticeKey,
  type Promoter,
} from '../../../core/recruiting/practices';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { applications } from '../../ground/tables/applications';
import type { affiliates } from '../../ground/tables/people';
import { applicationPractices } from '../../ground/tables/practices';
import { promoterOf } from '../../setup/policy/readers';
import { filled } from '../../setup/terms/live';
import { meantIn, practicesNow, promoterWhoApplies } from './meant';
import { permissionsOf } from './permissions';

type Shown = Static<typeof PracticeOfOne>;
type Affiliate = typeof affiliates.$inferSelect;

const unsaid = { answer: null, says: '' };
const unknown = { ticked: false, said: false };
const nameOfGone = (key: PracticeKey) =>
  isUsual(key) ? usualPractices[key].name : 'A practice that is gone';

/** What somebody means to use and was answered, in the order of the table; what is gone from it comes last. */
function shown(
  app: App,
  affiliate: Id<'affiliate'>,
  meant: readonly MeantPractice[],
  promoter: Promoter,
): Shown[] {
  const { table } = practicesNow(app);
  const given = new Map(permissionsOf(app, affiliate).map((p) => [p.practice, p]));
  const how = new Map(meant.map((m) => [m.key, m]));
  const keys = new Set<PracticeKey>([...table.map((p) => p.key), ...how.keys(), ...given.keys()]);
  return [...keys]
    .filter((key) => how.has(key) || given.has(key))
    .map((key) => {
      const permission = given.get(key) ?? null;
      const practice = table.find((p) => p.key === key);
      const { answer, says } = (practice && answerFor(practice, promoter)) ?? unsaid;
      const { ticked, said } = how.get(key) ?? unknown;
      return {
        ...{ key, answer, ticked, said, permission },
        name: practice?.name ?? permission?.name ?? nameOfGone(key),
        says: filled(app, says, { affiliate }),
      };
    });
}

/** Practices of one application: ticked, named in its words, or answered to its applicant before. */
export function practicesOfApplication(
  app: App,
  application: Pick<typeof applications.$inferSelect, 'id' | 'channels'>,
  f: Affiliate,
): Shown[] {
  const meant = meantIn(app, application.id);
  return shown(app, f.id, meant, promoterWhoApplies(app, application, f));
}

/** Practices of an affiliate: of all that it applied with, and what it was answered. */
export function practicesOfAffiliate(app: App, f: Affiliate): Shown[] {
  const meant = new Map<PracticeKey, MeantPractice>();
  for (const { practice, ticked, said } of app.db
    .select({
      practice: applicationPractices.practice,
      ticked: applicationPractices.ticked,
      said: applicationPractices.said,
    })
    .from(applicationPractices)
    .innerJoin(applications, eq(applications.id, applicationPractices.application))
    .where(eq(applications.affiliate, f.id))
    .all()) {
    const before = meant.get(practice);
    meant.set(practice, {
      key: practice,
      ticked: ticked || (before?.ticked ?? false),
      said: said || (before?.said ?? false),
    });
  }
  return shown(app, f.id, [...meant.values()], promoterOf(app, f));
}

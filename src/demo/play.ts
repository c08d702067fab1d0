import { join } from 'node:path';
import { addDays, startOfDay } from '../core/calendar/zone';
import { touch } from '../server/ground/cache';
import { type Actor, type App } from '../server/ground/context';
import { staff } from '../server/ground/tables/access';
import { programme } from '../server/ground/tables/programme';
import { clearDue } from '../server/ledger/journal';
import { createRule } from '../server/recruit/applications/screening';
import { registryWasRead, takePartners } from '../server/recruit/prospects/copy';
import { hashPassword } from '../server/registers/access/passwords';
import { setUp } from '../server/registers/accounts/set-up';
import { addStaff } from '../server/registers/accounts/staff';
import { grantClicks } from '../server/track/clicks/clicks';
import { Agenda, hours, type At, type Hand } from './agenda';
import { planApplicant, planBadOnes } from './applicants';
import { planDays } from './days';
import { faultyReports } from './faulty';
import { found, raiseCourse } from './founding';
import { drawMaterial, planCoupons, planMaterial, planRequests } from './material/play';
import { everyPartner } from './partners';
import { payRun } from './pay';
import { planPictures } from './pictures';
import { planPolicy } from './policy';
import { planPresence } from './programme';
import { Seeded } from './random';
import { planRecruits } from './recruits';
import * as scenario from './scenario';
import { demoAffiliates } from './scenario-affiliates';
import { declined, waiting } from './scenario-applicants';
import { planShares } from './shares';
import { planTerms } from './terms';

/** Those who work on the programme. */
async function hire(app: App, password: string): Promise<{ owner: Actor; finance: Actor; manager: Actor }> {
  await setUp(app, { ...scenario.merchant, password: scenario.demoPassword, tryOut: true });
  const owner: Actor = { kind: 'staff', id: app.db.select().from(staff).get()!.id };
  const people = new Map(
    scenario.colleagues.map((c) => [c.role, app.transaction(() => addStaff(app, owner, c, password).id)]),
  );
  return {
    owner,
    finance: { kind: 'staff', id: people.get('finance')! },
    manager: { kind: 'staff', id: people.get('manager')! },
  };
}

/** Plays fourteen months of Quernstone Clayworks through the services, day by day, from a fixed seed. */
export async function playDemo(
  app: App,
  hand: Hand,
  { seed = 1312, films = join(process.cwd(), 'src/demo/films') }: { seed?: number; films?: string } = {},
): Promise<void> {
  const zone = scenario.merchant.zone;
  const at: At = (day, hour = 9) => startOfDay(day, zone) + hour * hours;
  hand.set(startOfDay(scenario.from, zone) - 30 * 24 * hours);
  const password = await hashPassword(scenario.demoPassword);
  const { owner, finance, manager } = await hire(app, password);
  app.transaction(() => found(app, owner));
  const files = await drawMaterial(app, manager, films);

  const agenda = new Agenda();
  const { plan } = agenda;
  takePartners(app, everyPartner());
  app.transaction(() => planPolicy(app, plan, at, { owner, manager }));
  planRecruits(app, plan, at, manager);
  planPresence(app, plan, { at, owner, manager });
  const made = planMaterial(app, plan, { at, manager, files });
  planCoupons(app, plan, { at, manager });
  planRequests(app, plan, { at, manager, made });
  for (const a of [...demoAffiliates, ...declined, ...waiting])
    planApplicant(app, plan, a, { manager, password, at });
  planTerms(app, owner, { manager, plan, at });
  plan(at('2027-03-03', 10), () => scenario.rules.forEach((rule) => createRule(app, manager, rule)));
  planShares(app, owner, { manager, password, plan, at });
  planPictures(app, plan, at);
  plan(at(scenario.courseRaise.day), () => raiseCourse(app, manager));
  planBadOnes(app, plan, at, manager);
  for (const day of ['2026-04-20', '2026-06-22', '2026-08-20', '2026-10-20'])
    plan(at(day, 11), () => payRun(app, owner, { finance, cutoff: addDays(day, -1), last: 'ACSC' }));
  plan(at('2027-01-20', 11), () => payRun(app, owner, { finance, cutoff: '2027-01-19', last: 'ACSC' }));
  plan(at('2027-03-02', 11), () => payRun(app, owner, { finance, cutoff: '2027-03-01', last: 'AC04' }));
  planDays(app, plan, at, { random: new Seeded(seed), made });

  const end = at(scenario.today, 10);
  agenda.play(app, hand, end);
  hand.set(end);
  app.transaction(() => close(app, end));
  touch(app, 'records');
}

/** What stands on the last day: what has cleared, reports that went wrong, the registry as it was read. */
function close(app: App, end: number): void {
  grantClicks(app);
  clearDue(app);
  faultyReports(app);
  registryWasRead(app);
  app.db.update(programme).set({ clockAt: end }).run();
}

import { eq } from 'drizzle-orm';
import { addDays } from '../core/calendar/zone';
import type { Id } from '../core/text/id';
import { touch } from '../server/ground/cache';
import { type Actor, type App } from '../server/ground/context';
import { applications } from '../server/ground/tables/applications';
import { affiliates } from '../server/ground/tables/people';
import { decide } from '../server/recruit/applications/decide';
import { join } from '../server/recruit/applications/join';
import { acceptTicked } from '../server/recruit/applications/ticked';
import { moveAffiliate } from '../server/recruit/roster/service';
import type { DemoAffiliate } from './affiliate';
import type { At, Plan } from './agenda';
import { madeUpIban } from './iban';
import { demoAffiliates } from './scenario-affiliates';
import { declined, waiting } from './scenario-applicants';

interface Desk {
  manager: Actor;
  /** that of everybody who is let in, hashed */
  password: string;
  at: At;
}

/** Plans the application of a partner of the scenario, and what was decided. */
export function planApplicant(app: App, plan: Plan, a: DemoAffiliate, { manager, password, at }: Desk): void {
  const isWaiting = waiting.includes(a);
  const order = [...demoAffiliates, ...declined, ...waiting].indexOf(a);
  // affiliates of the first days applied before history begins
  const applied = isWaiting ? at(a.joined, 8) + order * 7 * 60_000 : at(addDays(a.joined, -2), 18);
  plan(applied, () => {
    join(app, {
      name: a.name,
      email: a.email,
      country: a.country,
      address: a.address ?? `Kiln Lane ${order + 1}, Quarry Hill`,
      sites: [a.site],
      channels: a.channels,
      note: a.note,
      product: a.product,
      policy: true,
      ...(a.practices ? { practices: a.practices } : {}),
      ...(a.by ? { by: a.by } : {}),
    });
  });
  if (isWaiting) return;
  plan(at(a.joined, 0) + 60_000, () => {
    const row = app.db.select().from(affiliates).where(eq(affiliates.email, a.email)).get()!;
    const id = app.db
      .select({ id: applications.id })
      .from(applications)
      .where(eq(applications.affiliate, row.id))
      .get()!.id;
    if (declined.includes(a))
      decide(app, manager, {
        ids: [id],
        decision: 'decline',
        reason: 'The note stands word for word in other applications',
        message: order % 2 === 0,
      });
    else {
      decide(app, manager, { ids: [id], decision: 'approve', timing: a.timing, reason: '', message: true });
      settleIn(app, row.id, a, { order, password });
    }
    touch(app, 'records');
  });
}

/** The password, the payout details and the acceptance of somebody who was let in. */
function settleIn(
  app: App,
  id: Id<'affiliate'>,
  a: DemoAffiliate,
  { order, password }: { order: number; password: string },
): void {
  const details = a.details
    ? {
        payeeHolder: a.name,
        payeeIban: madeUpIban(order + 1),
        payeeAddress: `Kiln Lane ${order + 1}, Quarry Hill`,
      }
    : {};
  app.db
    .update(affiliates)
    .set({ password, ...details })
    .where(eq(affiliates.id, id))
    .run();
  acceptTicked(app, id);
}

/** Plans what was done about those whose refunds were far above the rest. */
export function planBadOnes(app: App, plan: Plan, at: At, manager: Actor): void {
  for (const bad of demoAffiliates.filter((a) => a.bad)) {
    plan(at('2027-02-24', 15) + demoAffiliates.indexOf(bad) * 60_000, () => {
      const row = app.db.select().from(affiliates).where(eq(affiliates.email, bad.email)).get()!;
      moveAffiliate(app, manager, row.id, {
        to: bad.name.startsWith('Quick') ? 'blocked' : 'paused',
        reason: 'Refunds far above the rest, buyers share one address',
        version: row.version,
      });
    });
  }
}

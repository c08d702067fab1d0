import { and, eq, isNull, sql } from 'drizzle-orm';
import { touch } from '../../ground/cache';
import { theClock, type App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';
import { policies } from '../../ground/tables/policy';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { changeAffiliate } from '../../registers/people/write';
import { theProgramme } from '../../registers/programme/record';
import { dueAt, hasNot, hasToAccept, latest, policyInForce, type PolicyRecord } from './versions';

/** What a version says of who has not accepted it comes about for one affiliate, and it is told. */
function remind(app: App, row: PolicyRecord, a: typeof affiliates.$inferSelect): void {
  const { name } = theProgramme(app);
  const { atEnd } = row.content;
  if (atEnd === 'pause' && a.state === 'active') {
    changeAffiliate(app, a.id, { state: 'paused', pausedFor: row.id });
    record(app, theClock, 'affiliate-moved', {
      subject: a.id,
      before: { state: 'active' },
      after: { state: 'paused', reason: `has not accepted version ${row.number} of the policy` },
    });
  }
  const said = {
    remind: 'They hold from today.',
    'hold-pay': 'They hold from today, and we cannot pay you until you have accepted them.',
    pause: 'They hold from today, and your account is paused until you have accepted them.',
  }[atEnd];
  queue(app, {
    to: a.email,
    affiliate: a.id,
    kind: 'policy-reminder',
    subject: `You have not accepted the terms of ${name} yet`,
    body: [
      `Hello ${a.name},\n\nour terms changed and you have not accepted them yet. ${said} Read and accept them here:\n`,
      `\n\n${name}`,
    ],
    link: { use: 'accept', person: a.id, policy: latest(app)!.id },
  });
}

/** Deals, once, with those who have not accepted a version whose notice is over: reminds them, or pauses them as it says. @returns how many */
export function closeNotice(app: App): number {
  const row = policyInForce(app);
  if (!row || row.closedAt !== null || dueAt(app, row) > app.clock.now()) return 0;
  const late = app.db
    .select()
    .from(affiliates)
    .where(and(hasToAccept, hasNot(row.number)))
    .all();
  for (const a of late) remind(app, row, a);
  // those that were published before and never came into force on their own are done with as well
  app.db
    .update(policies)
    .set({ closedAt: app.clock.now() })
    .where(
      and(
        eq(policies.state, 'published'),
        isNull(policies.closedAt),
        sql`${policies.number} <= ${row.number}`,
      ),
    )
    .run();
  app.db.update(policies).set({ closedFor: late.length }).where(eq(policies.id, row.id)).run();
  touch(app, 'records');
  return late.length;
}

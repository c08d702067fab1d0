import { and, asc, eq, gt, isNull, sql } from 'drizzle-orm';
import { type Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { theClock, type App } from '../../ground/context';
import { turn } from '../../ground/http/turns';
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

/** So many are dealt with when it is asked for once, and so many in each turn. */
const atOnce = 200;
const inATurn = 50;

/** The version in force, where its notice is over and those who have not accepted it are not all dealt with. */
function overdue(app: App): PolicyRecord | null {
  const row = policyInForce(app);
  return row && row.closedAt === null && dueAt(app, row) <= app.clock.now() ? row : null;
}

/**
 * Deals, each once, with those who have not accepted a version whose notice is over: reminds them, or pauses them as it says.
 * @param most so many of them; the others when it is asked for again @returns how many
 */
export function closeNotice(app: App, most = atOnce): number {
  const row = overdue(app);
  if (!row) return 0;
  const late = app.db
    .select()
    .from(affiliates)
    .where(and(hasToAccept, hasNot(row.number), gt(affiliates.id, (row.closedTo ?? '') as Id<'affiliate'>)))
    .orderBy(asc(affiliates.id))
    .limit(most)
    .all();
  for (const a of late) remind(app, row, a);
  const closedFor = (row.closedFor ?? 0) + late.length;
  const closedTo = late.length < most ? null : late.at(-1)!.id;
  app.db.update(policies).set({ closedFor, closedTo }).where(eq(policies.id, row.id)).run();
  if (closedTo === null) closeAll(app, row);
  touch(app, 'records');
  return late.length;
}

/** Those that were published before and never came into force on their own are done with as well. */
function closeAll(app: App, row: PolicyRecord): void {
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
}

/** The same for all of them, beside whatever else is served. */
export async function closeInTurns(app: App): Promise<void> {
  while (overdue(app)) {
    app.transaction(() => closeNotice(app, inATurn));
    await turn();
  }
}

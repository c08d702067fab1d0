import { and, eq, gte, inArray, sql } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { insertion, perApp } from '../../ground/db/prepared';
import { messages } from '../../ground/tables/outbox';

/** A text, or one that a link to set a password goes into: what stands before it and after it. */
export type Body = string | readonly [before: string, after: string];

interface Draft {
  to: string;
  affiliate: Id<'affiliate'> | null;
  kind: string;
  subject: string;
  body: Body;
  /** for whom the link in the body is, if not the welcome of the affiliate */
  link?: typeof messages.$inferSelect.link;
  /** what it is about (an application), so that it can be withdrawn with the decision */
  subjectOf?: string;
  /** seconds during which it can be withdrawn */
  holdSeconds?: number;
}

/** Prepared: thousands are written to at once. */
const outbox = perApp((app) => insertion(app, messages));

/** Puts a message into the outbox, in the transaction of what it tells about. */
export function queue(app: App, { body, ...draft }: Draft): void {
  const [before, after] = typeof body === 'string' ? [body, null] : body;
  outbox(app).run({
    id: newId('message'),
    at: app.clock.now(),
    to: draft.to,
    affiliate: draft.affiliate,
    kind: draft.kind,
    subject: draft.subject,
    body: before + (after ?? ''),
    state: 'waiting',
    fault: null,
    leavesAt: app.clock.real() + (draft.holdSeconds ?? 0) * 1000,
    subjectOf: draft.subjectOf ?? null,
    linkAt: after === null ? null : before.length,
    link: draft.link ?? null,
    tries: 0,
    triedAt: null,
  });
}

/** A text with the way into the portal in its middle: signing in, or for who has no password yet, a link to set one. */
export function withAccess(
  app: App,
  person: { password: string | null },
  before: string,
  after: string,
): Body {
  return person.password
    ? `${before}Sign in at ${app.address}/portal${after}`
    : [`${before}Set your password here, within 30 days:\n`, after];
}

/** Seconds in which a decision can be taken back; its message leaves after them. */
export const undoSeconds = () => Number(process.env.GRAVENEL_UNDO_SECONDS ?? 10);

/** Withdraws what has not left yet. @returns false if a message about the subject has left already */
export function withdraw(app: App, subject: string): boolean {
  const rows = app.db
    .select({ state: messages.state, leavesAt: messages.leavesAt })
    .from(messages)
    .where(eq(messages.subjectOf, subject))
    .all();
  if (rows.some((m) => m.state !== 'waiting' || m.leavesAt <= app.clock.real())) return false;
  app.db.delete(messages).where(eq(messages.subjectOf, subject)).run();
  return true;
}

const day = 86_400_000;

/** How many messages of some kinds went to an address within a day: what strangers can cause is bounded. */
export function writtenLately(app: App, to: string, kinds: readonly string[]): number {
  return app.db
    .select({ n: sql<number>`count(*)` })
    .from(messages)
    .where(
      and(eq(messages.to, to), gte(messages.at, app.clock.now() - day), inArray(messages.kind, [...kinds])),
    )
    .get()!.n;
}

/** Messages that wait although their time has come, and since when the eldest has been tried. */
export function countStuck(app: App): {
  waiting: number;
  tried: number;
  since: number | null;
  fault: string | null;
} {
  const due = and(
    eq(messages.state, 'waiting'),
    sql`(${messages.leavesAt} <= ${app.clock.real()} OR ${messages.tries} > 0)`,
  );
  const row = app.db
    .select({
      waiting: sql<number>`count(*)`,
      tried: sql<number>`coalesce(sum(${messages.tries} > 0), 0)`,
      since: sql<number | null>`min(${messages.triedAt})`,
    })
    .from(messages)
    .where(due)
    .get()!;
  const fault = row.tried
    ? (app.db
        .select({ fault: messages.fault })
        .from(messages)
        .where(and(due, sql`${messages.tries} > 0`))
        .limit(1)
        .get()?.fault ?? null)
    : null;
  return { ...row, fault };
}

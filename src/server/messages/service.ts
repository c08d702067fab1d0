import { randomBytes } from 'node:crypto';
import { and, asc, eq, isNotNull, lte } from 'drizzle-orm';
import type { App } from '../context';
import { theProgramme } from '../context';
import { newId } from '../db/ids';
import { insertion, perApp } from '../db/prepared';
import { affiliates, invitations, messages } from '../db/schema';
import { hash } from '../seal';

interface Draft {
  to: string;
  affiliate: string | null;
  kind: string;
  subject: string;
  body: string;
  /** what it is about (an application), so that it can be withdrawn with the decision */
  subjectOf?: string;
  /** seconds during which it can be withdrawn */
  holdSeconds?: number;
}

/** Stands in a body for a link to set a password; the token is made only when the message leaves, so that it is never kept readable. */
export const passwordLink = '{{password-link}}';

/** Prepared: thousands are written to at once. */
const outbox = perApp((app) => insertion(app, messages));

/** Puts a message into the outbox, in the transaction of what it tells about. */
export function queue(app: App, draft: Draft): void {
  outbox(app).run({
    id: newId('message'), at: app.clock.now(), to: draft.to, affiliate: draft.affiliate, kind: draft.kind, subject: draft.subject, body: draft.body, state: 'waiting', fault: null,
    leavesAt: app.clock.real() + (draft.holdSeconds ?? 0) * 1000, subjectOf: draft.subjectOf ?? null,
  });
}

/** Withdraws what has not left yet. @returns false if a message about the subject has left already */
export function withdraw(app: App, subject: string): boolean {
  const rows = app.db.select({ state: messages.state, leavesAt: messages.leavesAt }).from(messages).where(eq(messages.subjectOf, subject)).all();
  if (rows.some((m) => m.state !== 'waiting' || m.leavesAt <= app.clock.real())) return false;
  app.db.delete(messages).where(eq(messages.subjectOf, subject)).run();
  return true;
}

function withPasswordLink(app: App, body: string, affiliate: string | null): string {
  if (!body.includes(passwordLink) || !affiliate) return body;
  const token = randomBytes(32).toString('base64url');
  app.db.insert(invitations).values({ tokenHash: hash(token), affiliate, createdAt: app.clock.real() }).run();
  return body.replaceAll(passwordLink, `${app.address}/portal/password?token=${token}`);
}

/** Hands waiting messages to the mail port, oldest first; one that is refused is marked at the person and does not hold up the rest. */
export async function deliverWaiting(app: App, most = 200): Promise<number> {
  const rows = app.db.select().from(messages).where(and(eq(messages.state, 'waiting'), lte(messages.leavesAt, app.clock.real()))).orderBy(asc(messages.leavesAt), asc(messages.id)).limit(most).all();
  for (const row of rows) {
    try {
      const body = withPasswordLink(app, row.body, row.affiliate);
      await app.mail.deliver({ id: row.id, to: row.to, from: theProgramme(app).contact, subject: row.subject, body, at: row.at });
      app.db.update(messages).set({ state: 'sent' }).where(eq(messages.id, row.id)).run();
      if (row.affiliate) app.db.update(affiliates).set({ mailFault: null }).where(and(eq(affiliates.id, row.affiliate), isNotNull(affiliates.mailFault))).run();
    } catch (fault) {
      const said = fault instanceof Error ? fault.message : 'refused';
      app.log.warn({ message: row.id, fault: said }, 'a message was refused');
      app.db.update(messages).set({ state: 'bounced', fault: said.slice(0, 300) }).where(eq(messages.id, row.id)).run();
      // shown at the person: the roster finds whose mail bounces
      if (row.affiliate) app.db.update(affiliates).set({ mailFault: said.slice(0, 300) }).where(eq(affiliates.id, row.affiliate)).run();
    }
  }
  return rows.length;
}

import { and, eq, gt, lte, sql } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../contract/endpoint';
import type { listOwnMessages as List } from '../../contract/portal/messages';
import type { Id } from '../../core/text/id';
import type { App } from '../ground/context';
import { afterCursor, cut, inOrder } from '../ground/db/page';
import { messages } from '../ground/tables/outbox';
import { portalVisits } from '../ground/tables/portal';

const keyset = { by: messages.at, id: messages.id, order: 'desc' } as const;

/** When an affiliate last read its messages; 0 where it never did. */
const readAt = (app: App, affiliate: Id<'affiliate'>): number =>
  app.db.select().from(portalVisits).where(eq(portalVisits.affiliate, affiliate)).get()?.readAt ?? 0;

/** What has left, or is about to: what can still be taken back is not read yet. */
const written = (app: App, affiliate: Id<'affiliate'>) =>
  and(eq(messages.affiliate, affiliate), lte(messages.leavesAt, app.clock.real()));

/** A text as it is kept: where the mail had a link that is good for one person, it says so. */
const bodyOf = ({ body, linkAt }: typeof messages.$inferSelect): string =>
  linkAt === null ? body : `${body.slice(0, linkAt)}(the link is in the mail)${body.slice(linkAt)}`;

/** What was written to an affiliate. Links that only a mail may carry are not in it. */
export function listOwnMessages(
  app: App,
  affiliate: Id<'affiliate'>,
  { after, limit = 30 }: QueryOf<typeof List>,
): ReplyOf<typeof List> {
  const before = readAt(app, affiliate);
  const found = app.db
    .select()
    .from(messages)
    .where(and(written(app, affiliate), afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.at, r.id]);
  return {
    rows: rows.map((row) => ({
      id: row.id,
      at: row.at,
      subject: row.subject,
      body: bodyOf(row),
      isNew: row.at > before,
    })),
    next,
  };
}

export function countOwnMessages(app: App, affiliate: Id<'affiliate'>): { count: number } {
  const count = app.db
    .select({ n: sql<number>`count(*)` })
    .from(messages)
    .where(and(written(app, affiliate), gt(messages.at, readAt(app, affiliate))))
    .get()!.n;
  return { count };
}

/** An affiliate has read its messages. */
export function noteRead(app: App, affiliate: Id<'affiliate'>): null {
  const now = app.clock.now();
  app.db
    .insert(portalVisits)
    .values({ affiliate, hereAt: now, beforeAt: null, readAt: now })
    .onConflictDoUpdate({ target: portalVisits.affiliate, set: { readAt: now } })
    .run();
  return null;
}

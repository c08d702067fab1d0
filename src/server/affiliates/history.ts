import { and, eq, or, sql } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../contract/endpoint';
import type { listHistory as Call } from '../../contract/affiliates';
import type { App } from '../context';
import { afterCursor, cut, inOrder } from '../db/page';
import { audit } from '../db/schema';
import { namesOf } from '../staff/names';

const keyset = { by: audit.at, id: audit.id, order: 'desc' } as const;
const usual = 50;

/** What was done to an affiliate, or to something of its, newest first. */
export function listHistory(app: App, id: string, query: QueryOf<typeof Call> = {}): ReplyOf<typeof Call> {
  const own = or(eq(audit.subject, id), sql`json_extract(${audit.after}, '$.affiliate') = ${id}`);
  // told by the plus that the order is made of what the two indexes find: else SQLite walks through all that was ever done
  const found = app.db.select().from(audit).where(and(own, afterCursor(keyset, query.after))).orderBy(sql`+${audit.at} DESC`, inOrder(keyset)[1]!).limit((query.limit ?? usual) + 1).all();
  const { rows, next } = cut(found, query.limit ?? usual, (r) => [r.at, r.id]);
  const name = namesOf(app, rows.map((h) => h.by));
  return { next, rows: rows.map((h) => ({ id: h.id, at: h.at, by: name(h.by), action: h.action, before: h.before, after: h.after })) };
}

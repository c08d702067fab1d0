import { and, sql, type SQL } from 'drizzle-orm';
import type { App } from '../../ground/context';
import { afterCursor, cut, inOrder } from '../../ground/db/page';
import { audit } from '../../ground/tables/access';
import { namesOf } from './names';

const usual = 50;

/**
 * A page of what was done, newest first, with who did it.
 * @param about what is asked for, answered by indexes of its own: told by the plus that the order is made of what they find, else SQLite walks through all
 * that was ever done to find the next page
 */
export function pageOfAudit(
  app: App,
  about: SQL | undefined,
  { after, limit = usual }: { after?: string; limit?: number },
) {
  const keyset = { by: about ? sql`+${audit.at}` : audit.at, id: audit.id, order: 'desc' } as const;
  const found = app.db
    .select()
    .from(audit)
    .where(and(about, afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.at, r.id]);
  const name = namesOf(
    app,
    rows.map((r) => r.by),
  );
  return {
    next,
    rows: rows.map((r) => ({
      id: r.id,
      at: r.at,
      by: name(r.by),
      action: r.action,
      subject: r.subject,
      before: r.before,
      after: r.after,
    })),
  };
}

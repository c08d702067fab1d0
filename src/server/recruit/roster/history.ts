import { eq, or, sql } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type { listHistory as Call } from '../../../contract/recruit/affiliates';
import type { App } from '../../ground/context';
import { audit } from '../../ground/tables/access';
import { pageOfAudit } from '../../registers/access/trail';

/** What was done to an affiliate, or to something of its, newest first. */
export function listHistory(app: App, id: string, query: QueryOf<typeof Call> = {}): ReplyOf<typeof Call> {
  const { rows, next } = pageOfAudit(
    app,
    or(eq(audit.subject, id), sql`json_extract(${audit.after}, '$.affiliate') = ${id}`),
    query,
  );
  return { next, rows: rows.map(({ subject: _subject, ...row }) => row) };
}

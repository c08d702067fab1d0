import { eq } from 'drizzle-orm';
import { type App } from '../../ground/context';
import { audit } from '../../ground/tables/access';
import { pageOfAudit } from '../../registers/access/trail';
import { subjectsOf } from './subjects';

export function listAudit(app: App, filter: { subject?: string; after?: string; limit?: number }) {
  const { rows, next } = pageOfAudit(
    app,
    filter.subject ? eq(audit.subject, filter.subject) : undefined,
    filter,
  );
  const subject = subjectsOf(
    app,
    rows.map((r) => r.subject),
  );
  return { next, rows: rows.map((r) => ({ ...r, subject: subject(r.subject) })) };
}

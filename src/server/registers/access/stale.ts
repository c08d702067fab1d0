import { desc, eq } from 'drizzle-orm';
import { formatMoment } from '../../../core/calendar/format';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { audit } from '../../ground/tables/access';
import { theProgramme } from '../programme/record';
import { namesOf } from './names';

/**
 * The refusal of an edit that began from an older version: who changed it meanwhile and when, with the record as it is now, so that nothing of either is lost.
 * @param subject of the audit @param what the record, in words @param current as its reading call gives it
 */
export function stale(app: App, subject: string, what: string, current: unknown): Problem {
  const last = app.db
    .select({ by: audit.by, at: audit.at })
    .from(audit)
    .where(eq(audit.subject, subject))
    .orderBy(desc(audit.at), desc(audit.id))
    .limit(1)
    .get();
  const by = last ? namesOf(app, [last.by])(last.by) : 'Somebody else';
  const when = last ? `, on ${formatMoment(last.at, theProgramme(app).zone)}` : '';
  return new Problem(
    'stale',
    `${by} changed ${what} meanwhile${when}. Your values are kept in the form; compare and save again.`,
    { current },
  );
}

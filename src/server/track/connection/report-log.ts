import { and, eq, isNotNull, or, sql } from 'drizzle-orm';
import { millisecondsInDay } from '../../../core/calendar/zone';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { perApp } from '../../ground/db/prepared';
import { RowTexts } from '../../ground/db/texts';
import { Problem } from '../../ground/http/problem';
import { reports } from '../../ground/tables/reports';
import { reportRow } from '../orders/orders';

export const recent = 30 * millisecondsInDay;

/** How many reports of the last 30 days had each outcome. */
export function countReports(app: App): Record<string, number> {
  const counts = app.db
    .select({ outcome: reports.outcome, n: sql<number>`sum(${reports.count})` })
    .from(reports)
    .where(sql`${reports.at} >= ${app.clock.now() - recent}`)
    .groupBy(reports.outcome)
    .all();
  return Object.fromEntries(counts.map((c) => [c.outcome, c.n]));
}

// ids are in the order of arrival
const keyset = { by: reports.id, id: reports.id, order: 'desc' } as const;

const texts = perApp(
  ({ sqlite }) =>
    new RowTexts(sqlite, {
      table: 'reports',
      text: "coalesce(reference, '') || char(31) || said",
      where: 'slot IS NULL',
    }),
);

/** So many reports that fit are gathered; where more do, the newest of them are found soon by reading from the newest on. */
const fewEnough = 5_000;

/** Reports whose reference, or what was said of them, has a part in it. A row that counts changes with each that comes: it is read where it is. */
function matching(app: App, part: string) {
  const pattern = anywhere(part);
  const like = or(
    sql`${reports.reference} LIKE ${pattern} ESCAPE '\\'`,
    sql`${reports.said} LIKE ${pattern} ESCAPE '\\'`,
  );
  const some = texts(app).find(part, fewEnough + 1);
  if (some.length > fewEnough) return like;
  return or(
    sql`${reports}.rowid IN (SELECT value FROM json_each(${JSON.stringify(some)}))`,
    and(isNotNull(reports.slot), like),
  );
}

export function listReports(
  app: App,
  filter: { outcome?: string; q?: string; after?: string; limit?: number },
) {
  const limit = filter.limit ?? 50;
  const found = app.db
    .select()
    .from(reports)
    .where(
      and(
        filter.outcome ? eq(reports.outcome, filter.outcome) : undefined,
        filter.q ? matching(app, filter.q) : undefined,
        afterCursor(keyset, filter.after),
      ),
    )
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.id, r.id]);
  return { rows: rows.map(reportRow), next };
}

export function readReport(app: App, id: Id<'report'>) {
  const row = app.db.select().from(reports).where(eq(reports.id, id)).get();
  if (!row) throw new Problem('not-found', 'This report is not in the log');
  return { ...reportRow(row), body: row.body };
}

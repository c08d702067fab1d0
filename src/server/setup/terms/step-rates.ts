import { and, eq, gt, isNull, or, sql } from 'drizzle-orm';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { rates } from '../../ground/tables/terms';

/** Rates of steps that go end with them: they would cover nothing. */
export function endRatesOf(app: App, actor: Actor, codes: string[]): void {
  const now = app.clock.now();
  for (const code of codes) {
    const open = app.db
      .select()
      .from(rates)
      .where(
        and(
          sql`json_extract(${rates.what}, '$.step') = ${code}`,
          or(isNull(rates.until), gt(rates.until, now)),
        ),
      )
      .all();
    for (const r of open)
      app.db
        .update(rates)
        .set({ until: Math.max(now, r.from), endedAt: now, endedBy: actor.id })
        .where(eq(rates.id, r.id))
        .run();
  }
  touch(app, 'terms');
}

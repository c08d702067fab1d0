import { eq } from 'drizzle-orm';
import type { Id } from '../../core/text/id';
import type { App } from '../ground/context';
import { portalVisits } from '../ground/tables/portal';

/** Whoever comes back after so long begins a new visit. */
const pause = 45 * 60_000;

/** When an affiliate was in the portal before the visit that it makes now; null where this is its first. */
export function seenBefore(app: App, affiliate: Id<'affiliate'>): number | null {
  return (
    app.db.select().from(portalVisits).where(eq(portalVisits.affiliate, affiliate)).get()?.beforeAt ?? null
  );
}

/** Notes that an affiliate is here. Pages of one visit mark the same as new. */
export function noteHere(app: App, affiliate: Id<'affiliate'>): null {
  const now = app.clock.now();
  const last = app.db.select().from(portalVisits).where(eq(portalVisits.affiliate, affiliate)).get();
  const beforeAt = !last ? null : now - last.hereAt > pause ? last.hereAt : last.beforeAt;
  app.db
    .insert(portalVisits)
    .values({ affiliate, hereAt: now, beforeAt })
    .onConflictDoUpdate({ target: portalVisits.affiliate, set: { hereAt: now, beforeAt } })
    .run();
  return null;
}

import { eq, gt } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { refuse } from '../../ground/http/problem';
import { tagOrders } from '../../ground/tables/terms';
import { record } from '../../registers/access/audit';
import { cutsOf, earliestCut } from './cuts';
import { setsInUse, theTerms } from './store';

/** Tags in the order in which they decide now. */
export function tagOrder(app: App): Id<'set'>[] {
  const at = app.clock.now();
  const known = setsInUse(app)
    .filter((s) => s.of === 'tag')
    .map((s) => s.id);
  const latest =
    theTerms(app)
      .data.tagOrders.filter((o) => o.from <= at)
      .sort((a, b) => b.from - a.from)[0]?.tags ?? [];
  return [...latest.filter((t) => known.includes(t)), ...known.filter((t) => !latest.includes(t))];
}

export function writeTagOrder(app: App, actor: Actor, tags: Id<'set'>[], from = app.clock.now()): void {
  // two orders of one moment would leave it to chance which counts
  app.db.delete(tagOrders).where(eq(tagOrders.from, from)).run();
  app.db
    .insert(tagOrders)
    .values({ id: newId('tagOrder'), from, tags, by: actor.id })
    .run();
  touch(app, 'terms');
}

/** Orders the tags: from now on, or, where that would earn somebody less, from the day that the promised notice allows. */
export function orderTags(
  app: App,
  actor: Actor,
  tags: Id<'set'>[],
): { tags: Id<'set'>[]; from: number | null } {
  const before = tagOrder(app);
  const missing = before.filter((t) => !tags.includes(t));
  if (missing.length || tags.length !== before.length || new Set(tags).size !== tags.length)
    throw refuse('tags', 'Tags: the order must name every tag once', before.join(', '));
  const now = app.clock.now();
  const { data } = theTerms(app);
  // an order that was to come is taken back by the one that is given now
  app.db.delete(tagOrders).where(gt(tagOrders.from, now)).run();
  const coming = { ...data, tagOrders: [...data.tagOrders.filter((o) => o.from < now), { from: now, tags }] };
  const from = cutsOf(app, coming).length ? earliestCut(app) : null;
  writeTagOrder(app, actor, tags, from ?? now);
  record(app, actor, 'tags-ordered', {
    subject: 'programme',
    before: { tags: before },
    after: { tags, ...(from === null ? {} : { from }) },
  });
  return { tags: from === null ? tags : before, from };
}

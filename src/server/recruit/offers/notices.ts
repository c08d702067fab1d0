import { desc, eq, isNull } from 'drizzle-orm';
import { type BodyOf, type ReplyOf } from '../../../contract/endpoint';
import {
  type createNotice as CreateNotice,
  type listNotices as ListNotices,
} from '../../../contract/recruit/offers';
import type { Id } from '../../../core/text/id';
import { fillIn } from '../../../core/text/live';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { notices } from '../../ground/tables/offers';
import { record } from '../../registers/access/audit';
import { productById } from '../../registers/catalogue/store';
import { filled, liveValues, type Reader } from '../../setup/terms/live';

const mostNotices = 100;

export function showNotices(
  app: App,
  rows: (typeof notices.$inferSelect)[],
  reader: Reader = null,
): ReplyOf<typeof ListNotices>['rows'] {
  return rows.map((n) => {
    const p = n.product ? productById(app, n.product) : undefined;
    return {
      id: n.id,
      kind: n.kind,
      title: n.title,
      body: filled(app, n.body, reader),
      at: n.at,
      product: p ? { id: p.id, name: p.name } : null,
    };
  });
}

/** News and notes, the newest first, as one reader reads them: rates in them are its own. */
export function listNotices(app: App, reader: Reader = null): ReplyOf<typeof ListNotices> {
  return {
    rows: showNotices(
      app,
      app.db
        .select()
        .from(notices)
        .where(isNull(notices.removedAt))
        .orderBy(desc(notices.at), desc(notices.id))
        .limit(mostNotices)
        .all(),
      reader,
    ),
  };
}

export function createNotice(app: App, actor: Actor, input: BodyOf<typeof CreateNotice>) {
  if (input.product && !productById(app, input.product))
    throw refuse('product', 'Product: it does not exist');
  const { unknown } = fillIn(input.body, liveValues(app));
  if (unknown.length) throw refuse('body', `${unknown.join(', ')} cannot be filled in`, '{price WHEEL-1}');
  const id = newId('news');
  app.db
    .insert(notices)
    .values({
      id,
      kind: input.kind,
      title: input.title.trim(),
      body: input.body.trim(),
      product: input.product,
      at: app.clock.now(),
      by: actor.id,
    })
    .run();
  record(app, actor, 'notice-written', { subject: id, before: null, after: { title: input.title.trim() } });
  return showNotices(app, [app.db.select().from(notices).where(eq(notices.id, id)).get()!])[0]!;
}

export function putNoticeAway(app: App, actor: Actor, id: Id<'news'>, away: boolean): null {
  const row = app.db.select().from(notices).where(eq(notices.id, id)).get();
  if (!row) throw new Problem('not-found', 'This notice does not exist');
  app.db
    .update(notices)
    .set({ removedAt: away ? app.clock.now() : null })
    .where(eq(notices.id, id))
    .run();
  record(app, actor, away ? 'notice-removed' : 'notice-restored', {
    subject: id,
    before: null,
    after: { title: row.title },
  });
  return null;
}

import { and, eq } from 'drizzle-orm';
import type { DraftOut, SetChange, SwitchChange } from '../../../contract/setup/rate-book';
import { isOver } from '../../../core/calendar/span';
import { type Change } from '../../../core/terms/draft';
import { isId, type Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { drafts, locks, type DraftChange } from '../../ground/tables/terms';
import { productById } from '../../registers/catalogue/store';
import { readWall } from '../../registers/programme/wall';
import { expected, openDraft, samePlace, type DraftRecord } from './draft-store';
import { draftShown } from './draft-view';
import { readRate } from './reading';
import { setById } from './sets';
import { theTerms } from './store';

function write(
  app: App,
  actor: Actor,
  draft: DraftRecord | null,
  changes: DraftChange[],
): DraftRecord | null {
  if (!draft) {
    if (!changes.length) return null;
    app.db
      .insert(drafts)
      .values({ id: newId('draft'), by: actor.id, from: null, changes, createdAt: app.clock.now() })
      .run();
  } else
    app.db
      .update(drafts)
      .set(
        changes.length
          ? { changes, version: draft.version + 1 }
          : { changes, state: 'discarded', version: draft.version + 1 },
      )
      .where(eq(drafts.id, draft.id))
      .run();
  return openDraft(app, actor);
}

function put(app: App, actor: Actor, change: Change, own: boolean): DraftOut {
  const draft = openDraft(app, actor);
  const before = draft?.changes ?? [];
  const replaced = before.findIndex(
    (c) => c.own === own && samePlace(own ? c.change : undated(c.change), own ? change : undated(change)),
  );
  const entry: DraftChange = {
    id: replaced < 0 ? newId('change') : before[replaced]!.id,
    change,
    own,
    expects: change.op === 'add' ? expected(app, change.rate) : null,
  };
  return draftShown(
    app,
    write(
      app,
      actor,
      draft,
      replaced < 0 ? [...before, entry] : before.map((c, i) => (i === replaced ? entry : c)),
    )!,
  );
}

function undated(change: Change): Change {
  return change.op === 'add' ? { op: 'add', rate: { ...change.rate, from: 0 } } : { ...change, at: 0 };
}

/** Puts a rate or an uplift into the open draft, which is begun if there is none. */
export function draftRate(app: App, actor: Actor, input: SetChange): DraftOut {
  const begin = openDraft(app, actor)?.from ?? app.clock.now();
  const rate = readRate(app, input, begin);
  return put(app, actor, { op: 'add', rate }, Boolean(input.from));
}

export function draftSwitch(app: App, actor: Actor, input: SwitchChange): DraftOut {
  const at = app.clock.now();
  const { op, id, event = 'sale', on = true } = input;
  if (op === 'end') {
    if (!isId(id, 'rate') || !theTerms(app).data.rates.some((r) => r.id === id))
      throw new Problem('not-found', 'This rate does not exist any more');
    return put(app, actor, { op, id, at }, false);
  }
  if (op === 'lock') {
    if (!isId(id, 'product') || !productById(app, id))
      throw new Problem('not-found', 'This product does not exist');
    return put(app, actor, { op, product: id, event, on, at }, false);
  }
  if (!isId(id, 'set') || setById(app, id).of !== 'group')
    throw new Problem('conflict', 'Only groups can be paused');
  return put(app, actor, { op, group: id, on, at }, false);
}

export function dropChange(app: App, actor: Actor, id: string): DraftOut | null {
  const draft = openDraft(app, actor);
  if (!draft) return null;
  const left = write(
    app,
    actor,
    draft,
    draft.changes.filter((c) => c.id !== id),
  );
  return left ? draftShown(app, left) : null;
}

export function current(app: App, actor: Actor, version: number): DraftRecord {
  const draft = openDraft(app, actor);
  if (!draft) throw new Problem('not-found', 'You have no open draft');
  if (draft.version !== version)
    throw new Problem('stale', 'The draft was changed in another window; look again and repeat', {
      current: draftShown(app, draft),
    });
  return draft;
}

export function dateDraft(app: App, actor: Actor, from: string | null, version: number): DraftOut {
  const draft = current(app, actor, version);
  app.db
    .update(drafts)
    .set({ from: from === null ? null : readWall(app, from, 'from', 'Start'), version: draft.version + 1 })
    .where(eq(drafts.id, draft.id))
    .run();
  return draftShown(app, openDraft(app, actor)!);
}

export function discardDraft(app: App, actor: Actor, version: number): null {
  const draft = current(app, actor, version);
  app.db
    .update(drafts)
    .set({ state: 'discarded', version: draft.version + 1 })
    .where(eq(drafts.id, draft.id))
    .run();
  return null;
}

export function switchLock(
  app: App,
  actor: Actor,
  product: Id<'product'>,
  { event, on, at }: { event: 'sale' | 'renewal'; on: boolean; at: number },
): void {
  const open = app.db
    .select()
    .from(locks)
    .where(and(eq(locks.product, product), eq(locks.event, event)))
    .all()
    .filter((l) => !isOver(l, at));
  if (on && !open.some((l) => l.from <= at))
    app.db
      .insert(locks)
      .values({ id: newId('lock'), product, event, from: at, until: null, by: actor.id })
      .run();
  if (!on)
    for (const l of open)
      app.db
        .update(locks)
        .set({ until: Math.max(at, l.from) })
        .where(eq(locks.id, l.id))
        .run();
  touch(app, 'terms');
}

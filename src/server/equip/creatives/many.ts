import { eq } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type { changeMany as Change, undoMany as Undo } from '../../../contract/equip/planned';
import type { CreativeFields } from '../../../core/material/creative';
import type { Id } from '../../../core/text/id';
import type { Actor, App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { creativeActs } from '../../ground/tables/creatives';
import { difference, record } from '../../registers/access/audit';
import { checkFollows } from '../planned/plan';
import { checked } from './check';
import { changeCreative, creativeById, creativeMaybe, fieldsOf, putAway, type CreativeRecord } from './store';
import { creativeFound } from './subject';

type Changes = BodyOf<typeof Change>['changes'];
type Before = (typeof creativeActs.$inferSelect)['before'][number];

const wordsOf = (changes: Changes) => Object.keys(changes).join(', ');

/** Switching off and putting away are always possible: whatever is wrong with it is one reason more. */
const isOnlyLess = ({ active, ...others }: Omit<Changes, 'removed'>): boolean =>
  active !== true && Object.values(others).every((value) => value === undefined);

/** Changes one of many. @returns what it was; null where it was so already @throws Problem where it cannot be */
function changeOne(app: App, row: CreativeRecord, { removed, ...changes }: Changes): Before | null {
  const before = fieldsOf(row);
  const wished = { ...before, ...changes };
  const fields = isOnlyLess(changes) ? wished : checked(app, row.kind, wished);
  checkFollows(app, row.id, creativeFound(app, row), fields);
  const { before: was, after } = difference(before, fields);
  const isAway = row.removedAt !== null;
  const moves = removed !== undefined && removed !== isAway;
  if (Object.keys(after).length === 0 && !moves) return null;
  if (Object.keys(after).length > 0) changeCreative(app, row, fields);
  if (moves) putAway(app, creativeById(app, row.id), removed ? app.clock.now() : null);
  const { version } = creativeById(app, row.id);
  return { id: row.id, version, fields: was, ...(moves ? { removed: isAway } : {}) };
}

/** Changes the same of many creatives; what cannot be is named, the others are changed. */
export function changeMany(
  app: App,
  actor: Actor,
  { ids, changes }: BodyOf<typeof Change>,
): ReplyOf<typeof Change> {
  if (Object.keys(changes).length === 0)
    throw new Problem(
      'conflict',
      'Nothing is to be changed: name the switch, the audience, dates or a subject',
    );
  const act = newId('bulk');
  const done: Before[] = [];
  const refused: ReplyOf<typeof Change>['refused'] = [];
  let same = 0;
  for (const id of new Set(ids)) {
    const row = creativeById(app, id);
    try {
      const before = changeOne(app, row, changes);
      if (!before) same += 1;
      else {
        done.push(before);
        record(app, actor, 'creative-changed', { subject: id, before: before.fields, after: { ...changes } });
      }
    } catch (thrown) {
      if (!(thrown instanceof Problem)) throw thrown;
      refused.push({ id, name: row.name, why: thrown.message });
    }
  }
  app.db
    .insert(creativeActs)
    .values({ id: act, at: app.clock.now(), by: actor.id, what: wordsOf(changes), before: done })
    .run();
  return { act, changed: done.length, same, refused };
}

/** Brings one back to what it was; not where somebody changed it since. */
function undoOne(app: App, actor: Actor, { id, version, fields, removed }: Before): boolean {
  const row = creativeMaybe(app, id);
  if (row?.version !== version) return false;
  const now = fieldsOf(row);
  if (Object.keys(fields).length > 0) changeCreative(app, row, { ...now, ...fields });
  if (removed !== undefined) putAway(app, creativeById(app, id), removed ? app.clock.now() : null);
  record(app, actor, 'creative-changed', { subject: id, ...difference<CreativeFields>(now, fields) });
  return true;
}

/** Takes an act on many back. Twice does nothing more. */
export function undoMany(app: App, actor: Actor, id: string): ReplyOf<typeof Undo> {
  const act = app.db.select().from(creativeActs).where(eq(creativeActs.id, id)).get();
  if (!act) throw new Problem('not-found', 'There is no such act');
  if (act.undoneAt !== null) throw new Problem('conflict', 'This was taken back already');
  const kept: Id<'creative'>[] = act.before.filter((one) => !undoOne(app, actor, one)).map((one) => one.id);
  app.db.update(creativeActs).set({ undoneAt: app.clock.now() }).where(eq(creativeActs.id, id)).run();
  return {
    undone: act.before.length - kept.length,
    kept: kept.map((one) => creativeMaybe(app, one)?.name ?? ''),
    at: act.at,
  };
}

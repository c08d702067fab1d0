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
import { subjectsInUse } from './list';
import { changeCreative, creativeById, creativeMaybe, fieldsOf, putAway, type CreativeRecord } from './store';
import { creativeFound } from './subject';

type Changes = BodyOf<typeof Change>['changes'];
type Before = (typeof creativeActs.$inferSelect)['before'][number];

const wordsOf = (changes: Changes) => Object.keys(changes).join(', ');

/** Switching off and putting away are always possible: whatever is wrong with it is one reason more. */
const isOnlyLess = ({ active, ...others }: Omit<Changes, 'removed'>): boolean =>
  active !== true && Object.values(others).every((value) => value === undefined);

interface Judged {
  row: CreativeRecord;
  /** what it would be */
  fields: CreativeFields;
  /** why it cannot be; null where it can */
  why: string | null;
}

/** What one of many would be, and whether it can be so. */
function judge(
  app: App,
  id: Id<'creative'>,
  { removed: _, ...changes }: Changes,
  subjects: readonly string[],
): Judged {
  const row = creativeById(app, id);
  const wished = { ...fieldsOf(row), ...changes };
  try {
    const fields = isOnlyLess(changes) ? wished : checked(app, row.kind, wished, subjects);
    if (fields.from !== row.from || fields.until !== row.until)
      checkFollows(app, id, creativeFound(app, row), fields);
    return { row, fields, why: null };
  } catch (thrown) {
    if (!(thrown instanceof Problem)) throw thrown;
    return { row, fields: wished, why: thrown.message };
  }
}

/** Changes one of many. @returns what it was; null where it was so already */
function changeOne(app: App, { row, fields }: Judged, removed: boolean | undefined): Before | null {
  const { before, after } = difference(fieldsOf(row), fields);
  const isAway = row.removedAt !== null;
  const moves = removed !== undefined && removed !== isAway;
  if (Object.keys(after).length === 0 && !moves) return null;
  if (Object.keys(after).length > 0) changeCreative(app, row, fields);
  if (moves) putAway(app, creativeById(app, row.id), removed ? app.clock.now() : null);
  const { version } = creativeById(app, row.id);
  return { id: row.id, version, fields: before, ...(moves ? { removed: isAway } : {}) };
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
  const subjects = subjectsInUse(app);
  // all are judged before one is changed: each change has what is kept in memory read anew
  const judged = [...new Set(ids)].map((id) => judge(app, id, changes, subjects));
  const able = judged.filter(({ why }) => why === null);
  const done = able.flatMap((one) => changeOne(app, one, changes.removed) ?? []);
  for (const { id, fields } of done)
    record(app, actor, 'creative-changed', { subject: id, before: fields, after: { ...changes } });
  const act = newId('bulk');
  app.db
    .insert(creativeActs)
    .values({ id: act, at: app.clock.now(), by: actor.id, what: wordsOf(changes), before: done })
    .run();
  return {
    act,
    changed: done.length,
    same: able.length - done.length,
    refused: judged.flatMap(({ row, why }) => (why === null ? [] : { id: row.id, name: row.name, why })),
  };
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

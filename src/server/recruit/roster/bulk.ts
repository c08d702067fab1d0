import { eq, inArray } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  doBulk as Do,
  previewBulk as Preview,
  setSorting as Sorting,
  undoBulk as Undo,
} from '../../../contract/recruit/roster';
import { partnerKindList } from '../../../core/recruiting/kinds';
import type { RosterFilter } from '../../../core/recruiting/roster';
import { termsAt } from '../../../core/terms/members';
import { isId, type Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { staff } from '../../ground/tables/access';
import { affiliates } from '../../ground/tables/people';
import { bulkActs } from '../../ground/tables/roster';
import { difference, record } from '../../registers/access/audit';
import { stale } from '../../registers/access/stale';
import { affiliateById } from '../../registers/people/record';
import { changeAffiliate, changeAffiliates } from '../../registers/people/write';
import {
  addMembers,
  dropMembers,
  previewDrop,
  previewMembers,
  takeBackComing,
} from '../../setup/terms/members';
import { setsInUse, theTerms } from '../../setup/terms/store';
import { idsOf } from './roster';
import { moveAffiliate } from './service';

type Input = BodyOf<typeof Do>;
type Later = ReplyOf<typeof Do>['later'];
type Affiliate = typeof affiliates.$inferSelect;
const most = 10_000;

/** Whom an act is for: those named, or all who fit a filter. @throws Problem `invalid` where nobody is named, or more than can be done at once */
export function whom(app: App, input: { ids?: Id<'affiliate'>[]; filter?: RosterFilter }): Affiliate[] {
  if (!input.ids && !input.filter) throw refuse('ids', 'Affiliates: nobody is named', 'the chosen rows');
  const ids = input.ids ? [...new Set(input.ids)] : idsOf(app, input.filter!, most + 1);
  if (ids.length > most)
    throw refuse(
      'filter',
      `Affiliates: at most ${most.toLocaleString('en-GB')} at once; narrow the filter`,
      'one group',
    );
  const rows: Affiliate[] = [];
  for (let i = 0; i < ids.length; i += 500)
    rows.push(
      ...app.db
        .select()
        .from(affiliates)
        .where(inArray(affiliates.id, ids.slice(i, i + 500)))
        .all(),
    );
  return rows.sort((a, b) => (a.name < b.name ? -1 : 1));
}

/** @throws Problem `invalid` at the field, for a kind that is not in the list; none is fine */
function checkKind(kind: string | null | undefined, field: string): void {
  if (kind && !(partnerKindList as string[]).includes(kind))
    throw refuse(field, `Kind: “${kind}” is not known`, partnerKindList[0]);
}

/** @throws Problem `invalid` at the field, for somebody who is not of the staff; nobody is fine */
function checkStaff(app: App, id: string | null | undefined, field: string): void {
  if (id && !(isId(id, 'staff') && app.db.select({ id: staff.id }).from(staff).where(eq(staff.id, id)).get()))
    throw refuse(field, 'Looked after by: this person is not of the staff');
}

interface Plan {
  act: { a: Affiliate; before: string | null }[];
  /** ids of those of whom it is so already */ same: string[];
  passed: { name: string; why: string }[];
}

/** Which kind of set an act puts people into, or takes them out of. */
const setOf = { group: 'group', card: 'card', 'tag-on': 'tag', 'tag-off': 'tag' } as const;
type OfSets = keyof typeof setOf;
const setIn = (to: string | null): Id<'set'> | null => (to !== null && isId(to, 'set') ? to : null);
const isOfSets = (what: Input['what']): what is OfSets => what in setOf;

/** @throws Problem `invalid` where what the act names does not exist */
function checkTarget(app: App, what: Input['what'], to: string | null): void {
  if (what === 'kind') checkKind(to, 'to');
  if (what === 'looked-after') checkStaff(app, to, 'to');
  if (!isOfSets(what) || (what === 'group' && to === null)) return;
  const sets = setsInUse(app);
  if (sets.find((s) => s.id === to)?.of !== setOf[what])
    throw refuse(
      'to',
      `This ${setOf[what]} does not exist any more`,
      sets.find((s) => s.of === setOf[what])?.name,
    );
}

/** What an act would find of an affiliate: null where its tag is not as the act wants it. */
function valueNow(
  what: Input['what'],
  a: Affiliate,
  to: Id<'set'> | null,
  terms: ReturnType<typeof termsAt>,
) {
  const isTagged = to !== null && terms.tags.includes(to);
  const values: Record<Input['what'], () => string | null> = {
    group: () => terms.group?.id ?? null,
    card: () => terms.card,
    'tag-on': () => (isTagged ? to : null),
    'tag-off': () => (to !== null && !isTagged ? to : null),
    pause: () => (a.state === 'paused' ? 'paused' : null),
    resume: () => (a.state === 'active' ? 'active' : null),
    'looked-after': () => a.lookedAfter,
    kind: () => a.kind,
  };
  return values[what]();
}

function valueWanted(what: Input['what'], to: string | null): string | null {
  if (what === 'pause') return 'paused';
  if (what === 'resume') return 'active';
  return what === 'kind' ? (to ?? '') : to;
}

/** From which state an act leads on. */
const leadsFrom: Partial<Record<Input['what'], Affiliate['state']>> = { pause: 'active', resume: 'paused' };

/** What an act would do to each: done, the same already, or passed over with the reason. */
function plan(app: App, { what, to, ...who }: Input): Plan {
  checkTarget(app, what, to);
  const result: Plan = { act: [], same: [], passed: [] };
  const { roll } = theTerms(app);
  const now = app.clock.now();
  const from = leadsFrom[what];
  const wanted = valueWanted(what, to);
  for (const a of whom(app, who)) {
    const value = valueNow(what, a, setIn(to), termsAt(roll, a.id, now));
    if (value === wanted) result.same.push(a.id);
    else if (from && a.state !== from) result.passed.push({ name: a.name, why: `is ${a.state}` });
    else result.act.push({ a, before: from ? a.state : value });
  }
  return result;
}

export function previewBulk(app: App, input: Input): ReplyOf<typeof Preview> {
  const { act, same, passed } = plan(app, input);
  // terms before and after for the first of them, where the act changes any, and whom a promised notice keeps where they are for now
  const set = setIn(input.to);
  const moved =
    (input.what === 'group' || input.what === 'card' || input.what === 'tag-on') && set && act.length
      ? previewMembers(app, set, act.map((x) => x.a.id).join('\n'))
      : null;
  return {
    count: act.length,
    same: same.length,
    passed: passed.slice(0, 50),
    sample: moved?.sample ?? [],
    later:
      moved?.later ??
      previewLeaving(
        app,
        input,
        act.map((x) => x.a.id),
      ),
  };
}

function previewLeaving(app: App, { what, to }: Input, ids: Id<'affiliate'>[]): Later {
  const set = setIn(to);
  if (what === 'tag-off' && set) return previewDrop(app, [set], ids);
  if (what !== 'group' || to !== null) return null;
  const { roll } = theTerms(app);
  const groups = new Set(ids.flatMap((id) => termsAt(roll, id, app.clock.now()).group?.id ?? []));
  return previewDrop(app, [...groups], ids);
}

function add(a: Later, b: Later): Later {
  return a && b ? { ...a, count: a.count + b.count } : (a ?? b);
}

interface Act {
  what: Input['what'];
  to: string | null;
  ids: Id<'affiliate'>[];
}

/** Takes people out of the groups they are in. @returns whom a promised notice keeps where they are for now */
function leaveGroups(app: App, actor: Actor, ids: Id<'affiliate'>[]): Later {
  const { roll } = theTerms(app);
  const byGroup = new Map<Id<'set'>, Id<'affiliate'>[]>();
  for (const id of ids) {
    const at = termsAt(roll, id, app.clock.now()).group?.id;
    if (at) byGroup.set(at, [...(byGroup.get(at) ?? []), id]);
  }
  let later: Later = null;
  for (const [group, members] of byGroup) later = add(later, dropMembers(app, actor, group, members).later);
  return later;
}

function carryOutOfSets(app: App, actor: Actor, what: OfSets, { to, ids }: Act): Later {
  const set = setIn(to);
  if (what === 'tag-off') return dropMembers(app, actor, set!, ids).later;
  if (what === 'group' && to === null) return leaveGroups(app, actor, ids);
  return addMembers(app, actor, set!, { text: ids.join('\n'), others: 'move' }).later;
}

function moveAll(app: App, actor: Actor, ids: Id<'affiliate'>[], to: 'paused' | 'active'): void {
  for (const id of ids) {
    const { version } = affiliateById(app, id);
    moveAffiliate(app, actor, id, { to, reason: 'many at once', version });
  }
}

/** @returns whom a promised notice keeps where they are for now */
function carryOut(app: App, actor: Actor, act: Act): Later {
  const { what, to, ids } = act;
  if (!ids.length) return null;
  if (isOfSets(what)) return carryOutOfSets(app, actor, what, act);
  if (what === 'pause' || what === 'resume') {
    moveAll(app, actor, ids, what === 'pause' ? 'paused' : 'active');
    return null;
  }
  const fields =
    what === 'kind' ? { kind: to ?? '' } : { lookedAfter: to !== null && isId(to, 'staff') ? to : null };
  changeAffiliates(app, ids, fields);
  // at each of them as well: a form that is open there says who changed it
  for (const id of ids) record(app, actor, 'affiliate-sorted', { subject: id, before: null, after: fields });
  return null;
}

export function doBulk(app: App, actor: Actor, input: Input): ReplyOf<typeof Do> {
  const { act, passed } = plan(app, input);
  if (!act.length) return { id: null, done: 0, passed: passed.length, later: null };
  const later = carryOut(app, actor, { what: input.what, to: input.to, ids: act.map((x) => x.a.id) });
  const id = newId('bulk');
  app.db
    .insert(bulkActs)
    .values({
      id,
      at: app.clock.now(),
      by: actor.id,
      what: input.what,
      to: input.to,
      before: act.map((x): [Id<'affiliate'>, string | null] => [x.a.id, x.before]),
    })
    .run();
  record(app, actor, 'many-changed', {
    subject: id,
    before: null,
    after: { what: input.what, to: input.to, count: act.length },
  });
  touch(app, 'records');
  return { id, done: act.length, passed: passed.length, later };
}

/** The act that takes another back, for those who were at one place before; null where there is none. */
function opposite(what: Input['what'], to: string | null, before: string | null): Omit<Act, 'ids'> | null {
  switch (what) {
    case 'tag-on':
      return { what: 'tag-off', to };
    case 'tag-off':
      return { what: 'tag-on', to };
    case 'pause':
      return { what: 'resume', to: null };
    case 'resume':
      return { what: 'pause', to: null };
    case 'card':
      return before === null ? null : { what, to: before };
    default:
      return { what, to: before };
  }
}

/**
 * Takes an act back for all of whom it still holds; who was changed again since is left as it is.
 * @returns how many it is taken back for; `later` are those of them who keep what the act gave until a promised notice is over
 */
export function undoBulk(app: App, actor: Actor, id: Id<'bulk'>): ReplyOf<typeof Undo> {
  const row = app.db.select().from(bulkActs).where(eq(bulkActs.id, id)).get();
  if (!row) throw new Problem('not-found', 'This act does not exist');
  if (row.undoneAt !== null) throw new Problem('conflict', 'This was taken back already');
  const what = row.what as Input['what'];
  // what still stands as the act left it: for those it would be so already. Who was blocked since, say, is not brought back by it
  const standing = new Set(plan(app, { what, to: row.to, ids: row.before.map(([a]) => a) }).same);
  const still = row.before.filter(([a]) => standing.has(a));
  // what waits for its notice has not happened yet: it never will
  const waited = isOfSets(what)
    ? row.before.filter(([a]) => !standing.has(a) && takeBackComing(app, a, setOf[what], row.to)).length
    : 0;
  if (waited) touch(app, 'terms');
  const back = new Map<string | null, Id<'affiliate'>[]>();
  for (const [affiliate, before] of still) back.set(before, [...(back.get(before) ?? []), affiliate]);
  let later: Later = null;
  for (const [before, ids] of back) {
    const act = opposite(what, row.to, before);
    if (act) later = add(later, carryOut(app, actor, { ...act, ids }));
  }
  app.db.update(bulkActs).set({ undoneAt: app.clock.now() }).where(eq(bulkActs.id, id)).run();
  const done = still.length + waited;
  record(app, actor, 'many-taken-back', { subject: id, before: null, after: { what, count: done } });
  touch(app, 'records');
  return { done, passed: row.before.length - done, later };
}

/** Kind of partner and who looks after it, of one affiliate. */
export function setSorting(
  app: App,
  actor: Actor,
  id: Id<'affiliate'>,
  { version, ...input }: BodyOf<typeof Sorting>,
) {
  const row = affiliateById(app, id);
  if (row.version !== version)
    throw stale(app, id, row.name, { kind: row.kind, lookedAfter: row.lookedAfter, version: row.version });
  checkKind(input.kind, 'kind');
  checkStaff(app, input.lookedAfter, 'lookedAfter');
  const change = difference(row, input);
  changeAffiliate(app, id, { ...input });
  if (Object.keys(change.after).length)
    record(app, actor, 'affiliate-sorted', { subject: id, before: change.before, after: change.after });
  return { version: row.version + 1 };
}

import { eq, inArray } from 'drizzle-orm';
import type { BodyOf, ReplyOf } from '../../../contract/endpoint';
import type {
  doBulk as Do,
  previewBulk as Preview,
  setSorting as Sorting,
} from '../../../contract/recruit/roster';
import { partnerKindList } from '../../../core/recruiting/kinds';
import type { RosterFilter } from '../../../core/recruiting/roster';
import { termsAt } from '../../../core/terms/members';
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
export function whom(app: App, input: { ids?: string[]; filter?: RosterFilter }): Affiliate[] {
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
  if (id && !app.db.select({ id: staff.id }).from(staff).where(eq(staff.id, id)).get())
    throw refuse(field, 'Looked after by: this person is not of the staff');
}

interface Plan {
  act: { a: Affiliate; before: string | null }[];
  /** ids of those of whom it is so already */ same: string[];
  passed: { name: string; why: string }[];
}

/** What an act would do to each: done, the same already, or passed over with the reason. */
function plan(app: App, { what, to, ...who }: Input): Plan {
  const sets = new Map(setsInUse(app).map((s) => [s.id, s]));
  const set = to === null ? undefined : sets.get(to);
  const wantsSet = { group: 'group', card: 'card', 'tag-on': 'tag', 'tag-off': 'tag' } as const;
  if (what in wantsSet) {
    const of = wantsSet[what as keyof typeof wantsSet];
    if (!(what === 'group' && to === null) && set?.of !== of)
      throw refuse(
        'to',
        `This ${of} does not exist any more`,
        [...sets.values()].find((s) => s.of === of)?.name,
      );
  }
  if (what === 'kind') checkKind(to, 'to');
  if (what === 'looked-after') checkStaff(app, to, 'to');
  const result: Plan = { act: [], same: [], passed: [] };
  const { roll } = theTerms(app);
  const now = app.clock.now();
  for (const a of whom(app, who)) {
    const pass = (why: string) => {
      result.passed.push({ name: a.name, why });
    };
    const terms = termsAt(roll, a.id, now);
    const value = {
      group: terms.group?.id ?? null,
      card: terms.card,
      'tag-on': set && terms.tags.includes(set.id) ? to : null,
      'tag-off': set && !terms.tags.includes(set.id) ? to : null,
      pause: a.state === 'paused' ? 'paused' : null,
      resume: a.state === 'active' ? 'active' : null,
      'looked-after': a.lookedAfter,
      kind: a.kind,
    }[what];
    const wanted =
      what === 'pause' ? 'paused' : what === 'resume' ? 'active' : what === 'kind' ? (to ?? '') : to;
    if (value === wanted) {
      result.same.push(a.id);
      continue;
    }
    if (what === 'pause' && a.state !== 'active') {
      pass(`is ${a.state}`);
      continue;
    }
    if (what === 'resume' && a.state !== 'paused') {
      pass(`is ${a.state}`);
      continue;
    }
    result.act.push({ a, before: what === 'pause' || what === 'resume' ? a.state : (value ?? null) });
  }
  return result;
}

export function previewBulk(app: App, input: Input): ReplyOf<typeof Preview> {
  const { act, same, passed } = plan(app, input);
  // terms before and after for the first of them, where the act changes any, and whom a promised notice keeps where they are for now
  const moved =
    (input.what === 'group' || input.what === 'card' || input.what === 'tag-on') && input.to && act.length
      ? previewMembers(app, input.to, act.map((x) => x.a.id).join('\n'))
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

function previewLeaving(app: App, { what, to }: Input, ids: string[]): Later {
  if (what === 'tag-off' && to) return previewDrop(app, [to], ids);
  if (what !== 'group' || to !== null) return null;
  const { roll } = theTerms(app);
  const groups = new Set(ids.flatMap((id) => termsAt(roll, id, app.clock.now()).group?.id ?? []));
  return previewDrop(app, [...groups], ids);
}

function add(a: Later, b: Later): Later {
  return a && b ? { ...a, count: a.count + b.count } : (a ?? b);
}

/** @returns whom a promised notice keeps where they are for now */
function carryOut(
  app: App,
  actor: Actor,
  { what, to, ids }: { what: Input['what']; to: string | null; ids: string[] },
): Later {
  let later: Later = null;
  if (!ids.length) return later;
  if (what === 'card' || what === 'tag-on' || (what === 'group' && to !== null))
    later = addMembers(app, actor, to!, { text: ids.join('\n'), others: 'move' }).later;
  else if (what === 'tag-off') later = dropMembers(app, actor, to!, ids).later;
  else if (what === 'group') {
    const { roll } = theTerms(app);
    const byGroup = new Map<string, string[]>();
    for (const id of ids) {
      const at = termsAt(roll, id, app.clock.now()).group?.id;
      if (at) byGroup.set(at, [...(byGroup.get(at) ?? []), id]);
    }
    for (const [group, members] of byGroup) later = add(later, dropMembers(app, actor, group, members).later);
  } else if (what === 'pause' || what === 'resume') {
    for (const id of ids) {
      const row = affiliateById(app, id);
      moveAffiliate(app, actor, id, {
        to: what === 'pause' ? 'paused' : 'active',
        reason: 'many at once',
        version: row.version,
      });
    }
  } else {
    const fields = what === 'kind' ? { kind: to ?? '' } : { lookedAfter: to };
    changeAffiliates(app, ids, fields);
    // at each of them as well: a form that is open there says who changed it
    for (const id of ids)
      record(app, actor, 'affiliate-sorted', { subject: id, before: null, after: fields });
  }
  return later;
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
      before: act.map((x): [string, string | null] => [x.a.id, x.before]),
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

/** Takes an act back for all of whom it still holds; who was changed again since is left as it is. */
export function undoBulk(app: App, actor: Actor, id: string) {
  const row = app.db.select().from(bulkActs).where(eq(bulkActs.id, id)).get();
  if (!row) throw new Problem('not-found', 'This act does not exist');
  if (row.undoneAt !== null) throw new Problem('conflict', 'This was taken back already');
  const what = row.what as Input['what'];
  // what still stands as the act left it: for those it would be so already. Who was blocked since, say, is not brought back by it
  const standing = new Set(plan(app, { what, to: row.to, ids: row.before.map(([a]) => a) }).same);
  const still = row.before.filter(([a]) => standing.has(a));
  // what waits for its notice has not happened yet: it never will
  const sort = { group: 'group', card: 'card', 'tag-on': 'tag', 'tag-off': 'tag' } as const;
  const waited =
    what in sort
      ? row.before.filter(
          ([a]) => !standing.has(a) && takeBackComing(app, a, sort[what as keyof typeof sort], row.to),
        ).length
      : 0;
  if (waited) touch(app, 'terms');
  const back = new Map<string | null, string[]>();
  for (const [affiliate, before] of still) back.set(before, [...(back.get(before) ?? []), affiliate]);
  for (const [before, ids] of back) {
    if (what === 'tag-on') carryOut(app, actor, { what: 'tag-off', to: row.to, ids });
    else if (what === 'tag-off') carryOut(app, actor, { what: 'tag-on', to: row.to, ids });
    else if (what === 'pause') carryOut(app, actor, { what: 'resume', to: null, ids });
    else if (what === 'resume') carryOut(app, actor, { what: 'pause', to: null, ids });
    else if (what === 'card' && before === null) continue;
    else carryOut(app, actor, { what, to: before, ids });
  }
  app.db.update(bulkActs).set({ undoneAt: app.clock.now() }).where(eq(bulkActs.id, id)).run();
  record(app, actor, 'many-taken-back', {
    subject: id,
    before: null,
    after: { what, count: still.length + waited },
  });
  touch(app, 'records');
  return { done: still.length + waited, passed: row.before.length - still.length - waited };
}

/** Kind of partner and who looks after it, of one affiliate. */
export function setSorting(
  app: App,
  actor: Actor,
  id: string,
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

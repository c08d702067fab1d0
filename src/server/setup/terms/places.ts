import { formatDay } from '../../../core/calendar/format';
import { inForce } from '../../../core/calendar/span';
import { type TermsData } from '../../../core/terms/draft';
import { termsAt } from '../../../core/terms/members';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { Problem, refuse } from '../../ground/http/problem';
import { record } from '../../registers/access/audit';
import { theProgramme } from '../../registers/programme/record';
import { changesFor } from './compare';
import { isComing } from './member-list';
import {
  leave,
  noticeFor,
  placed,
  putInto,
  stopComing,
  waitingMoves,
  withdrawMoves,
  type Withdrawn,
} from './members';
import { setsInUse, theTerms, type SetRecord } from './store';

export interface Places {
  card?: Id<'set'>;
  group?: Id<'set'> | null;
  tags?: Id<'set'>[];
  /** what staff set and what waits for its notice never happens */ coming?: 'stop';
}

export function readPlaces(app: App, affiliate: Id<'affiliate'>) {
  const { card, group, tags } = termsAt(theTerms(app).roll, affiliate, app.clock.now());
  return { card, group: group?.id ?? null, tags: [...tags] };
}

function checkPlaces(app: App, places: Places): void {
  const known = new Map(setsInUse(app).map((s) => [s.id, s.of]));
  if (places.card !== undefined && known.get(places.card) !== 'card')
    throw refuse('card', 'Card: this rate card does not exist any more', 'Standard');
  if (places.group && known.get(places.group) !== 'group')
    throw refuse('group', 'Group: this group does not exist any more', 'none');
  if (places.tags?.some((t) => known.get(t) !== 'tag'))
    throw refuse('tags', 'Tags: one of them does not exist any more', 'none');
}

function withPlaces(app: App, affiliate: Id<'affiliate'>, places: Places): TermsData {
  const now = app.clock.now();
  let data = theTerms(app).data;
  if (places.card !== undefined)
    data = placed(data, { of: 'card', id: places.card }, new Set([affiliate]), now);
  if (places.group !== undefined) {
    data = places.group
      ? placed(data, { of: 'group', id: places.group }, new Set([affiliate]), now)
      : {
          ...data,
          members: data.members.map((m) =>
            m.affiliate === affiliate && m.of === 'group' && inForce(m, now) ? { ...m, until: now } : m,
          ),
        };
  }
  if (places.tags !== undefined) {
    const rest = data.members.map((m) =>
      m.affiliate === affiliate && m.of === 'tag' && inForce(m, now) ? { ...m, until: now } : m,
    );
    data = {
      ...data,
      members: [
        ...rest,
        ...places.tags.map((id) => ({ affiliate, of: 'tag' as const, id, from: now, until: null })),
      ],
    };
  }
  return data;
}

type Waiting = Withdrawn & { says: string };

/** Moves with what they are in words: "moves to Trade on 26 Mar 2027". */
function movesInWords(app: App, moves: readonly (Withdrawn & { tag?: Id<'set'> })[]): Waiting[] {
  const { zone } = theProgramme(app);
  const names = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  return moves.map(({ tag, ...move }) => {
    const { of, to, from } = move;
    const left = tag ? `the tag ${names.get(tag) ?? 'that was removed'}` : `the ${of}`;
    const what = to === null ? `leaves ${left}` : `moves to ${names.get(to) ?? `a removed ${of}`}`;
    return { ...move, says: `${what} on ${formatDay(from, zone)}` };
  });
}

/** Every move of an affiliate that staff set and that waits for its notice. */
export function waitingOf(app: App, affiliate: Id<'affiliate'>): Waiting[] {
  const { tags } = readPlaces(app, affiliate);
  const ofTags = setsInUse(app)
    .filter((s) => s.of === 'tag')
    .flatMap((s) => waitingMoves(app, affiliate, 'tag', s.id).map((m) => ({ ...m, tag: s.id })))
    .filter((m) => m.to !== null || tags.includes(m.tag));
  return movesInWords(app, [
    ...waitingMoves(app, affiliate, 'card'),
    ...waitingMoves(app, affiliate, 'group'),
    ...ofTags,
  ]);
}

/** Which kinds of set, and which tags, a choice names as they are in force now: what waits there is withdrawn by it. */
function chosenAsNow(app: App, affiliate: Id<'affiliate'>, { card, group, tags }: Places) {
  const now = readPlaces(app, affiliate);
  const chosen: { of: SetRecord['of']; tag?: Id<'set'> }[] = [];
  if (card !== undefined && card === now.card) chosen.push({ of: 'card' });
  if (group !== undefined && group === now.group) chosen.push({ of: 'group' });
  if (tags)
    for (const { id } of setsInUse(app).filter((s) => s.of === 'tag'))
      if (tags.includes(id) === now.tags.includes(id)) chosen.push({ of: 'tag', tag: id });
  return chosen;
}

/** An affiliate's terms before and after a change of card, group or tags. Changes nothing. */
export function previewPlaces(app: App, affiliate: Id<'affiliate'>, places: Places) {
  checkPlaces(app, places);
  const [change] = changesFor(app, [affiliate], withPlaces(app, affiliate, places));
  if (!change) throw new Problem('not-found', 'This affiliate does not exist');
  const withdraws = chosenAsNow(app, affiliate, places).flatMap(({ of, tag }) =>
    waitingMoves(app, affiliate, of, tag).map((m) => ({ ...m, ...(tag ? { tag } : {}) })),
  );
  return {
    ...change,
    later: noticeFor(app, withPlaces(app, affiliate, places), [affiliate]).said,
    withdraws: movesInWords(app, withdraws),
  };
}

/** Puts somebody where the form says, and takes it out of what the form leaves out, from a moment on. */
function moveTo(
  app: App,
  actor: Actor,
  affiliate: Id<'affiliate'>,
  { before, places, at }: { before: ReturnType<typeof readPlaces>; places: Places; at: number },
): void {
  const { roll } = theTerms(app);
  const { card, group, tags } = places;
  // asked for once more while it waits for its notice, it goes on waiting for the same day
  const put = (kind: SetRecord['of'], id: Id<'set'>) => {
    if (!isComing(roll, affiliate, { of: kind, id }, app.clock.now()))
      putInto(app, actor, affiliate, { set: { of: kind, id }, from: at });
  };
  if (card !== undefined && card !== before.card) put('card', card);
  if (group !== undefined && group !== before.group) {
    if (group) put('group', group);
    else leave(app, affiliate, 'group', { at });
  }
  if (!tags) return;
  for (const tag of before.tags.filter((t) => !tags.includes(t)))
    leave(app, affiliate, 'tag', { at, set: tag });
  for (const tag of new Set(tags)) if (!before.tags.includes(tag)) put('tag', tag);
}

/** Changes card, group and tags from now on, or, where that would earn the affiliate less, when the promised notice is over. What is left out stays. */
export function setPlaces(app: App, actor: Actor, affiliate: Id<'affiliate'>, places: Places) {
  if (places.coming === 'stop') stopComing(app, affiliate);
  const change = previewPlaces(app, affiliate, places);
  const before = readPlaces(app, affiliate);
  for (const { of, tag } of chosenAsNow(app, affiliate, places)) withdrawMoves(app, affiliate, of, tag);
  const at = change.later?.from ?? app.clock.now();
  moveTo(app, actor, affiliate, { before, places, at });
  touch(app, 'terms');
  record(app, actor, 'places-changed', {
    subject: affiliate,
    before,
    after: {
      ...readPlaces(app, affiliate),
      ...(change.withdraws.length ? { withdrawn: change.withdraws.map((w) => w.says) } : {}),
      ...(change.later ? { from: change.later.from, wanted: places } : {}),
    },
  });
  return change;
}

import { inForce, type Span } from '../calendar/span';
import type { Id } from '../text/id';
import type { SetKind } from './lists';
import { type AffiliateTerms, type Event } from './rate';

/** An affiliate on a card, in a group or under a tag, for a time. */
export interface Membership extends Span {
  affiliate: Id<'affiliate'>;
  of: SetKind;
  id: Id<'set'>;
}

/** A stretch in which a group's rates are skipped. */
export interface Pause extends Span {
  group: Id<'set'>;
}

/** A stretch in which a product keeps its own terms whoever sells it. */
export interface Lock extends Span {
  product: Id<'product'>;
  event: Extract<Event, 'sale' | 'renewal'>;
}

/** The merchant's order of tags from a moment on: the first of two that both have a rate decides. */
export interface TagOrder {
  from: number;
  tags: readonly Id<'set'>[];
}

/** Who belongs where, what is locked and what is paused: everything beside the rates that decides an amount, dated. */
export interface Memberships {
  members: readonly Membership[];
  pauses: readonly Pause[];
  locks: readonly Lock[];
  tagOrders: readonly TagOrder[];
  /** the card of those who are on none */
  defaultCard: Id<'set'> | null;
}

interface Places {
  card: Membership[];
  group: Membership[];
  tag: Membership[];
}

/** Memberships indexed by affiliate, locks by product, pauses by group. */
export interface Roll {
  places: Map<string, Places>;
  pauses: Map<string, Pause[]>;
  locks: Map<string, Lock[]>;
  /** latest first */
  tagOrders: { from: number; rank: Map<string, number> }[];
  defaultCard: Id<'set'> | null;
}

function listed<T>(map: Map<string, T[]>, key: string, value: T): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

export const nobody: Memberships = { members: [], pauses: [], locks: [], tagOrders: [], defaultCard: null };

/** Builds the index. */
export function buildRoll(memberships: Memberships): Roll {
  const places = new Map<string, Places>();
  for (const m of memberships.members) {
    let own = places.get(m.affiliate);
    if (!own) places.set(m.affiliate, (own = { card: [], group: [], tag: [] }));
    own[m.of].push(m);
  }
  const pauses = new Map<string, Pause[]>();
  for (const p of memberships.pauses) listed(pauses, p.group, p);
  const locks = new Map<string, Lock[]>();
  for (const l of memberships.locks) listed(locks, l.product, l);
  const tagOrders = [...memberships.tagOrders]
    .sort((a, b) => b.from - a.from)
    .map(({ from, tags }) => ({ from, rank: new Map(tags.map((t, i) => [t, i])) }));
  return { places, pauses, locks, tagOrders, defaultCard: memberships.defaultCard };
}

/** The latest start wins where memberships of one kind overlap. */
function placeAt(list: readonly Membership[], at: number): Id<'set'> | null {
  let found: Membership | null = null;
  for (const m of list) if (inForce(m, at) && (!found || m.from >= found.from)) found = m;
  return found?.id ?? null;
}

const unranked = Number.MAX_SAFE_INTEGER;

/** Tags in the order in which the merchant ranked them at a moment, each once. */
export function inTagOrder(roll: Roll, tags: readonly Id<'set'>[], at: number): Id<'set'>[] {
  const rank = roll.tagOrders.find((o) => o.from <= at)?.rank;
  // a tag that no order names yet comes after those it names, by its id, so that chance decides nothing
  return [...new Set(tags)].sort(
    (a, b) => (rank?.get(a) ?? unranked) - (rank?.get(b) ?? unranked) || (a < b ? -1 : 1),
  );
}

function tagsAt(roll: Roll, list: readonly Membership[], at: number): Id<'set'>[] {
  const tags: Id<'set'>[] = [];
  for (const m of list) if (inForce(m, at)) tags.push(m.id);
  return tags.length < 2 ? tags : inTagOrder(roll, tags, at);
}

/** Card, group and tags of an affiliate as of a moment. */
export function termsAt(roll: Roll, affiliate: Id<'affiliate'>, at: number): AffiliateTerms {
  const own = roll.places.get(affiliate);
  if (!own) return { affiliate, card: roll.defaultCard, group: null, tags: [] };
  const group = placeAt(own.group, at);
  return {
    affiliate,
    card: placeAt(own.card, at) ?? roll.defaultCard,
    tags: own.tag.length ? tagsAt(roll, own.tag, at) : [],
    group: group === null ? null : { id: group, paused: isPaused(roll, group, at) },
  };
}

/** True while a group's rates are skipped. */
export function isPaused(roll: Roll, group: string, at: number): boolean {
  return roll.pauses.get(group)?.some((p) => inForce(p, at)) ?? false;
}

/** True if a product keeps its own terms for an event at a moment: leads and clicks cannot be locked. */
export function isLocked(roll: Roll, product: string, event: Event, at: number): boolean {
  return roll.locks.get(product)?.some((l) => l.event === event && inForce(l, at)) ?? false;
}

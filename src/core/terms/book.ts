import type { AffiliateTerms, Event, Rate, Rung, Sold, What } from './rate';
import { inForce, rungs, width } from './rate';

/** The rates of one owner (an affiliate, a tag, a card, everyone) for one event, by what they cover. */
interface Shelf {
  step: Map<string, Rate[]>;
  product: Map<string, Rate[]>;
  kind: Map<string, Rate[]>;
  everything: Rate[];
}

interface EventBook {
  personal: Map<string, Shelf>;
  tag: Map<string, Shelf>;
  group: Map<string, Shelf>;
  card: Map<string, Shelf>;
  everyone: Shelf;
}

/** All rates, indexed so that the winner for a line is a handful of map look-ups. */
export interface Book {
  rates: readonly Rate[];
  sale: EventBook;
  renewal: EventBook;
  lead: EventBook;
}

function emptyShelf(): Shelf {
  return { step: new Map(), product: new Map(), kind: new Map(), everything: [] };
}

function emptyEventBook(): EventBook {
  return { personal: new Map(), tag: new Map(), group: new Map(), card: new Map(), everyone: emptyShelf() };
}

function listOn(shelf: Shelf, what: What): Rate[] {
  if (what.type === 'everything') return shelf.everything;
  const [map, key] = what.type === 'step' ? [shelf.step, what.step]
    : what.type === 'product' ? [shelf.product, what.product] : [shelf.kind, what.kind];
  let list = map.get(key);
  if (!list) map.set(key, (list = []));
  return list;
}

function shelfOf(book: EventBook, rate: Rate): Shelf {
  if (rate.rung === 'product' || rate.rung === 'programme') return book.everyone;
  if (rate.who === null) throw new TypeError(`Rate ${rate.id} on rung ${rate.rung} names nobody`);
  const owners = book[rate.rung];
  let shelf = owners.get(rate.who);
  if (!shelf) owners.set(rate.who, (shelf = emptyShelf()));
  return shelf;
}

/** Builds the index. Within a list the later start comes first, which is the last tie-breaker of a rung. */
export function buildBook(rates: readonly Rate[]): Book {
  const book = { rates, sale: emptyEventBook(), renewal: emptyEventBook(), lead: emptyEventBook() };
  for (const rate of [...rates].sort((a, b) => b.from - a.from)) {
    listOn(shelfOf(book[rate.event], rate), rate.what).push(rate);
  }
  return book;
}

function firstInForce(list: readonly Rate[] | undefined, at: number): Rate | null {
  if (list) for (const rate of list) if (inForce(rate, at)) return rate;
  return null;
}

function onShelf(shelf: Shelf | undefined, sold: Sold, at: number): Rate | null {
  if (!shelf) return null;
  return (sold.step ? firstInForce(shelf.step.get(sold.step), at) : null)
    ?? firstInForce(shelf.product.get(sold.product), at)
    ?? firstInForce(shelf.kind.get(sold.kind), at)
    ?? firstInForce(shelf.everything, at);
}

function onTags(shelves: Map<string, Shelf>, tags: readonly string[], sold: Sold, at: number): Rate | null {
  let best: Rate | null = null;
  for (const tag of tags) {
    const rate = onShelf(shelves.get(tag), sold, at);
    // narrower wins; at equal width the earlier tag, which is already held
    if (rate && (!best || width(rate.what) < width(best.what))) best = rate;
  }
  return best;
}

/**
 * The one rate that decides a line: the first rung with a rate in force, within it narrower what,
 * then the order of tags, then the later start.
 * @param at UTC milliseconds of the order
 */
export function winner(book: Book, terms: AffiliateTerms, sold: Sold, event: Event, at: number): Rate | null {
  const rates = book[event];
  if (!sold.locked) {
    if (rates.personal.size > 0) {
      const rate = onShelf(rates.personal.get(terms.affiliate), sold, at);
      if (rate) return rate;
    }
    if (rates.tag.size > 0 && terms.tags.length > 0) {
      const rate = onTags(rates.tag, terms.tags, sold, at);
      if (rate) return rate;
    }
    if (terms.group && !terms.group.paused) {
      const rate = onShelf(rates.group.get(terms.group.id), sold, at);
      if (rate) return rate;
    }
    if (terms.card !== null) {
      const rate = onShelf(rates.card.get(terms.card), sold, at);
      if (rate) return rate;
    }
  }
  return onShelf(rates.everyone, sold, at);
}

/** One rate beside a line, and why it does or does not decide it. */
export interface Considered {
  rate: Rate;
  outcome: 'wins' | 'loses' | 'does-not-apply';
  why: string;
}

/** One rung of a working. */
export interface RungWorking {
  rung: Rung;
  considered: Considered[];
  /** said where the rung as a whole has nothing or is skipped */
  remark: string | null;
}

const nothingOn: Record<Rung, string> = {
  personal: 'no personal rate', tag: 'no rate by tag', group: 'in no group with a rate', card: 'no rate on the card',
  product: 'none for this product', programme: 'no rate for everything',
};

type Judge = (rate: Rate) => Considered;

function judgeList(rates: readonly Rate[] | undefined, rung: Rung, judged: Judge, list: Considered[]): void {
  if (rates) for (let i = 0; i < rates.length; i += 1) if (rates[i]!.rung === rung) list.push(judged(rates[i]!));
}

function judgeShelf(shelf: Shelf | undefined, sold: Sold, rung: Rung, judged: Judge, list: Considered[]): void {
  if (!shelf) return;
  if (sold.step) judgeList(shelf.step.get(sold.step), rung, judged, list);
  if (rung !== 'programme') judgeList(shelf.product.get(sold.product), rung, judged, list);
  if (rung === 'product') return;
  judgeList(shelf.kind.get(sold.kind), rung, judged, list);
  judgeList(shelf.everything, rung, judged, list);
}

// one object a rung for the many workings in which it has nothing
const nothingHere = Object.fromEntries(rungs.map((rung) => [rung, Object.freeze({ rung, considered: Object.freeze([]) as readonly Considered[] as Considered[], remark: nothingOn[rung] })])) as Record<Rung, RungWorking>;

function judge(rate: Rate, terms: AffiliateTerms, sold: Sold, at: number, decided: Rate | null): Considered {
  if (rate === decided) return { rate, outcome: 'wins', why: 'decides' };
  if (at < rate.from) return { rate, outcome: 'does-not-apply', why: 'begins later' };
  if (!inForce(rate, at)) return { rate, outcome: 'does-not-apply', why: 'had ended' };
  if (sold.locked && rate.rung !== 'product' && rate.rung !== 'programme') return { rate, outcome: 'does-not-apply', why: 'the product is locked' };
  if (rate.rung === 'group' && terms.group?.paused) return { rate, outcome: 'does-not-apply', why: 'the group is paused' };
  if (decided && decided.rung !== rate.rung) return { rate, outcome: 'loses', why: 'lower rung' };
  if (decided && width(decided.what) < width(rate.what)) return { rate, outcome: 'loses', why: 'wider' };
  return { rate, outcome: 'loses', why: decided && decided.who !== rate.who ? 'a tag before it decides' : 'an earlier start' };
}

/**
 * Every rate that touches this affiliate and event, rung by rung, narrow before wide, with why it won, lost or does not apply.
 * @param decided what `winner` returned for the same arguments
 */
export function considered(book: Book, terms: AffiliateTerms, sold: Sold, event: Event, at: number, decided: Rate | null): RungWorking[] {
  const shelves = book[event];
  const judged: Judge = (rate) => judge(rate, terms, sold, at, decided);
  const one = (rung: Rung, shelf: Shelf | undefined): RungWorking => {
    if (!shelf) return nothingHere[rung];
    const list: Considered[] = [];
    judgeShelf(shelf, sold, rung, judged, list);
    return list.length ? { rung, considered: list, remark: null } : nothingHere[rung];
  };
  const byTag: Considered[] = [];
  for (const tag of terms.tags) judgeShelf(shelves.tag.get(tag), sold, 'tag', judged, byTag);
  return [
    one('personal', shelves.personal.get(terms.affiliate)), byTag.length ? { rung: 'tag', considered: byTag, remark: null } : nothingHere.tag,
    one('group', terms.group ? shelves.group.get(terms.group.id) : undefined), one('card', terms.card === null ? undefined : shelves.card.get(terms.card)),
    one('product', shelves.everyone), one('programme', shelves.everyone),
  ];
}

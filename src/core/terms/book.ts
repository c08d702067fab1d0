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

function covers(what: What, sold: Sold): boolean {
  switch (what.type) {
    case 'everything': return true;
    case 'kind': return what.kind === sold.kind;
    case 'product': return what.product === sold.product;
    case 'step': return what.step === sold.step;
  }
}

function belongs(rate: Rate, terms: AffiliateTerms): boolean {
  switch (rate.rung) {
    case 'personal': return rate.who === terms.affiliate;
    case 'tag': return rate.who !== null && terms.tags.includes(rate.who);
    case 'group': return terms.group !== null && rate.who === terms.group.id;
    case 'card': return rate.who !== null && rate.who === terms.card;
    default: return true;
  }
}

/**
 * Every rate that touches this affiliate and event, rung by rung, with why it won, lost or does not apply.
 * @param decided what `winner` returned for the same arguments
 */
export function considered(book: Book, terms: AffiliateTerms, sold: Sold, event: Event, at: number, decided: Rate | null): RungWorking[] {
  return rungs.map((rung) => {
    const here = book.rates.filter((r) => r.rung === rung && r.event === event && belongs(r, terms));
    const list = here.filter((r) => covers(r.what, sold)).map((rate): Considered => {
      if (rate === decided) return { rate, outcome: 'wins', why: 'decides' };
      if (at < rate.from) return { rate, outcome: 'does-not-apply', why: 'begins later' };
      if (!inForce(rate, at)) return { rate, outcome: 'does-not-apply', why: 'had ended' };
      if (sold.locked && rungs.indexOf(rung) < 4) return { rate, outcome: 'does-not-apply', why: 'the product is locked' };
      if (rung === 'group' && terms.group?.paused) return { rate, outcome: 'does-not-apply', why: 'the group is paused' };
      if (decided && decided.rung !== rung) return { rate, outcome: 'loses', why: 'lower rung' };
      if (decided && width(decided.what) < width(rate.what)) return { rate, outcome: 'loses', why: 'wider' };
      return { rate, outcome: 'loses', why: decided && decided.who !== rate.who ? 'a tag before it decides' : 'an earlier start' };
    });
    return { rung, considered: list, remark: list.length ? null : nothingOn[rung] };
  });
}

import type { AffiliateTerms, Event, Rate, Sold, Valued, What } from './rate';
import { fitOf, isSpecial, width } from './rate';

/** The rates of one owner (an affiliate, a tag, a card, everyone) for one event, by what they cover. */
export interface Shelf {
  step: Map<string, Rate[]>;
  product: Map<string, Rate[]>;
  kind: Map<string, Rate[]>;
  everything: Rate[];
}

export interface EventBook {
  personal: Map<string, Shelf>;
  tag: Map<string, Shelf>;
  group: Map<string, Shelf>;
  card: Map<string, Shelf>;
  everyone: Shelf;
  /** raises, tried after the ladder */
  uplifts: Rate[];
}

/** All rates, indexed so that the winner for a line is a handful of map look-ups. */
export interface Book {
  rates: readonly Rate[];
  sale: EventBook;
  renewal: EventBook;
  lead: EventBook;
  click: EventBook;
}

/** What is asked of the ladder: the event, as of when, which payment, and the order's value in a rate's scope. */
export interface Question {
  event: Event;
  /** UTC milliseconds */
  at: number;
  /** 1 = the first */
  payment: number;
  /** the lines of the order, for rates with bands */
  rows: readonly Valued[];
}

function emptyShelf(): Shelf {
  return { step: new Map(), product: new Map(), kind: new Map(), everything: [] };
}

function emptyEventBook(): EventBook {
  return { personal: new Map(), tag: new Map(), group: new Map(), card: new Map(), everyone: emptyShelf(), uplifts: [] };
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
  const book: Book = { rates, sale: emptyEventBook(), renewal: emptyEventBook(), lead: emptyEventBook(), click: emptyEventBook() };
  for (const rate of [...rates].sort((a, b) => b.from - a.from || (a.id < b.id ? 1 : -1))) {
    const of = book[rate.event];
    if (rate.mode === 'base') listOn(shelfOf(of, rate), rate.what).push(rate);
    else of.uplifts.push(rate);
  }
  return book;
}

function firstFitting(list: readonly Rate[] | undefined, asked: Question): Rate | null {
  if (list === undefined) return null;
  const { at } = asked;
  for (let i = 0; i < list.length; i += 1) {
    const rate = list[i]!;
    if (rate.from <= at && (rate.until === null || at < rate.until) && (isPlain(rate) || fits(rate, asked))) return rate;
  }
  return null;
}

/** Most rates have neither a range of payments nor bands: for them being in force is all. */
function isPlain(rate: Rate): boolean {
  return rate.payments === null && rate.reward.type !== 'bands';
}

function fits(rate: Rate, asked: Question): boolean {
  const fit = fitOf(rate, asked.at, asked.payment, asked.rows);
  return fit === 'applies' || fit === 'nothing-left';
}

function onShelf(shelf: Shelf | undefined, sold: Sold, asked: Question): Rate | null {
  if (!shelf) return null;
  return (sold.step ? firstFitting(shelf.step.get(sold.step), asked) : null)
    ?? firstFitting(shelf.product.get(sold.product), asked)
    ?? firstFitting(shelf.kind.get(sold.kind), asked)
    ?? firstFitting(shelf.everything, asked);
}

function onTags(shelves: Map<string, Shelf>, tags: readonly string[], sold: Sold, asked: Question): Rate | null {
  let best: Rate | null = null;
  for (const tag of tags) {
    const rate = onShelf(shelves.get(tag), sold, asked);
    // narrower wins; at equal width the earlier tag, which is already held
    if (rate && (!best || width(rate.what) < width(best.what))) best = rate;
  }
  return best;
}

/**
 * The one rate that decides a line: the first rung with a rate that applies, within it narrower what,
 * then the order of tags, then the later start. A renewal rate whose payments are used up and that leaves
 * nothing after them decides too: the line then earns nothing.
 */
export function winner(book: Book, terms: AffiliateTerms, sold: Sold, asked: Question): Rate | null {
  const rates = book[asked.event];
  if (!sold.locked) {
    if (rates.personal.size > 0) {
      const rate = onShelf(rates.personal.get(terms.affiliate), sold, asked);
      if (rate) return rate;
    }
    if (rates.tag.size > 0 && terms.tags.length > 0) {
      const rate = onTags(rates.tag, terms.tags, sold, asked);
      if (rate) return rate;
    }
    if (terms.group && !terms.group.paused) {
      const rate = onShelf(rates.group.get(terms.group.id), sold, asked);
      if (rate) return rate;
    }
    if (terms.card !== null) {
      const rate = onShelf(rates.card.get(terms.card), sold, asked);
      if (rate) return rate;
    }
  }
  return onShelf(rates.everyone, sold, asked);
}

/** True if a rate is for this affiliate as its terms stand: a paused group is for nobody. */
export function isFor(rate: Pick<Rate, 'rung' | 'who'>, terms: AffiliateTerms): boolean {
  if (!isSpecial(rate.rung)) return true;
  switch (rate.rung) {
    case 'personal': return rate.who === terms.affiliate;
    case 'tag': return terms.tags.includes(rate.who!);
    case 'group': return terms.group !== null && !terms.group.paused && rate.who === terms.group.id;
    default: return rate.who === terms.card;
  }
}

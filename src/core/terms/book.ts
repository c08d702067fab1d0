import {
  fitOf,
  isSpecial,
  width,
  type AffiliateTerms,
  type Event,
  type Rate,
  type Sold,
  type Valued,
  type What,
} from './rate';

/** The rates of one owner (an affiliate, a tag, a card, everyone) for one event, by what they cover. */
export interface Shelf {
  step: Map<string, Rate[]>;
  product: Map<string, Rate[]>;
  kind: Map<string, Rate[]>;
  everything: Rate[];
}

/** What the rungs but the personal one have for one product: for each owner all its rates that cover it, narrower first. */
interface Lane {
  kind: string;
  tag: Map<string, Rate[]>;
  group: Map<string, Rate[]>;
  card: Map<string, Rate[]>;
  everyone: Rate[];
}

export interface EventBook {
  /** by product, put together when first asked for */
  lanes: Map<string, Lane>;
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
  return {
    lanes: new Map(),
    personal: new Map(),
    tag: new Map(),
    group: new Map(),
    card: new Map(),
    everyone: emptyShelf(),
    uplifts: [],
  };
}

function listOn(shelf: Shelf, what: What): Rate[] {
  if (what.type === 'everything') return shelf.everything;
  const [map, key] =
    what.type === 'step'
      ? [shelf.step, what.step]
      : what.type === 'product'
        ? [shelf.product, what.product]
        : [shelf.kind, what.kind];
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
  const book: Book = {
    rates,
    sale: emptyEventBook(),
    renewal: emptyEventBook(),
    lead: emptyEventBook(),
    click: emptyEventBook(),
  };
  for (const rate of [...rates].sort((a, b) => b.from - a.from || (a.id < b.id ? 1 : -1))) {
    const shelves = book[rate.event];
    if (rate.mode === 'base') listOn(shelfOf(shelves, rate), rate.what).push(rate);
    else shelves.uplifts.push(rate);
  }
  return book;
}

function firstFitting(list: readonly Rate[] | undefined, asked: Question): Rate | null {
  if (list === undefined) return null;
  const { at } = asked;
  for (let i = 0; i < list.length; i += 1) {
    const rate = list[i]!;
    if (rate.from <= at && (rate.until === null || at < rate.until) && (isPlain(rate) || fits(rate, asked)))
      return rate;
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
  return (
    (sold.step ? firstFitting(shelf.step.get(sold.step), asked) : null) ??
    firstFitting(shelf.product.get(sold.product), asked) ??
    firstFitting(shelf.kind.get(sold.kind), asked) ??
    firstFitting(shelf.everything, asked)
  );
}

/** Which of a shelf's rates cover a product that is sold on no offer page, narrower first. */
function covering(shelf: Shelf, product: string, kind: string): Rate[] {
  return [...(shelf.product.get(product) ?? []), ...(shelf.kind.get(kind) ?? []), ...shelf.everything];
}

function ownersCovering(shelves: Map<string, Shelf>, product: string, kind: string): Map<string, Rate[]> {
  const found = new Map<string, Rate[]>();
  for (const [owner, shelf] of shelves) {
    const list = covering(shelf, product, kind);
    if (list.length) found.set(owner, list);
  }
  return found;
}

/** Persons are too many to be put together by product; cards, groups and tags are few. */
function laneOf(book: EventBook, { product, kind }: Sold): Lane {
  const known = book.lanes.get(product);
  if (known?.kind === kind) return known;
  const lane: Lane = {
    kind,
    tag: ownersCovering(book.tag, product, kind),
    group: ownersCovering(book.group, product, kind),
    card: ownersCovering(book.card, product, kind),
    everyone: covering(book.everyone, product, kind),
  };
  book.lanes.set(product, lane);
  return lane;
}

/** Narrower wins; at equal width the earlier tag, which is already held. */
function narrower(held: Rate | null, next: Rate | null): Rate | null {
  return next !== null && (held === null || width(next.what) < width(held.what)) ? next : held;
}

function onTags(lists: Map<string, Rate[]>, tags: readonly string[], asked: Question): Rate | null {
  let best: Rate | null = null;
  for (let i = 0; i < tags.length; i += 1) best = narrower(best, firstFitting(lists.get(tags[i]!), asked));
  return best;
}

function onTagShelves(
  shelves: Map<string, Shelf>,
  tags: readonly string[],
  sold: Sold,
  asked: Question,
): Rate | null {
  let best: Rate | null = null;
  for (const tag of tags) best = narrower(best, onShelf(shelves.get(tag), sold, asked));
  return best;
}

/**
 * The one rate that decides a line: the first rung with a rate that applies, within it narrower what,
 * then the order of tags, then the later start. A renewal rate whose payments are used up and that leaves
 * nothing after them decides too: the line then earns nothing.
 */
export function winner(book: Book, terms: AffiliateTerms, sold: Sold, asked: Question): Rate | null {
  const rates = book[asked.event];
  if (sold.step) return onShelves(rates, terms, sold, asked);
  const lane = laneOf(rates, sold);
  if (!sold.locked) {
    // asked once a line: nothing is made on the way
    if (rates.personal.size > 0) {
      const own = onShelf(rates.personal.get(terms.affiliate), sold, asked);
      if (own) return own;
    }
    const placed = inLane(lane, terms, asked);
    if (placed) return placed;
  }
  return firstFitting(lane.everyone, asked);
}

/** The rungs of tags, group and card, from the lane of a product. */
function inLane(lane: Lane, terms: AffiliateTerms, asked: Question): Rate | null {
  if (terms.tags.length > 0 && lane.tag.size > 0) {
    const rate = onTags(lane.tag, terms.tags, asked);
    if (rate) return rate;
  }
  if (terms.group && !terms.group.paused && lane.group.size > 0) {
    const rate = firstFitting(lane.group.get(terms.group.id), asked);
    if (rate) return rate;
  }
  return terms.card === null || lane.card.size === 0 ? null : firstFitting(lane.card.get(terms.card), asked);
}

/** The same for what is sold on an offer page, which a rate of its own may cover. */
function onShelves(rates: EventBook, terms: AffiliateTerms, sold: Sold, asked: Question): Rate | null {
  const open = !sold.locked;
  return (
    (open ? onShelf(rates.personal.get(terms.affiliate), sold, asked) : null) ??
    (open ? onTagShelves(rates.tag, terms.tags, sold, asked) : null) ??
    (open && terms.group && !terms.group.paused
      ? onShelf(rates.group.get(terms.group.id), sold, asked)
      : null) ??
    (open && terms.card !== null ? onShelf(rates.card.get(terms.card), sold, asked) : null) ??
    onShelf(rates.everyone, sold, asked)
  );
}

/** Every rate of the ladder that is for an affiliate and covers what is sold, whenever it holds. */
export function ladderFor(rates: EventBook, terms: AffiliateTerms, sold: Sold): Rate[] {
  const group = terms.group && !terms.group.paused ? rates.group.get(terms.group.id) : undefined;
  const own = sold.locked
    ? []
    : [
        rates.personal.get(terms.affiliate),
        ...terms.tags.map((tag) => rates.tag.get(tag)),
        group,
        terms.card === null ? undefined : rates.card.get(terms.card),
      ];
  return [...own, rates.everyone].flatMap((shelf) =>
    shelf
      ? [...(sold.step ? (shelf.step.get(sold.step) ?? []) : []), ...covering(shelf, sold.product, sold.kind)]
      : [],
  );
}

/** True if a rate is for this affiliate as its terms stand: a paused group is for nobody. */
export function isFor(rate: Pick<Rate, 'rung' | 'who'>, terms: AffiliateTerms): boolean {
  if (!isSpecial(rate.rung)) return true;
  switch (rate.rung) {
    case 'personal':
      return rate.who === terms.affiliate;
    case 'tag':
      return terms.tags.some((tag) => tag === rate.who);
    case 'group':
      return terms.group !== null && !terms.group.paused && rate.who === terms.group.id;
    default:
      return rate.who === terms.card;
  }
}

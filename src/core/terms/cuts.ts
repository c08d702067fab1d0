import type { Id } from '../text/id';
import type { Exchange, SampleOrder } from './cut-orders';
import {
  differenceOf,
  namedBy,
  questions,
  standingsIn,
  whenToAsk,
  type Asked,
  type IndexedTerms,
  type Sellable,
} from './cut-questions';
import { isLocked, termsAt } from './members';
import type { AffiliateTerms, Event } from './rate';
import { amountsOf } from './resolve';

/** Something on which somebody would earn less. Amounts in minor units of base, for one order. */
export interface Cut {
  /** from when, UTC milliseconds */
  at: number;
  affiliate: Id<'affiliate'>;
  /** how many are in the same case */
  people: number;
  sellable: Sellable;
  event: Event;
  payment: number;
  /** the order that would earn less: one unit at its price where that does */
  order: SampleOrder;
  before: number;
  after: number;
}

/** What one case earns, minor units of base. */
export function earns(
  terms: IndexedTerms,
  who: AffiliateTerms,
  { sellable, event, payment }: Omit<Asked, 'orders'>,
  { at, base, order }: { at: number; base: string; order: SampleOrder },
): number {
  const { product, kind, step } = sellable;
  const { quantity, amount, currency, rateMicros } = order;
  const line = {
    product,
    kind,
    step,
    name: '',
    quantity,
    amount,
    discount: 0,
    approved: true,
    locked: isLocked(terms.roll, product, event, at),
  };
  return amountsOf(terms.book, who, {
    event,
    at,
    payment,
    currency,
    base,
    rateMicros,
    lines: [line],
  })[0]!;
}

const nameOf = ({ card, group, tags }: AffiliateTerms) =>
  `${card} ${group?.id}${group?.paused ? ' paused' : ''} ${tags.join(' ')}`;

/** Who of many is in the same case at a moment, before and after: those with rates of their own stand for themselves. */
function cases(
  before: IndexedTerms,
  after: IndexedTerms,
  people: Iterable<Id<'affiliate'>>,
  at: number,
): Map<string, Id<'affiliate'>[]> {
  const own = new Set(
    [...before.data.rates, ...after.data.rates].flatMap((r) =>
      r.rung === 'personal' && r.who ? [r.who] : [],
    ),
  );
  const found = new Map<string, Id<'affiliate'>[]>();
  for (const id of people) {
    // who was never put anywhere is in the same case as everybody else who was not: no need to ask
    const isPlain = !own.has(id) && !before.roll.places.has(id) && !after.roll.places.has(id);
    const key = isPlain
      ? ''
      : `${nameOf(termsAt(before.roll, id, at))}|${nameOf(termsAt(after.roll, id, at))}|${own.has(id) ? id : ''}`;
    const list = found.get(key);
    if (list) list.push(id);
    else found.set(key, [id]);
  }
  return found;
}

/**
 * Whether a change of terms lowers what anybody would earn on anything: the one place that every such act asks. The resolver is asked under the terms
 * before and after, for everybody, for each product and step that the change touches, at each order at which what it earns may bend, each event and each payment number at which
 * something changes, at each moment from now on at which something begins or ends while the two differ: a group rate that is taken away lowers
 * whoever joins the group later, then.
 * @param people affiliates whose terms count @param each is told of every case that falls, at each moment at which the two begin or cease to differ,
 * else once; the first cut of a case is enough
 */
function eachCut(
  before: IndexedTerms,
  after: IndexedTerms,
  {
    people,
    sellables,
    now,
    base,
    exchange,
    each,
  }: {
    people: Iterable<Id<'affiliate'>>;
    sellables: readonly Sellable[];
    now: number;
    base: string;
    exchange: Exchange;
    each: (cut: Cut, ids: readonly Id<'affiliate'>[]) => void;
  },
): void {
  const difference = differenceOf(before.data, after.data, now);
  const asked = questions(before.data, after.data, { difference, sellables, base, exchange });
  if (!asked.length) return;
  const all = [...people];
  const standing = standingsIn([before, after], all, difference.span);
  const list = difference.places ? all : namedBy(difference.rates, standing, all);
  const lowered = new Set<Id<'affiliate'>>();
  for (const when of whenToAsk(before, after, difference, { people: list, asked, standing })) {
    // who earns less already need not be told again where the two go on to differ
    const open = when.differs ? when.people : when.people.filter((id) => !lowered.has(id));
    for (const ids of cases(before, after, open, when.at).values()) {
      const cut = firstCut(before, after, { affiliate: ids[0]!, asked: when.asked, at: when.at, base });
      if (!cut) continue;
      ids.forEach((id) => lowered.add(id));
      each({ ...cut, people: ids.length }, ids);
    }
  }
}

/** The first of some questions whose answer falls for an affiliate at a moment; null where none does. */
function firstCut(
  before: IndexedTerms,
  after: IndexedTerms,
  {
    affiliate,
    asked,
    at,
    base,
  }: { affiliate: Id<'affiliate'>; asked: readonly Asked[]; at: number; base: string },
): Omit<Cut, 'people'> | null {
  const [was, is] = [termsAt(before.roll, affiliate, at), termsAt(after.roll, affiliate, at)];
  for (const { orders, ...question } of asked)
    for (const order of orders) {
      const amounts = {
        before: earns(before, was, question, { at, base, order }),
        after: earns(after, is, question, { at, base, order }),
      };
      if (amounts.after < amounts.before) return { at, affiliate, ...question, order, ...amounts };
    }
  return null;
}

/** Who and what is asked about. */
interface CutScope {
  people: Iterable<Id<'affiliate'>>;
  sellables: readonly Sellable[];
  /** UTC milliseconds */
  now: number;
  base: string;
  /** exchange rates of the currencies in which rates promise amounts of their own */
  exchange?: Exchange;
}

/** Every case that would earn less, one cut for each moment. See `eachCut`. */
export function cutsBetween(
  before: IndexedTerms,
  after: IndexedTerms,
  { people, sellables, now, base, exchange = new Map() }: CutScope,
): Cut[] {
  const cuts: Cut[] = [];
  eachCut(before, after, { people, sellables, now, base, exchange, each: (cut) => cuts.push(cut) });
  return cuts;
}

/** Who of many would earn less on anything, at any moment from now on. */
export function loweredBy(
  before: IndexedTerms,
  after: IndexedTerms,
  { people, sellables, now, base, exchange = new Map() }: CutScope,
): Set<Id<'affiliate'>> {
  const lowered = new Set<Id<'affiliate'>>();
  eachCut(before, after, {
    people,
    sellables,
    now,
    base,
    exchange,
    each: (_cut, ids) => ids.forEach((id) => lowered.add(id)),
  });
  return lowered;
}

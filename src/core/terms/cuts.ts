import type { Book } from './book';
import type { TermsData } from './draft';
import { isLocked, termsAt, type Roll } from './members';
import { covers, type AffiliateTerms, type Event, type Rate } from './rate';
import { amountsOf } from './resolve';

/** Something that can be sold and what one of it costs: a product, or a step of a funnel with its own price. */
export interface Sellable {
  product: string;
  kind: string;
  step: string | null;
  /** minor units of base: of a first sale, and of a renewal; null = there are none */
  price: number | null;
  renewal: number | null;
}

/** Terms as they were read, and their index. */
export interface IndexedTerms {
  data: TermsData;
  book: Book;
  roll: Roll;
}

/** Something on which somebody would earn less. Amounts in minor units of base, for one unit at its price. */
export interface Cut {
  /** from when, UTC milliseconds */
  at: number;
  affiliate: string;
  /** how many are in the same case */
  people: number;
  sellable: Sellable;
  event: Event;
  payment: number;
  before: number;
  after: number;
}

interface Asked {
  sellable: Sellable;
  event: Event;
  payment: number;
}

const spanKey = (parts: readonly unknown[]) => JSON.stringify(parts);

/** What of a list is in one of two versions only. */
function differing<T>(before: readonly T[], after: readonly T[], keyOf: (item: T) => string): T[] {
  if (before === after) return [];
  // what was not touched is the same object in both: only the rest is looked at closely
  const [old, now] = [new Set(before), new Set(after)];
  const [gone, come] = [before.filter((x) => !now.has(x)), after.filter((x) => !old.has(x))];
  const [a, b] = [new Set(gone.map(keyOf)), new Set(come.map(keyOf))];
  return [...gone.filter((x) => !b.has(keyOf(x))), ...come.filter((x) => !a.has(keyOf(x)))];
}

interface Difference {
  rates: Rate[];
  /** true where more than rates differs: memberships, pauses, locks, the order of tags */
  places: boolean;
  moments: number[];
}

function differenceOf(before: TermsData, after: TermsData, now: number): Difference {
  const rates = differing(before.rates, after.rates, (r) =>
    spanKey([r.id, r.from, r.until, r.payments, r.reward, r.cap]),
  );
  const spans = [
    ...differing(before.members, after.members, (m) => spanKey([m.affiliate, m.of, m.id, m.from, m.until])),
    ...differing(before.pauses, after.pauses, (p) => spanKey([p.group, p.from, p.until])),
    ...differing(before.locks, after.locks, (l) => spanKey([l.product, l.event, l.from, l.until])),
    ...differing(before.tagOrders, after.tagOrders, (o) => spanKey([o.from, o.tags])).map((o) => ({
      from: o.from,
      until: null,
    })),
  ];
  const moments = new Set([now]);
  for (const { from, until } of [...rates, ...spans]) {
    if (from > now) moments.add(from);
    if (until !== null && until > now) moments.add(until);
  }
  return {
    rates,
    places: spans.length > 0 || before.defaultCard !== after.defaultCard,
    moments: [...moments].sort((a, b) => a - b),
  };
}

/** The payments of a subscription at which some rate begins or ends to cover: between two of them nothing changes. */
function paymentsOf(rates: readonly Rate[]): number[] {
  const payments = new Set([2]);
  for (const { event, payments: range } of rates) {
    if (event !== 'renewal' || range === null) continue;
    for (const n of [range.first, ...(range.last === null ? [] : [range.last, range.last + 1])])
      if (n >= 2) payments.add(n);
  }
  return [...payments];
}

function questions(
  before: TermsData,
  after: TermsData,
  { rates, places }: Difference,
  sellables: readonly Sellable[],
): Asked[] {
  const all = [...before.rates, ...after.rates];
  const events = new Set(places ? all.map((r) => r.event) : rates.map((r) => r.event));
  const payments = paymentsOf(all);
  return sellables.flatMap((sellable): Asked[] => {
    const sold = { product: sellable.product, kind: sellable.kind, step: sellable.step };
    const asks = (event: Event) =>
      events.has(event) && (places || rates.some((r) => r.event === event && covers(r.what, sold)));
    return [
      ...(sellable.price !== null && asks('sale') ? [{ sellable, event: 'sale' as const, payment: 1 }] : []),
      ...(sellable.renewal !== null && asks('renewal')
        ? payments.map((payment) => ({ sellable, event: 'renewal' as const, payment }))
        : []),
      ...(sellable.step === null
        ? (['lead', 'click'] as const).filter(asks).map((event) => ({ sellable, event, payment: 1 }))
        : []),
    ];
  });
}

/** What one case earns, minor units of base. */
function earns(
  terms: IndexedTerms,
  who: AffiliateTerms,
  { sellable, event, payment }: Asked,
  { at, base }: { at: number; base: string },
): number {
  const { product, kind, step } = sellable;
  const amount = (event === 'renewal' ? sellable.renewal : event === 'sale' ? sellable.price : 0) ?? 0;
  const line = {
    product,
    kind,
    step,
    name: '',
    quantity: 1,
    amount,
    discount: 0,
    approved: true,
    locked: isLocked(terms.roll, product, event, at),
  };
  return amountsOf(terms.book, who, {
    event,
    at,
    payment,
    currency: base,
    base,
    rateMicros: 1_000_000,
    lines: [line],
  })[0]!;
}

const nameOf = ({ card, group, tags }: AffiliateTerms) =>
  `${card} ${group?.id}${group?.paused ? ' paused' : ''} ${tags.join(' ')}`;

/** Whom a difference can reach at all: where only rates for somebody differ, those they are for and who is or was in a set they are for. */
function reached(
  before: IndexedTerms,
  after: IndexedTerms,
  { rates, places }: Difference,
  people: Iterable<string>,
): string[] {
  const list = [...people];
  if (places || rates.some((r) => r.who === null)) return list;
  const whos = new Set(rates.map((r) => r.who));
  const isIn = ({ data, roll }: IndexedTerms, id: string) => {
    const own = roll.places.get(id);
    if (!own?.card.length && whos.has(data.defaultCard)) return true;
    return (
      own !== undefined &&
      [own.card, own.group, own.tag].some((kind) =>
        kind.some((m) => whos.has(m.id) || (kind === own.card && whos.has(data.defaultCard))),
      )
    );
  };
  return list.filter((id) => whos.has(id) || isIn(before, id) || isIn(after, id));
}

/** Who of many is in the same case at a moment, before and after: those with rates of their own stand for themselves. */
function cases(
  before: IndexedTerms,
  after: IndexedTerms,
  people: Iterable<string>,
  at: number,
): Map<string, string[]> {
  const own = new Set(
    [...before.data.rates, ...after.data.rates].flatMap((r) =>
      r.rung === 'personal' && r.who ? [r.who] : [],
    ),
  );
  const found = new Map<string, string[]>();
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
 * before and after, for everybody, for each product and step that the change touches, at its price, each event and each payment number at which
 * something changes, at each moment from now on at which something begins or ends.
 * @param people affiliates whose terms count @param each is told of every case that falls, once for each moment; the first cut of a case is enough
 */
function eachCut(
  before: IndexedTerms,
  after: IndexedTerms,
  {
    people,
    sellables,
    now,
    base,
    each,
  }: {
    people: Iterable<string>;
    sellables: readonly Sellable[];
    now: number;
    base: string;
    each: (cut: Cut, ids: readonly string[]) => void;
  },
): void {
  const difference = differenceOf(before.data, after.data, now);
  const asked = questions(before.data, after.data, difference, sellables);
  if (!asked.length) return;
  const list = reached(before, after, difference, people);
  for (const at of difference.moments) {
    const when = { at, base };
    for (const ids of cases(before, after, list, at).values()) {
      const [affiliate] = ids;
      const [was, is] = [termsAt(before.roll, affiliate!, at), termsAt(after.roll, affiliate!, at)];
      for (const question of asked) {
        const amounts = {
          before: earns(before, was, question, when),
          after: earns(after, is, question, when),
        };
        if (amounts.after >= amounts.before) continue;
        each({ at, affiliate: affiliate!, people: ids.length, ...question, ...amounts }, ids);
        break;
      }
    }
  }
}

/** Every case that would earn less, one cut for each moment. See `eachCut`. */
export function cutsBetween(
  before: IndexedTerms,
  after: IndexedTerms,
  {
    people,
    sellables,
    now,
    base,
  }: { people: Iterable<string>; sellables: readonly Sellable[]; now: number; base: string },
): Cut[] {
  const cuts: Cut[] = [];
  eachCut(before, after, { people, sellables, now, base, each: (cut) => cuts.push(cut) });
  return cuts;
}

/** Who of many would earn less on anything, at any moment from now on. */
export function loweredBy(
  before: IndexedTerms,
  after: IndexedTerms,
  {
    people,
    sellables,
    now,
    base,
  }: { people: Iterable<string>; sellables: readonly Sellable[]; now: number; base: string },
): Set<string> {
  const lowered = new Set<string>();
  eachCut(before, after, {
    people,
    sellables,
    now,
    base,
    each: (_cut, ids) => ids.forEach((id) => lowered.add(id)),
  });
  return lowered;
}

import type { Span } from '../calendar/span';
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
  /** when the two differ at all, from now on */
  span: Span;
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
  const isOtherCard = before.defaultCard !== after.defaultCard;
  const all: Span[] = [...rates, ...spans, ...(isOtherCard ? [{ from: now, until: null }] : [])];
  return {
    rates,
    places: spans.length > 0 || isOtherCard,
    moments: [now, ...boundsIn(all, { from: now, until: null })],
    span: {
      from: Math.max(now, Math.min(...all.map((s) => s.from))),
      until: all.some((s) => s.until === null) ? null : Math.max(...all.map((s) => s.until!)),
    },
  };
}

/** The moments after the beginning of a stretch, and within it, at which some of many begin or end. */
function boundsIn(spans: readonly Span[], stretch: Span): number[] {
  const bounds = spans.flatMap(({ from, until }) => (until === null ? [from] : [from, until]));
  return bounds.filter((at) => at > stretch.from && (stretch.until === null || at < stretch.until));
}

/** Whom to ask about what at a moment. `differs`: the two begin or cease to differ then. */
interface Asking {
  at: number;
  people: readonly string[];
  asked: readonly Asked[];
  differs: boolean;
}

/** At which moments of a stretch rates begin or end, and which. */
function rateBounds(terms: readonly IndexedTerms[], stretch: Span): Map<number, Rate[]> {
  const found = new Map<number, Rate[]>();
  for (const rate of new Set(terms.flatMap(({ data }) => data.rates)))
    for (const at of boundsIn([rate], stretch)) found.set(at, [...(found.get(at) ?? []), rate]);
  return found;
}

/** The moments of a stretch at which places of people begin or end, and whose. */
function placeBounds(
  terms: readonly IndexedTerms[],
  people: readonly string[],
  stretch: Span,
): Map<number, Set<string>> {
  const found = new Map<number, Set<string>>();
  for (const { roll } of terms)
    for (const id of people) {
      const places = roll.places.get(id);
      if (!places) continue;
      for (const at of boundsIn([...places.card, ...places.group, ...places.tag], stretch))
        found.set(at, (found.get(at) ?? new Set()).add(id));
    }
  return found;
}

/** The moments of a stretch at which something begins or ends that is neither a rate nor somebody’s place: pauses, locks, orders of tags. */
function switchBounds(terms: readonly IndexedTerms[], stretch: Span): number[] {
  const spans = terms.flatMap(({ data: { pauses, locks, tagOrders } }): Span[] => [
    ...pauses,
    ...locks,
    ...tagOrders.map(({ from }) => ({ from, until: null })),
  ]);
  return boundsIn(spans, stretch);
}

/**
 * Whom to ask about what at which moment, earliest first: everybody about everything where the two begin or cease to differ; and meanwhile,
 * wherever anything else begins or ends, those and that alone which it can matter to – what differs may reach them only then.
 */
function whenToAsk(
  before: IndexedTerms,
  after: IndexedTerms,
  { moments, span }: Difference,
  { people, asked }: { people: readonly string[]; asked: readonly Asked[] },
): Asking[] {
  const both = [before, after];
  const whole = new Set([...moments, ...switchBounds(both, span)]);
  const differing = new Set(moments);
  const found: Asking[] = [...whole].map((at) => ({ at, people, asked, differs: differing.has(at) }));
  for (const [at, rates] of rateBounds(both, span)) {
    if (whole.has(at)) continue;
    const some = asked.filter(({ sellable, event }) =>
      rates.some((r) => r.event === event && covers(r.what, sellable)),
    );
    if (some.length) found.push({ at, people: peopleOf(both, rates, people), asked: some, differs: false });
  }
  for (const [at, ids] of placeBounds(both, people, span))
    if (!whole.has(at)) found.push({ at, people: [...ids], asked, differs: false });
  return found.sort((a, b) => a.at - b.at);
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

/** Those of some whom rates are for: who they name, and who is, was or will be in a set they name. */
function peopleOf(
  terms: readonly IndexedTerms[],
  rates: readonly Rate[],
  people: readonly string[],
): readonly string[] {
  if (rates.some((r) => r.who === null)) return people;
  const whos = new Set(rates.map((r) => r.who));
  const isIn = ({ data, roll }: IndexedTerms, id: string) => {
    const own = roll.places.get(id);
    // whoever is on a card only from a day on is on the standard one until then
    if (whos.has(data.defaultCard)) return true;
    return (
      own !== undefined && [own.card, own.group, own.tag].some((kind) => kind.some((m) => whos.has(m.id)))
    );
  };
  return people.filter((id) => whos.has(id) || terms.some((t) => isIn(t, id)));
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
  const all = [...people];
  const list = difference.places ? all : peopleOf([before, after], difference.rates, all);
  const lowered = new Set<string>();
  for (const when of whenToAsk(before, after, difference, { people: list, asked })) {
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
  { affiliate, asked, at, base }: { affiliate: string; asked: readonly Asked[]; at: number; base: string },
): Omit<Cut, 'people'> | null {
  const when = { at, base };
  const [was, is] = [termsAt(before.roll, affiliate, at), termsAt(after.roll, affiliate, at)];
  for (const question of asked) {
    const amounts = {
      before: earns(before, was, question, when),
      after: earns(after, is, question, when),
    };
    if (amounts.after < amounts.before) return { at, affiliate, ...question, ...amounts };
  }
  return null;
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

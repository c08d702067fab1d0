import type { Span } from '../calendar/span';
import { isId, type Id } from '../text/id';
import type { Book } from './book';
import { sampleOrders, type Exchange, type SampleOrder } from './cut-orders';
import type { TermsData } from './draft';
import type { Roll } from './members';
import { covers, type Event, type Rate } from './rate';

/** Something that can be sold and what one of it costs: a product, or a step of a funnel with its own price. */
export interface Sellable {
  product: Id<'product'>;
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

/** What is asked about one that can be sold. */
export interface Asked {
  sellable: Sellable;
  event: Event;
  payment: number;
  /** at which orders, the plainest first */
  orders: readonly SampleOrder[];
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

/** What differs between two terms, and when. Moments are UTC milliseconds. */
export interface Difference {
  rates: Rate[];
  /** true where more than rates differs: memberships, pauses, locks, the order of tags */
  places: boolean;
  moments: number[];
  /** when the two differ at all, from now on */
  span: Span;
}

/** What differs between two terms from a moment on. */
export function differenceOf(before: TermsData, after: TermsData, now: number): Difference {
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
    span: { from: Math.max(now, firstOf(all)), until: lastOf(all) },
  };
}

// many thousands of people can be moved at once: more than a call takes arguments
const firstOf = (spans: readonly Span[]) =>
  spans.reduce((first, { from }) => Math.min(first, from), Number.POSITIVE_INFINITY);
const lastOf = (spans: readonly Span[]) =>
  spans.reduce<number | null>(
    (last, { until }) => (last === null || until === null ? null : Math.max(last, until)),
    Number.NEGATIVE_INFINITY,
  );

/** The moments after the beginning of a stretch, and within it, at which some of many begin or end. */
function boundsIn(spans: readonly Span[], stretch: Span): number[] {
  const bounds = spans.flatMap(({ from, until }) => (until === null ? [from] : [from, until]));
  return bounds.filter((at) => at > stretch.from && (stretch.until === null || at < stretch.until));
}

/** Whom to ask about what at a moment. `differs`: the two begin or cease to differ then. */
export interface Asking {
  at: number;
  people: readonly Id<'affiliate'>[];
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

/** Where some people stand, under one terms or the other: who is, was or will be in a set, and whose place begins or ends when. */
export interface Standing {
  inSet: Map<Id<'set'>, Set<Id<'affiliate'>>>;
  bounds: Map<number, Set<Id<'affiliate'>>>;
  /** the cards of those who are on none */
  standard: ReadonlySet<string | null>;
}

function put<K>(map: Map<K, Set<Id<'affiliate'>>>, key: K, id: Id<'affiliate'>): void {
  const known = map.get(key);
  if (known) known.add(id);
  else map.set(key, new Set([id]));
}

/** Where some people stand, with what begins or ends within a stretch. */
export function standingsIn(
  terms: readonly IndexedTerms[],
  people: readonly Id<'affiliate'>[],
  stretch: Span,
): Standing {
  const standard = new Set(terms.map(({ data }) => data.defaultCard));
  const found: Standing = { inSet: new Map(), bounds: new Map(), standard };
  for (const { roll } of terms)
    for (const id of people) {
      const places = roll.places.get(id);
      if (!places) continue;
      for (const kind of [places.card, places.group, places.tag])
        for (const place of kind) {
          put(found.inSet, place.id, id);
          for (const at of boundsIn([place], stretch)) put(found.bounds, at, id);
        }
    }
  return found;
}

/** Those of some whom rates are for: who they name, and who is, was or will be in a set they name. */
export function namedBy(
  rates: readonly Rate[],
  { inSet, standard }: Standing,
  people: readonly Id<'affiliate'>[],
): readonly Id<'affiliate'>[] {
  const ids = new Set<Id<'affiliate'>>();
  for (const { who } of rates) {
    // whoever is on a card only from a day on is on the standard one until then
    if (who === null || standard.has(who)) return people;
    if (isId(who, 'affiliate')) ids.add(who);
    else for (const id of inSet.get(who) ?? []) ids.add(id);
  }
  return ids.size ? people.filter((id) => ids.has(id)) : [];
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
export function whenToAsk(
  before: IndexedTerms,
  after: IndexedTerms,
  { moments, span }: Difference,
  {
    people,
    asked,
    standing,
  }: { people: readonly Id<'affiliate'>[]; asked: readonly Asked[]; standing: Standing },
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
    if (some.length)
      found.push({ at, people: namedBy(rates, standing, people), asked: some, differs: false });
  }
  const those = new Set(people);
  for (const [at, ids] of standing.bounds)
    if (!whole.has(at))
      found.push({ at, people: [...ids].filter((id) => those.has(id)), asked, differs: false });
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

/** What is asked of the resolver under both: each thing that is sold, each event and payment that the difference can touch. */
export function questions(
  before: TermsData,
  after: TermsData,
  {
    difference: { rates, places },
    sellables,
    ...money
  }: { difference: Difference; sellables: readonly Sellable[]; base: string; exchange: Exchange },
): Asked[] {
  const all = [...new Set([...before.rates, ...after.rates])];
  const events = new Set(places ? all.map((r) => r.event) : rates.map((r) => r.event));
  const payments = paymentsOf(all);
  return sellables.flatMap((sellable): Asked[] => {
    const sold = { product: sellable.product, kind: sellable.kind, step: sellable.step };
    const asks = (event: Event) =>
      events.has(event) && (places || rates.some((r) => r.event === event && covers(r.what, sold)));
    const at = (event: Event, price: number) => sampleOrders(all, { sold, event, price }, money);
    const { price, renewal } = sellable;
    const further = renewal !== null && asks('renewal') ? at('renewal', renewal) : [];
    return [
      ...(price !== null && asks('sale')
        ? [{ sellable, event: 'sale' as const, payment: 1, orders: at('sale', price) }]
        : []),
      ...(further.length
        ? payments.map((payment) => ({ sellable, event: 'renewal' as const, payment, orders: further }))
        : []),
      ...(sellable.step === null
        ? (['lead', 'click'] as const)
            .filter(asks)
            .map((event) => ({ sellable, event, payment: 1, orders: at(event, 0) }))
        : []),
    ];
  });
}

import { expect, it } from 'vitest';
import { say } from '../../../tests/helpers/terms';
import { Seeded } from '../../demo/random';
import type { Id } from '../text/id';
import { buildBook } from './book';
import type { SampleOrder } from './cut-orders';
import type { IndexedTerms, Sellable } from './cut-questions';
import { cutsBetween, loweredBy, type Cut } from './cuts';
import type { TermsData } from './draft';
import { buildRoll, isLocked, nobody, termsAt, type Memberships } from './members';
import type { Event } from './rate';
import { amountsOf } from './resolve';

const now = 100;
const base = 'EUR';

const terms = (rates: string[], memberships: Partial<Memberships> = {}): IndexedTerms => {
  const data: TermsData = { ...nobody, ...memberships, rates: rates.map(say) };
  return { data, book: buildBook(data.rates), roll: buildRoll(data) };
};
/** The same rates, so that only what is beside them differs. */
const beside = (from: IndexedTerms, memberships: Partial<Memberships>): IndexedTerms => {
  const data = { ...from.data, ...memberships };
  return { data, book: from.book, roll: buildRoll(data) };
};
const pot: Sellable = { product: 'prd_A', kind: 'one-off', step: null, price: 10_000, renewal: null };
const club: Sellable = { product: 'prd_S', kind: 'recurring', step: null, price: 2_000, renewal: 1_500 };

const between = (
  before: IndexedTerms,
  after: IndexedTerms,
  people: Id<'affiliate'>[] = ['aff_ann'],
  sellables = [pot],
) => cutsBetween(before, after, { people, sellables, now, base });
const inWords = ({ at, affiliate, event, payment, before, after }: Cut) =>
  `${affiliate.slice(4)} ${event} ${payment} at ${at}: ${before} → ${after}`;

it('a rate that is lowered cuts everybody it is for, from now on', () => {
  const cuts = between(terms(['programme: 10 %']), terms(['programme: 8 %']), [
    'aff_ann',
    'aff_bo',
    'aff_cem',
  ]);
  expect(cuts.map(inWords)).toEqual(['ann sale 1 at 100: 1000 → 800']);
  expect(cuts[0]!.people).toBe(3);
});

it('one that is raised, or the same in other words, cuts nobody', () => {
  expect(between(terms(['programme: 8 %']), terms(['programme: 10 %']))).toEqual([]);
  expect(between(terms(['programme: 8 %']), terms(['product A: 8 %']))).toEqual([]);
  const same = terms(['programme: 8 %']);
  expect(between(same, same)).toEqual([]);
});

it('a rate that will be lowered later cuts at its start, and not before', () => {
  const after = terms(['programme: 10 % | until 500', 'programme: 8 % | from 500']);
  expect(between(terms(['programme: 10 %']), after).map(inWords)).toEqual(['ann sale 1 at 500: 1000 → 800']);
});

it('what lay in the past is not asked about', () => {
  const before = terms(['programme: 10 %', 'personal ann: 30 % | until 50']);
  expect(between(before, terms(['programme: 10 %']))).toEqual([]);
});

it('a lower rate above a higher one cuts: the ladder decides, not the height', () => {
  const before = terms(['programme: 10 %']);
  expect(between(before, terms(['programme: 10 %', 'personal ann: 5 %'])).map(inWords)).toEqual([
    'ann sale 1 at 100: 1000 → 500',
  ]);
  expect(between(before, terms(['programme: 10 %', 'personal bo: 5 %']))).toEqual([]);
});

it('a lock, a pause and the order of tags are changes of terms like rates', () => {
  const rates = ['programme: 5 %', 'group G: 20 %', 'tag low: 8 %', 'tag high: 30 %'];
  const ann = (...ids: [kind: 'group' | 'tag', id: Id<'set'>][]) =>
    ids.map(([of, id]) => ({ affiliate: 'aff_ann' as const, of, id, from: 0, until: null }));
  const inGroup = terms(rates, { members: ann(['group', 'set_G']) });
  const from = { from: 300, until: null };
  expect(
    between(
      inGroup,
      beside(inGroup, { locks: [{ product: 'prd_A', event: 'sale', from: 300, until: null }] }),
    ).map(inWords),
  ).toEqual(['ann sale 1 at 300: 2000 → 500']);
  expect(between(inGroup, beside(inGroup, { pauses: [{ group: 'set_G', ...from }] })).map(inWords)).toEqual([
    'ann sale 1 at 300: 2000 → 500',
  ]);
  const order = (...tags: Id<'set'>[]) => [{ from: 0, tags }];
  const tagged = terms(rates, {
    members: ann(['tag', 'set_low'], ['tag', 'set_high']),
    tagOrders: order('set_high', 'set_low'),
  });
  expect(between(tagged, beside(tagged, { tagOrders: order('set_low', 'set_high') })).map(inWords)).toEqual([
    'ann sale 1 at 100: 3000 → 800',
  ]);
});

it('taking somebody out of a group cuts that one alone', () => {
  const member = (affiliate: Id<'affiliate'>) => ({
    affiliate,
    of: 'group' as const,
    id: 'set_G' as const,
    from: 0,
    until: null,
  });
  const before = terms(['programme: 5 %', 'group G: 20 %'], {
    members: [member('aff_ann'), member('aff_bo')],
  });
  const after = beside(before, { members: [member('aff_ann')] });
  expect(between(before, after, ['aff_ann', 'aff_bo', 'aff_cem']).map(inWords)).toEqual([
    'bo sale 1 at 100: 2000 → 500',
  ]);
});

it('of a subscription each payment is asked about at which a rate begins or ends to cover', () => {
  const before = terms(['programme: 5 %', 'product S renewal: 10 %']);
  const after = terms(['programme: 5 %', 'product S renewal 2–6 then nothing: 10 %']);
  expect(between(before, after, ['aff_ann'], [pot, club]).map(inWords)).toEqual([
    'ann renewal 7 at 100: 150 → 0',
  ]);
});

it('a product that has no price for an event cannot be cut on it', () => {
  const [before, after] = [terms(['programme renewal: 9 %']), terms(['programme renewal: 1 %'])];
  expect(between(before, after, ['aff_ann'], [pot])).toEqual([]);
  expect(between(before, after, ['aff_ann'], [club])).toHaveLength(1);
});

it('a change of the places of 150,000 at once is judged as that of one', () => {
  const many = Array.from({ length: 150_000 }, (_, n): Id<'affiliate'> => `aff_${n}`);
  const before = terms(['programme: 5 %', 'group G: 20 %'], {
    members: many.map((affiliate) => ({ affiliate, of: 'group', id: 'set_G', from: 0, until: null })),
  });
  const cuts = between(before, beside(before, { members: [] }), many);
  expect(cuts.map((c) => [c.people, c.before, c.after])).toEqual([[150_000, 2000, 500]]);
});

const asOrder = ({ order: { quantity, amount, currency }, before, after }: Cut) =>
  `${quantity} for ${amount} ${currency}: ${before} → ${after}`;
const bends = (before: string, after: string, sellables = [pot]) =>
  cutsBetween(terms([before]), terms([after]), {
    people: ['aff_ann'],
    sellables,
    now,
    base,
    exchange: new Map([['USD', 2_000_000]]),
  }).map(asOrder);

it.each([
  ['a cap that is added', '10 %', '10 % | cap 15.00', '2 for 20000 EUR: 2000 → 1500'],
  ['a cap that bites far above the price', '10 %', '10 % | cap 150.00', '1 for 150005 EUR: 15001 → 15000'],
  ['a cap that is lowered', '10 % | cap 500.00', '10 % | cap 400.00', '1 for 400005 EUR: 40001 → 40000'],
  ['a percentage that becomes flat', '10 %', '10.00 flat', '2 for 20000 EUR: 2000 → 1000'],
  [
    'flat per unit that becomes flat per order',
    '5.00 flat a unit',
    '5.00 flat',
    '2 for 20000 EUR: 1000 → 500',
  ],
  ['a minimum order value', '10 %', 'from 60.00 10 %', '1 for 5999 EUR: 600 → 0'],
  [
    'a higher band that is lowered',
    'from 60.00 10 %, from 300.00 20 %',
    'from 60.00 10 %, from 300.00 15 %',
    '10 for 100000 EUR: 20000 → 15000',
  ],
  [
    'a band that begins later',
    'from 60.00 10 %, from 300.00 20 %',
    'from 60.00 10 %, from 310.00 20 %',
    '1 for 30000 EUR: 6000 → 3000',
  ],
  [
    'the amount in another currency',
    '6.00 or USD 14.00 flat',
    '6.00 or USD 12.00 flat',
    '1 for 20000 USD: 700 → 600',
  ],
  ['a cap on flat per unit', '5.00 flat a unit', '5.00 flat a unit | cap 100.00', '21 for 210000 EUR'],
])('%s is a cut', (_, before, after, found) => {
  const cuts = bends(`programme: ${before}`, `programme: ${after}`);
  expect(cuts).toHaveLength(1);
  expect(cuts[0]).toContain(found);
  // and what raises is none
  expect(bends(`programme: ${after}`, `programme: ${before}`)).toEqual([]);
});

it('the cap of an uplift that is lowered is a cut where it bites, also of one that raises up to', () => {
  const capped = (mode: string, cap: string) =>
    terms(['programme: 10 %', `uplift: ${mode} 15 % | cap ${cap}`]);
  for (const mode of ['up to', 'plus']) {
    expect(between(capped(mode, '90.00'), capped(mode, '80.00'))).toHaveLength(1);
    expect(between(capped(mode, '80.00'), capped(mode, '90.00'))).toEqual([]);
  }
});

it('renewals are asked about at two and ten units as well', () => {
  expect(bends('product S renewal: 10 %', 'product S renewal: 1.50 flat', [club])).toEqual([
    '2 for 3000 EUR: 300 → 150',
  ]);
});

// The same by brute force: everybody, everything that can be sold, every event, many payments, every moment.

const people: Id<'affiliate'>[] = ['aff_ann', 'aff_bo', 'aff_cem'];
const shelf: Sellable[] = [pot, club, { ...pot, step: 'up-1', price: 4_000 }];
const payments = [2, 3, 4, 5, 6, 7, 8];

function drawRates(random: Seeded): string[] {
  const rung = () =>
    random.pick(['programme', 'product A', 'product S', 'card makers', 'group G', 'tag t1', 'personal ann']);
  const reward = () =>
    random.pick([
      `${random.whole(1, 30)} %`,
      `${random.whole(1, 30)} %`,
      `${random.whole(1, 20)}.00 flat`,
      `${random.whole(1, 20)}.00 or USD ${random.whole(1, 20)}.00 flat`,
      `${random.whole(1, 9)}.00 flat a unit`,
      `from ${random.whole(10, 200)}.00 ${random.whole(1, 30)} %, from 250.00 ${random.whole(1, 30)} %`,
    ]);
  return Array.from({ length: random.whole(1, 6) }, () => {
    const renewal = random.chance(0.3);
    const range = renewal && random.chance(0.5) ? ` ${random.whole(2, 4)}–${random.whole(4, 6)}` : '';
    const span = random.pick(['', ' | from 200', ' | until 400', ' | from 200 | until 400', ' | cap 3.00']);
    const where = `${rung()}${renewal ? ` renewal${range}` : ''}`;
    return random.chance(0.2)
      ? `uplift: ${random.pick(['up to', 'plus'])} ${random.whole(1, 30)} %${span.replace(/ \| cap.*/, '')}`
      : `${where}: ${reward()}${span}`;
  });
}

function drawMemberships(random: Seeded): Memberships {
  const member = (affiliate: Id<'affiliate'>) => {
    const [of, id] = random.pick([
      ['card', 'set_makers'],
      ['group', 'set_G'],
      ['tag', 'set_t1'],
    ] as const);
    return { affiliate, of, id, from: random.pick([0, 250]), until: random.pick([null, 450]) };
  };
  return {
    ...nobody,
    defaultCard: random.pick([null, 'set_makers' as const]),
    members: people.filter(() => random.chance(0.6)).map(member),
    pauses: random.chance(0.2) ? [{ group: 'set_G', from: 300, until: 350 }] : [],
    locks: random.chance(0.2) ? [{ product: 'prd_A', event: 'sale', from: 300, until: null }] : [],
  };
}

interface Case {
  who: Id<'affiliate'>;
  sold: Sellable;
  event: Event;
  payment: number;
  at: number;
  order: SampleOrder;
}

function amountIn({ book, roll }: IndexedTerms, { who, sold, event, payment, at, order }: Case): number {
  const { product, kind, step } = sold;
  const { quantity, amount, currency, rateMicros } = order;
  const locked = isLocked(roll, product, event, at);
  const line = { product, kind, step, locked, name: '', quantity, amount, discount: 0, approved: true };
  const asked = { event, at, payment, currency, base, rateMicros, lines: [line] };
  return amountsOf(book, termsAt(roll, who, at), asked)[0]!;
}

/** One, two and ten units, in base and in a currency with amounts of its own. */
const ordersOf = (price: number): SampleOrder[] =>
  [1, 2, 10].flatMap((quantity) => [
    { quantity, amount: quantity * price, currency: base, rateMicros: 1_000_000 },
    { quantity, amount: quantity * 2 * price, currency: 'USD', rateMicros: 2_000_000 },
  ]);
const exchange = new Map([['USD', 2_000_000]]);

function everyCase(): Case[] {
  const found: Case[] = [];
  for (const who of people)
    for (const sold of shelf)
      for (const at of [100, 150, 200, 250, 300, 350, 400, 450, 500])
        for (const [event, payment] of [
          ['sale', 1],
          ...(sold.renewal === null ? [] : payments.map((n) => ['renewal', n])),
        ] as [Event, number][])
          for (const order of ordersOf((event === 'renewal' ? sold.renewal : sold.price)!))
            found.push({ who, sold, event, payment, at, order });
  return found;
}

it('finds whom asking for every case by itself finds, in 400 random changes of terms', () => {
  const random = new Seeded(20270312);
  const all = everyCase();
  const counted = { cut: 0, spared: 0 };
  for (let n = 0; n < 400; n += 1) {
    const before = terms(drawRates(random), drawMemberships(random));
    const rates = random.chance(0.5) ? before.data.rates : terms(drawRates(random)).data.rates;
    const data: TermsData = {
      ...(random.chance(0.5) ? before.data : { ...drawMemberships(random), rates }),
      rates,
    };
    const after = { data, book: buildBook(rates), roll: buildRoll(data) };
    const lowered = new Set(all.filter((c) => amountIn(after, c) < amountIn(before, c)).map((c) => c.who));
    const questioned = { people, sellables: shelf, now, base, exchange };
    const found = loweredBy(before, after, questioned);
    // everybody whom one of the many cases lowers, at whatever value
    expect(
      [...lowered].filter((id) => !found.has(id)),
      `change ${n}`,
    ).toEqual([]);
    // and nobody who is not: each cut is one that the resolver confirms
    const cuts = cutsBetween(before, after, questioned);
    expect(cuts.length > 0, `change ${n}`).toBe(found.size > 0);
    for (const { affiliate: who, sellable: sold, event, payment, at, order, ...amounts } of cuts) {
      const asked = { who, sold, event, payment, at, order };
      expect([amountIn(before, asked), amountIn(after, asked)], `change ${n}`).toEqual([
        amounts.before,
        amounts.after,
      ]);
      expect(amounts.after).toBeLessThan(amounts.before);
    }
    counted[found.size ? 'cut' : 'spared'] += 1;
  }
  expect(Math.min(counted.cut, counted.spared), JSON.stringify(counted)).toBeGreaterThan(50);
});

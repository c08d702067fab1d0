import { describe, expect, it } from 'vitest';
import { resolved, say, sayLine, sayTerms } from '../../../tests/helpers/terms';
import { toDecimal } from '../money/amount';

/**
 * What an order comes to, one row a situation: rates; the affiliate's card, group and tags; the order's lines; the commission of
 * each line. R1–R14 are those of the domain page.
 */
type Row = [
  name: string,
  rates: string[],
  terms: string,
  lines: string[],
  expected: string,
  more?: {
    event?: 'sale' | 'renewal' | 'lead' | 'click';
    payment?: number;
    at?: number;
    currency?: string;
    rateMicros?: number;
  },
];

const R1 = ['programme: 8 %', 'product A: 20 %'];
const R2 = [...R1, 'card makers: 12 %'];
const R4 = [...R2, 'group G: 25 %', 'group G on A: 30 %'];
const R6 = [...R4, 'personal: from 60.00 10 %, from 150.00 35 %'];
const R10 = ['product S: 50 %', 'product S renewal 2–6 then nothing: 10 %'];
const R11 = ['product S: 50 %', 'product S renewal 2–6 then next: 10 %', 'programme renewal: 3 %'];
const renewal = (payment: number) => ({ event: 'renewal' as const, payment });
const yen = { currency: 'JPY', rateMicros: 160_000_000 };
const dollar = { currency: 'USD', rateMicros: 1_100_000 };

const rows: Row[] = [
  ['R1 product before programme', R1, '', ['A 70.35'], '14.07'],
  ['R2 card before product', R2, 'card makers', ['A 70.35'], '8.44'],
  ['R3 a lock skips the card', R2, 'card makers', ['A 70.35 locked'], '14.07'],
  ['R4 the group’s narrower rate', R4, 'card makers, group G', ['A 70.35'], '21.11'],
  ['R5 a paused group is skipped', R4, 'card makers, group G paused', ['A 70.35'], '8.44'],
  ['R6 personal bands win even where they pay less', R6, 'card makers, group G', ['A 70.35'], '7.04'],
  ['R7 below the lowest band the ladder goes on', R6, 'card makers, group G', ['A 48.00'], '14.40'],
  ['R8 an uplift up to 15 %', [...R2, 'uplift: up to 15 %'], 'card makers', ['A 70.35'], '10.55'],
  ['R9 an uplift of 5.00 on top', [...R2, 'uplift: plus 5.00 flat'], 'card makers', ['A 70.35'], '13.44'],
  ['R10 first payment', R10, '', ['S 24.00'], '12.00'],
  ['R10 payment 2', R10, '', ['S 24.00'], '2.40', renewal(2)],
  ['R10 payment 6', R10, '', ['S 24.00'], '2.40', renewal(6)],
  ['R10 payment 7: nothing after', R10, '', ['S 24.00'], '0.00', renewal(7)],
  ['R11 payment 6', R11, '', ['S 24.00'], '2.40', renewal(6)],
  ['R11 payment 7: next rate down', R11, '', ['S 24.00'], '0.72', renewal(7)],
  ['R12 flat per order on three units', ['programme: 6.00 flat'], '', ['A 3 × 10.00'], '6.00'],
  ['R13 12.5 % of 1.00', ['programme: 12.5 %'], '', ['A 1.00'], '0.13'],
  ['R14 an order in yen', ['programme: 12 %'], '', ['A 5000'], '3.75', yen],

  // rungs
  ['no rate at all', [], '', ['A 70.35'], '0.00'],
  ['programme alone', ['programme: 8 %'], '', ['A 70.35'], '5.63'],
  ['a rate of another product', ['product B: 20 %'], '', ['A 70.35'], '0.00'],
  [
    'a kind is narrower than everything',
    ['programme: 8 %', 'programme on kind one-off: 9 %'],
    '',
    ['A 100.00'],
    '9.00',
  ],
  [
    'another kind does not apply',
    ['programme: 8 %', 'programme on kind recurring: 9 %'],
    '',
    ['A 100.00'],
    '8.00',
  ],
  [
    'a step is narrower than its product',
    ['product A: 20 %', 'product on step up-1: 5 %'],
    '',
    ['A 100.00 at step up-1'],
    '5.00',
  ],
  [
    'the same product outside the step',
    ['product A: 20 %', 'product on step up-1: 5 %'],
    '',
    ['A 100.00'],
    '20.00',
  ],
  ['tag before group', ['tag t1: 11 %', 'group G: 25 %'], 'group G, tags t1', ['A 100.00'], '11.00'],
  ['personal before tag', ['personal: 3 %', 'tag t1: 11 %'], 'tags t1', ['A 100.00'], '3.00'],
  ['somebody else’s personal rate', ['personal other: 50 %', 'programme: 8 %'], '', ['A 100.00'], '8.00'],
  ['somebody else’s card', ['card media: 50 %', 'programme: 8 %'], 'card makers', ['A 100.00'], '8.00'],
  [
    'group before card, though wider',
    ['group G: 25 %', 'card makers on A: 40 %'],
    'card makers, group G',
    ['A 100.00'],
    '25.00',
  ],
  [
    'card on a product before card on everything',
    ['card makers: 12 %', 'card makers on A: 14 %'],
    'card makers',
    ['A 100.00'],
    '14.00',
  ],
  [
    'card on a kind before card on everything',
    ['card makers: 12 %', 'card makers on kind one-off: 13 %'],
    'card makers',
    ['A 100.00'],
    '13.00',
  ],
  [
    'personal on a step before personal on its product',
    ['personal on A: 6 %', 'personal on step up-1: 7 %'],
    '',
    ['A 100.00 at step up-1'],
    '7.00',
  ],
  ['two tags: the merchant’s order', ['tag t1: 5 %', 'tag t2: 7 %'], 'tags t1 t2', ['A 100.00'], '5.00'],
  ['two tags the other way round', ['tag t1: 5 %', 'tag t2: 7 %'], 'tags t2 t1', ['A 100.00'], '7.00'],
  [
    'two tags: narrower before order',
    ['tag t1: 5 %', 'tag t2 on A: 7 %'],
    'tags t1 t2',
    ['A 100.00'],
    '7.00',
  ],
  ['a rate of 0 % on a higher rung wins', ['personal: 0 %', 'programme: 8 %'], '', ['A 100.00'], '0.00'],
  ['not approved for the product', ['programme: 8 %'], '', ['A 100.00 unapproved'], '0.00'],
  [
    'a paused group with a card beneath',
    ['group G on A: 30 %', 'card makers: 12 %', 'programme: 8 %'],
    'card makers, group G paused',
    ['A 100.00'],
    '12.00',
  ],

  // locks
  [
    'a lock skips personal, tag, group',
    ['personal: 30 %', 'tag t1: 31 %', 'group G: 32 %', 'product A: 3 %'],
    'group G, tags t1',
    ['A 100.00 locked'],
    '3.00',
  ],
  [
    'a lock without a product rate leaves the programme',
    ['personal: 30 %', 'programme: 8 %'],
    '',
    ['A 100.00 locked'],
    '8.00',
  ],
  ['a lock skips uplifts', ['product A: 3 %', 'uplift: up to 15 %'], '', ['A 100.00 locked'], '3.00'],

  // time: the order is at 1000
  ['from is inclusive', ['programme: 8 % | from 1000'], '', ['A 100.00'], '8.00'],
  ['a rate that begins later', ['programme: 8 % | from 1001'], '', ['A 100.00'], '0.00'],
  ['until is exclusive', ['programme: 8 % | until 1000'], '', ['A 100.00'], '0.00'],
  ['the last moment', ['programme: 8 % | until 1001'], '', ['A 100.00'], '8.00'],
  ['the later start wins', ['programme: 8 %', 'programme: 9 % | from 500'], '', ['A 100.00'], '9.00'],
  [
    'after the end the earlier is back',
    ['programme: 8 %', 'programme: 9 % | from 500 | until 900'],
    '',
    ['A 100.00'],
    '8.00',
  ],

  // bands
  ['an edge belongs to its band', ['personal: from 60.00 10 %, from 150.00 35 %'], '', ['A 60.00'], '6.00'],
  ['a cent below the edge', ['personal: from 60.00 10 %, from 150.00 35 %'], '', ['A 59.99'], '0.00'],
  [
    'the highest band sets the whole',
    ['personal: from 60.00 10 %, from 150.00 35 %'],
    '',
    ['A 150.00'],
    '52.50',
  ],
  ['a cent below the upper edge', ['personal: from 60.00 10 %, from 150.00 35 %'], '', ['A 149.99'], '15.00'],
  [
    'bands look at all lines in their scope',
    ['personal: from 150.00 35 %', 'programme: 8 %'],
    '',
    ['A 100.00', 'B 50.00'],
    '35.00 17.50',
  ],
  [
    'bands on a product look at its lines only',
    ['personal on A: from 150.00 35 %', 'programme: 8 %'],
    '',
    ['A 100.00', 'B 50.00'],
    '8.00 4.00',
  ],
  [
    'discounts count against bands',
    ['personal: from 60.00 10 %', 'programme: 8 %'],
    '',
    ['A 65.00 − 5.01'],
    '4.80',
  ],
  [
    'a flat band',
    ['personal: from 60.00 5.00 flat, from 100.00 9.00 flat'],
    '',
    ['A 80.00', 'B 40.00'],
    '6.00 3.00',
  ],
  [
    'a line that is not approved does not fill a band',
    ['personal: from 150.00 35 %', 'programme: 8 %'],
    '',
    ['A 100.00', 'B 50.00 unapproved'],
    '8.00 0.00',
  ],
  ['bands compare in base currency', ['personal: from 60.00 10 %'], '', ['A 9600'], '6.00', yen],

  // flat rewards and caps
  [
    'flat once for all lines it won, by value',
    ['programme: 5.00 flat'],
    '',
    ['A 10.00', 'B 20.00'],
    '1.67 3.33',
  ],
  ['flat a unit', ['programme: 2.00 flat a unit'], '', ['A 3 × 10.00'], '6.00'],
  ['flat never more than the line is worth', ['programme: 6.00 flat'], '', ['A 4.00'], '4.00'],
  [
    'flat a unit never more than the line is worth',
    ['programme: 6.00 flat a unit'],
    '',
    ['A 2 × 4.00'],
    '8.00',
  ],
  ['flat on a free line', ['programme: 6.00 flat'], '', ['A 0.00'], '0.00'],
  [
    'two flat rates in one order each count once',
    ['product A: 5.00 flat', 'programme: 3.00 flat'],
    '',
    ['A 10.00', 'B 20.00', 'C 10.00'],
    '5.00 2.00 1.00',
  ],
  ['a cap not reached', ['programme: 10 % | cap 20.00'], '', ['A 100.00'], '10.00'],
  ['a cap exactly reached', ['programme: 10 % | cap 10.00'], '', ['A 100.00'], '10.00'],
  [
    'a cap once for all lines, by value',
    ['programme: 10 % | cap 10.00'],
    '',
    ['A 100.00', 'B 200.00'],
    '3.33 6.67',
  ],
  ['a cap on bands', ['personal: from 60.00 10 % | cap 7.50'], '', ['A 100.00'], '7.50'],
  [
    'a cap does not reach lines of another rate',
    ['product A: 10 % | cap 5.00', 'programme: 10 %'],
    '',
    ['A 100.00', 'B 100.00'],
    '5.00 10.00',
  ],
  [
    'a flat reward promised in dollars',
    ['programme: 6.00 or USD 6.60 flat'],
    '',
    ['A 110.00'],
    '6.00',
    dollar,
  ],
  [
    'the same promised more in dollars',
    ['programme: 6.00 or USD 7.70 flat'],
    '',
    ['A 110.00'],
    '7.00',
    dollar,
  ],
  [
    'a currency it does not name takes the base amount',
    ['programme: 6.00 or USD 7.70 flat'],
    '',
    ['A 5000'],
    '6.00',
    yen,
  ],

  // uplifts
  [
    'up to less than the ladder gives changes nothing',
    ['programme: 20 %', 'uplift: up to 15 %'],
    '',
    ['A 100.00'],
    '20.00',
  ],
  [
    'two uplifts: the better one counts',
    ['programme: 8 %', 'uplift: up to 15 %', 'uplift: plus 9 %'],
    '',
    ['A 100.00'],
    '17.00',
  ],
  [
    'two pluses do not add up',
    ['programme: 8 %', 'uplift: plus 2 %', 'uplift: plus 3 %'],
    '',
    ['A 100.00'],
    '11.00',
  ],
  ['percent on percent is rounded once', ['programme: 8.5 %', 'uplift: plus 1.5 %'], '', ['A 0.25'], '0.03'],
  [
    'an uplift of another group',
    ['programme: 8 %', 'uplift group H: up to 15 %'],
    'group G',
    ['A 100.00'],
    '8.00',
  ],
  [
    'an uplift of a paused group',
    ['programme: 8 %', 'uplift group G: up to 15 %'],
    'group G paused',
    ['A 100.00'],
    '8.00',
  ],
  [
    'an uplift for one product',
    ['programme: 8 %', 'uplift on A: up to 15 %'],
    '',
    ['A 100.00', 'B 100.00'],
    '15.00 8.00',
  ],
  ['an uplift for one affiliate', ['programme: 8 %', 'uplift personal: plus 1 %'], '', ['A 100.00'], '9.00'],
  [
    'an uplift before its start',
    ['programme: 8 %', 'uplift: up to 15 % | from 1001'],
    '',
    ['A 100.00'],
    '8.00',
  ],
  [
    'an uplift at its end',
    ['programme: 8 %', 'uplift: up to 15 % | from 900 | until 1000'],
    '',
    ['A 100.00'],
    '8.00',
  ],
  [
    'plus never more than the value',
    ['programme: 90 %', 'uplift: plus 20.00 flat'],
    '',
    ['A 10.00'],
    '10.00',
  ],
  [
    'a flat plus once an order, by value',
    ['programme: 10 %', 'uplift: plus 3.00 flat'],
    '',
    ['A 10.00', 'B 20.00'],
    '2.00 4.00',
  ],
  [
    'a flat up to once an order, line by line',
    ['programme: 10 %', 'product A: 50 %', 'uplift: up to 9.00 flat'],
    '',
    ['A 10.00', 'B 20.00'],
    '5.00 6.00',
  ],
  ['an uplift over a cap', ['programme: 10 % | cap 5.00', 'uplift: up to 8 %'], '', ['A 100.00'], '8.00'],
  ['a plus over a cap', ['programme: 10 % | cap 5.00', 'uplift: plus 1 %'], '', ['A 100.00'], '6.00'],
  ['a plus with a cap', ['programme: 10 %', 'uplift: plus 50 % | cap 1.00'], '', ['A 100.00'], '11.00'],
  [
    'a plus with a cap, split by value',
    ['programme: 10 %', 'uplift: plus 50 % | cap 1.00'],
    '',
    ['A 100.00', 'B 300.00'],
    '10.25 30.75',
  ],
  ['an up to with a cap', ['programme: 10 %', 'uplift: up to 20 % | cap 4.00'], '', ['A 100.00'], '14.00'],
  [
    'a cap on an uplift that is not passed',
    ['programme: 10 %', 'uplift: up to 20 % | cap 40.00'],
    '',
    ['A 100.00'],
    '20.00',
  ],
  [
    'a capped uplift loses to a better one',
    ['programme: 10 %', 'uplift: plus 50 % | cap 1.00', 'uplift: plus 5 %'],
    '',
    ['A 100.00'],
    '15.00',
  ],
  [
    'a capped uplift counts over the lines it raised',
    ['programme: 10 %', 'uplift: plus 50 % | cap 1.00', 'uplift on B: plus 5 %'],
    '',
    ['A 100.00', 'B 100.00'],
    '11.00 15.00',
  ],
  [
    'a later payment of an order: flat once',
    ['programme: 6.00 flat'],
    '',
    ['A 50.00'],
    '0.00',
    { payment: 2 },
  ],
  [
    'a later payment of an order: percent on each',
    ['programme: 8 %'],
    '',
    ['A 50.00'],
    '4.00',
    { payment: 2 },
  ],
  [
    'a later payment of an order: a flat uplift once',
    ['programme: 8 %', 'uplift: plus 3.00 flat'],
    '',
    ['A 50.00'],
    '4.00',
    { payment: 2 },
  ],
  [
    'an uplift does not open a product that is not approved',
    ['programme: 8 %', 'uplift: plus 5.00 flat'],
    '',
    ['A 100.00 unapproved'],
    '0.00',
  ],
  [
    'an uplift of first sales leaves renewals',
    ['programme renewal: 3 %', 'uplift: up to 15 %'],
    '',
    ['S 24.00'],
    '0.72',
    renewal(2),
  ],

  // events
  ['a sale rate pays no renewal', ['programme: 8 %'], '', ['S 24.00'], '0.00', renewal(2)],
  [
    'a range does not apply before it',
    ['personal renewal 4–6: 20 %', 'programme renewal: 3 %'],
    '',
    ['S 24.00'],
    '0.72',
    renewal(3),
  ],
  ['a range without an end', ['personal renewal 4–: 20 %'], '', ['S 24.00'], '4.80', renewal(400)],
  [
    'two ranges one after the other',
    ['product S renewal 2–3 then next: 20 %', 'product S renewal 4–6 then next: 10 %'],
    '',
    ['S 24.00'],
    '2.40',
    renewal(4),
  ],
  [
    'nothing after ends the ladder on its rung',
    ['card makers renewal 2–3 then nothing: 20 %', 'programme renewal: 3 %'],
    'card makers',
    ['S 24.00'],
    '0.00',
    renewal(4),
  ],
  [
    'next after falls to the product',
    ['card makers renewal 2–3 then next: 20 %', 'product S renewal: 5 %'],
    'card makers',
    ['S 24.00'],
    '1.20',
    renewal(4),
  ],
  ['a lead', ['programme: 8 %', 'product F lead: 0.40 flat'], '', ['F 1.00'], '0.40', { event: 'lead' }],
  [
    'a lead has no price and earns what was promised',
    ['product F lead: 0.40 flat', 'uplift on F lead: plus 0.10 flat'],
    '',
    ['F 0.00'],
    '0.50',
    { event: 'lead' },
  ],
  ['a click', ['programme click: 0.05 flat'], '', ['F 1.00'], '0.05', { event: 'click' }],

  // values
  ['two units', ['programme: 8 %'], '', ['A 2 × 70.35'], '11.26'],
  ['a discount comes off first', ['programme: 8 %'], '', ['A 10.00 − 2.50'], '0.60'],
  ['a line given away', ['programme: 8 %'], '', ['A 10.00 − 10.00'], '0.00'],
  ['half a cent is rounded up', ['programme: 5 %'], '', ['A 0.10'], '0.01'],
  ['four decimals of a percent', ['programme: 0.0001 %'], '', ['A 10000.00'], '0.01'],
  ['yen lines convert each by itself', ['programme: 12 %'], '', ['A 5000', 'B 79'], '3.75 0.06', yen],
];

describe('what an order comes to', () => {
  it.each(rows)('%s', (_name, rates, terms, lines, expected, more = {}) => {
    const working = resolved({
      rates: rates.map(say),
      terms: sayTerms(terms),
      lines: lines.map((l) => sayLine(l, more.currency)),
      order: more,
    });
    expect(working.lines.map((l) => toDecimal(l.amount, 'EUR')).join(' ')).toBe(expected);
    expect(working.total).toBe(working.lines.reduce((sum, l) => sum + l.amount, 0));
  });
  it('has every example of the domain and at least sixty more', () => {
    expect(rows.filter(([name]) => !/^R\d/.test(name)).length).toBeGreaterThanOrEqual(60);
  });
  it('R10: the zero has its reason', () => {
    expect(
      resolved({ rates: R10.map(say), lines: [sayLine('S 24.00')], order: renewal(7) }).lines[0]!.reason,
    ).toBe('the payments that earn are used up, and nothing comes after');
  });
});

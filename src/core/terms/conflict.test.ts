import { describe, expect, it } from 'vitest';
import { rate, say } from '../../../tests/helpers/terms';
import { faultsOf, sameSlot, tieWith } from './conflict';
import type { Rate } from './rate';

const faults = (rate: Rate) => faultsOf(rate).map((f) => `${f.field}: ${f.detail}`);
const bands = (...froms: number[]): Rate => ({
  ...say('programme: 8 %'),
  reward: { type: 'bands', bands: froms.map((from) => ({ from, pay: { type: 'percent', ppm: 80_000 } })) },
});

const wrongs: [what: string, of: Rate, said: string][] = [
  ['no band', bands(), 'bands: Order bands need at least one threshold'],
  [
    'two that begin at the same value',
    bands(100, 100),
    'bands: Two order bands begin at the same value; an order there could take either',
  ],
  ['bands that fall', bands(200, 100), 'bands: Order bands are not in rising order'],
  ['a band below zero', bands(-1, 100), 'bands: An order band cannot begin below zero'],
  [
    'a band that pays nothing',
    { ...bands(0), reward: { type: 'bands', bands: [{ from: 0, pay: { type: 'percent', ppm: 0 } }] } },
    'bands: An order band pays nothing; leave the threshold out, and below the lowest the ladder goes on',
  ],
  [
    'an end before its start',
    say('programme: 8 % | from 200 | until 100'),
    'until: The end is not after the start',
  ],
  [
    'an end at its start',
    say('programme: 8 % | from 100 | until 100'),
    'until: The end is not after the start',
  ],
  [
    'an uplift by bands',
    { ...bands(0), mode: 'up-to' },
    'reward: An uplift raises by one reward, not by order bands',
  ],
  ['an uplift of nothing', say('uplift: up to 0 %'), 'reward: An uplift of nothing raises nothing'],
  [
    'a percentage of a lead',
    say('product A lead: 10 %'),
    'reward: A lead has no price: a percentage of it pays nothing, so say an amount',
  ],
  [
    'a percentage of a click, in a band',
    { ...bands(0), event: 'click' },
    'reward: A click has no price: a percentage of it pays nothing, so say an amount',
  ],
  [
    'a cap of nothing',
    say('programme: 8 % | cap 0.00'),
    'cap: A cap of nothing would pay nothing; set the rate to 0 % instead',
  ],
  [
    'payments of a first sale',
    { ...say('programme: 8 %'), payments: { first: 2, last: null, after: 'next' } },
    'payments: Only renewals are counted by payment',
  ],
  [
    'renewals from the first sale on',
    { ...say('programme renewal 2–6: 8 %'), payments: { first: 1, last: 6, after: 'next' } },
    'payments: Payment 1 is the first sale; renewals begin at 2',
  ],
  [
    'payments upside down',
    say('programme renewal 6–2: 8 %'),
    'payments: The last payment, 2, comes before the first, 6',
  ],
  [
    'a card without a name',
    { ...say('card makers: 8 %'), who: null },
    'who: This rung needs somebody it is for',
  ],
  [
    'the programme for somebody',
    { ...say('programme: 8 %'), who: 'aff_ann' },
    'who: This rung is for everyone',
  ],
  [
    'a product rung on everything',
    { ...say('product A: 8 %'), what: { type: 'everything' } },
    'what: The product rung covers a product or a step of a funnel',
  ],
  [
    'the programme on one product',
    { ...say('programme: 8 %'), what: { type: 'product', product: 'prd_A' } },
    'what: The programme rung covers everything or a kind',
  ],
];

describe('what is wrong with a rate by itself', () => {
  it.each([
    'programme: 8 %',
    'programme: 0 %',
    'product A: 20 %',
    'card makers: 12 %',
    'personal on step up-1: 5.00 flat',
    'uplift group G on A: up to 15 %',
    'programme renewal 2–6 then nothing: 10 %',
    'product A lead: 0.40 flat',
  ])('nothing: %s', (text) => {
    expect(faults(say(text))).toEqual([]);
  });

  it.each(wrongs)('%s', (_, rate, said) => {
    expect(faults(rate)).toContain(said);
  });

  it('is all said at once, each with an example that would do', () => {
    const wrong = { ...say('card makers: 8 % | cap 0.00 | from 200 | until 100'), who: null };
    const found = faultsOf(wrong);
    expect(found.map((f) => f.field)).toEqual(['until', 'cap', 'who']);
    expect(found.every((f) => f.example !== '')).toBe(true);
  });
});

describe('two rates in one place', () => {
  it.each([
    ['card makers: 8 %', 'card makers: 9 %', true],
    ['card makers: 8 %', 'card media: 9 %', false],
    ['card makers: 8 %', 'group makers: 9 %', false],
    ['card makers on A: 8 %', 'card makers: 9 %', false],
    ['card makers on A: 8 %', 'card makers on A: 9 %', true],
    ['programme: 8 %', 'programme renewal: 9 %', false],
    ['programme renewal 2–6: 8 %', 'programme renewal 7–: 9 %', false],
    ['programme renewal 2–6: 8 %', 'programme renewal 6–9: 9 %', true],
    // nothing after the sixth reaches to the end of the subscription
    ['programme renewal 2–6 then nothing: 8 %', 'programme renewal 7–: 9 %', true],
    ['programme: 8 %', 'uplift: up to 9 %', false],
  ])('%s · %s: %s', (a, b, same) => {
    expect(sameSlot(say(a), say(b))).toBe(same);
    expect(sameSlot(say(b), say(a))).toBe(same);
  });

  it('cannot begin at the same moment: the later start would not decide', () => {
    const other = say('card makers: 9 % | from 100');
    expect(tieWith(say('card makers: 8 % | from 100'), [other])).toBe(other);
    expect(tieWith(say('card makers: 8 % | from 101'), [other])).toBeNull();
    expect(
      tieWith(say('card makers: 8 % | from 100 | until 200'), [say('card makers: 9 % | until 100')]),
    ).toBeNull();
  });
  it('cannot both have order bands at one time, whenever they begin', () => {
    const banded = (from: number, until: number | null): Rate => ({ ...bands(0), from, until });
    const other = banded(0, 100);
    expect(tieWith(banded(50, null), [other])).toBe(other);
    expect(tieWith(banded(100, null), [other])).toBeNull();
  });
  it('an uplift ties with nothing, and no rate with itself', () => {
    const uplift = say('uplift: up to 9 % | from 100');
    expect(tieWith(uplift, [say('uplift: up to 8 % | from 100')])).toBeNull();
    const one = rate('card', 'set_makers', {
      what: { type: 'everything' },
      reward: { type: 'percent', ppm: 1 },
    });
    expect(tieWith(one, [one])).toBeNull();
  });
});

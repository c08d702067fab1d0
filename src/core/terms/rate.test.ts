import { describe, expect, it } from 'vitest';
import { say } from '../../../tests/helpers/terms';
import {
  bandFor,
  covers,
  describePay,
  describePayments,
  fitOf,
  isSpecial,
  isUsedUp,
  payAt,
  rungs,
  sameWhat,
  width,
  worthIn,
  type Event,
  type Fit,
  type Pay,
  type Payments,
  type Sold,
  type Valued,
  type What,
} from './rate';

const pot: Sold = { product: 'prd_A', kind: 'one-off' };
const step: Sold = { product: 'prd_A', kind: 'one-off', step: 'up-1' };
const whats: What[] = [
  { type: 'everything' },
  { type: 'kind', kind: 'one-off' },
  { type: 'kind', kind: 'recurring' },
  { type: 'product', product: 'prd_A' },
  { type: 'product', product: 'prd_S' },
  { type: 'step', step: 'up-1' },
  { type: 'step', step: 'up-2' },
];

describe('what a rate covers', () => {
  it('everything, a kind, a product, a step', () => {
    expect(whats.map((what) => covers(what, pot))).toEqual([true, true, false, true, false, false, false]);
    expect(whats.map((what) => covers(what, step))).toEqual([true, true, false, true, false, true, false]);
  });

  it('two cover the same where both are of one type and name', () => {
    for (const [i, a] of whats.entries())
      for (const [j, b] of whats.entries()) expect(sameWhat(a, b), `${i} ${j}`).toBe(i === j);
  });

  it('a step is narrower than its product, that than its kind, that than everything', () => {
    const named = (type: What['type']) => width(whats.find((w) => w.type === type)!);
    expect([named('step'), named('product'), named('kind'), named('everything')]).toEqual([0, 1, 2, 3]);
  });

  it('a lock skips the rungs that are for some affiliates only', () => {
    expect(rungs.filter(isSpecial)).toEqual(['personal', 'tag', 'group', 'card']);
  });
});

describe('bands', () => {
  const { reward } = say('programme: from 60.00 10 %, from 150.00 35 %');
  const bands = reward.type === 'bands' ? reward.bands : [];
  it.each([
    [0, null],
    [5_999, null],
    [6_000, 100_000],
    [14_999, 100_000],
    [15_000, 350_000],
    [9_999_999, 350_000],
  ])('an order of %i reaches %s', (value, ppm) => {
    const pay = payAt(reward, value);
    expect(pay && (pay as Extract<Pay, { type: 'percent' }>).ppm).toBe(ppm);
    expect(bandFor(bands, value)?.pay ?? null).toEqual(pay);
  });

  it('a plain reward is the same at every value', () => {
    const flat = say('programme: 6.00 flat').reward;
    expect([payAt(flat, 0), payAt(flat, 99)]).toEqual([flat, flat]);
  });

  it('look at what the order is worth in the scope of the rate, of approved lines alone', () => {
    const rows: Valued[] = [
      { line: { ...pot, approved: true }, base: 100 },
      { line: { ...pot, product: 'prd_B', approved: true }, base: 20 },
      { line: { ...pot, approved: false }, base: 5_000 },
    ];
    expect(worthIn({ what: { type: 'everything' } }, rows)).toBe(120);
    expect(worthIn({ what: { type: 'product', product: 'prd_A' } }, rows)).toBe(100);
    expect(worthIn({ what: { type: 'product', product: 'prd_Z' } }, rows)).toBe(0);
  });
});

it.each<[string, at: number, payment: number, Fit]>([
  ['programme: 8 %', 0, 1, 'applies'],
  ['programme: 8 % | from 100', 99, 1, 'begins-later'],
  ['programme: 8 % | from 100', 100, 1, 'applies'],
  ['programme: 8 % | until 100', 99, 1, 'applies'],
  ['programme: 8 % | until 100', 100, 1, 'had-ended'],
  ['programme renewal 3–6: 8 %', 0, 2, 'earlier-payment'],
  ['programme renewal 3–6: 8 %', 0, 3, 'applies'],
  ['programme renewal 3–6: 8 %', 0, 6, 'applies'],
  ['programme renewal 3–6: 8 %', 0, 7, 'later-payment'],
  ['programme renewal 3–6 then nothing: 8 %', 0, 7, 'nothing-left'],
  ['programme renewal 3–: 8 %', 0, 7_000, 'applies'],
  ['programme: from 60.00 8 %', 0, 1, 'below-bands'],
])('%s at %i for payment %i: %s', (rate, at, payment, fit) => {
  expect(fitOf(say(rate), at, payment, [])).toBe(fit);
});

it.each<[Payments, string]>([
  [{ first: 2, last: 6, after: 'nothing' }, 'payments 2–6, then nothing'],
  [{ first: 2, last: 6, after: 'next' }, 'payments 2–6'],
  [{ first: 2, last: 2, after: 'next' }, 'payment 2'],
  [{ first: 7, last: null, after: 'next' }, 'payments from 7'],
])('%j reads %s', (payments, words) => {
  expect(describePayments(payments)).toBe(words);
});

it('payments are used up after the last one, whatever comes then', () => {
  const used = (rate: string, payment: number) => isUsedUp(say(rate), payment);
  expect([6, 7].map((n) => used('programme renewal 2–6: 8 %', n))).toEqual([false, true]);
  expect([6, 7].map((n) => used('programme renewal 2–6 then nothing: 8 %', n))).toEqual([false, true]);
  expect([used('programme renewal 2–: 8 %', 99), used('programme: 8 %', 99)]).toEqual([false, false]);
});

it.each<[string, Event, string]>([
  ['12.5 %', 'sale', '12.5 %'],
  ['6.00 flat', 'sale', '€6.00 an order'],
  ['6.00 flat', 'renewal', '€6.00 a payment'],
  ['0.40 flat', 'lead', '€0.40 a lead'],
  ['0.20 flat', 'click', '€0.20 a click'],
  ['2.00 flat a unit', 'sale', '€2.00 a unit'],
  ['6.00 or USD 6.50 flat', 'sale', '€6.00 an order, US$6.50 in USD'],
])('%s for a %s reads %s', (reward, event, words) => {
  expect(describePay(say(`programme: ${reward}`).reward as Pay, 'EUR', event)).toBe(words);
});

import { describe, expect, it } from 'vitest';
import { question } from '../../../tests/helpers/promise';
import { readBack } from '../../../tests/helpers/read-back';
import { sayTerms } from '../../../tests/helpers/terms';
import { Seeded } from '../../demo/random';
import { promiseOf, type PromiseQuestion } from './promise';
import { promisedUntil, promiseOfRenewals } from './promise-periods';
import { promiseInShort, promiseInWords, renewalsInWords, untilInWords } from './promise-words';
import { amountsOf } from './resolve';

const words = (query: PromiseQuestion) =>
  promiseInWords(promiseOf(query), { base: 'EUR', event: query.event });

describe('what orders pay, in words', () => {
  it.each<[string, string[]]>([
    ['8 %', ['programme: 8 %']],
    ['no commission', []],
    ['€6.00 an order', ['programme: 6.00 flat']],
    ['€2.00 a unit', ['programme: 2.00 flat a unit']],
    ['€2.00 a unit, at most €9.00 an order', ['programme: 2.00 flat a unit | cap 9.00']],
    ['€6.00 an order, US$6.50 in USD', ['programme: 6.00 or USD 6.50 flat']],
    ['30 %, at most €10.00 an order', ['programme: 30 % | cap 10.00']],
    ['4 %, from €60.00 9 %', ['product A: from 60.00 9 %', 'programme: 4 %']],
    ['nothing below €60.00, from €60.00 9 %', ['programme: from 60.00 9 %']],
    ['30 %, from €20.00 20 % + €2.00 an order', ['programme: 20 %', 'uplift: up to 30 % | cap 2.00']],
    ['25 %', ['programme: 20 % | cap 15.00', 'uplift: up to 25 %']],
    [
      '10 % + €5.00 an order, from €100.00 15 %',
      ['programme: 10 %', 'uplift: plus 5.00 flat', 'uplift: plus 5 %'],
    ],
    ['€5.00 an order, from €50.00 10 %', ['programme: 10 %', 'uplift: up to 5.00 flat']],
    ['10 % + €1.00 a unit (at most €3.00)', ['programme: 10 %', 'uplift: plus 1.00 flat a unit | cap 3.00']],
  ])('%s', (expected, rates) => {
    expect(words(question(rates))).toBe(expected);
  });

  it('in short, a mark says that there is more to it', () => {
    const short = (...rates: string[]) =>
      promiseInShort(promiseOf(question(rates)), { base: 'EUR', event: 'sale' });
    expect(short('programme: 12.5 %')).toBe('12.5 %');
    expect(short('programme: 6.00 flat')).toBe('€6.00');
    expect(short('programme: 8 %', 'uplift: plus 5.00 flat')).toBe('8 % + €5.00');
    expect(short('programme: from 60.00 9 %')).toBe('9 % from €60.00 …');
    expect(short('programme: 30 % | cap 10.00')).toBe('30 % …');
    expect(short()).toBe('nothing');
  });
});

describe('what later payments pay, in words', () => {
  const renewals = (rates: string[], last: number | null = null) =>
    renewalsInWords(
      promiseOfRenewals(
        question(rates, { event: 'renewal', sold: { product: 'prd_A', kind: 'recurring' } }),
        last,
      ),
      'EUR',
    );
  it.each<[string, string[], number | null]>([
    ['10 %', ['programme renewal: 10 %'], null],
    ['no commission', [], null],
    ['payments 2–6: 10 %; then nothing', ['product A renewal 2–6 then nothing: 10 %'], null],
    [
      'payment 2: 10 %; payments 3–6: 40 %; from payment 7: 10 %',
      ['product A renewal 3–6: 40 %', 'programme renewal: 10 %'],
      null,
    ],
    ['payment 2: nothing; payment 3: €4.00 a payment', ['product A renewal 3–6: 4.00 flat'], 3],
    ['10 %', ['product A renewal 2–6: 10 %'], 6],
  ])('%s', (expected, rates, last) => {
    expect(renewals(rates, last)).toBe(expected);
  });
});

describe('until when it holds', () => {
  const until = (rates: string[]) => {
    const query = question(rates);
    const found = promisedUntil(query, promiseOf(query), (at) => promiseOf({ ...query, at }));
    return found && [found.until, promiseInWords(found.then, { base: 'EUR', event: 'sale' })];
  };
  it('is the first end after which orders pay something else', () => {
    expect(until(['programme: 8 %'])).toBeNull();
    expect(until(['programme: 8 %', 'uplift: up to 15 % | until 200'])).toEqual([200, '8 %']);
    expect(until(['product A: 20 % | until 300'])).toEqual([300, 'no commission']);
    // the end of what lost changes nothing
    expect(until(['product A: 20 %', 'programme: 8 % | until 200'])).toBeNull();
  });
  it('stands behind the words', () => {
    expect(untilInWords('25 %', '31 Mar 2027', '20 %')).toBe('25 % until 31 Mar 2027, then 20 %');
    expect(untilInWords('4 %, from €60.00 9 %', '31 Mar 2027', '4 %')).toBe(
      '4 %, from €60.00 9 %; until 31 Mar 2027, then 4 %',
    );
  });
});

describe('words, read back, and what random orders pay', () => {
  const random = new Seeded(41);
  const pick = <T>(list: readonly T[]): T => list[random.whole(0, list.length - 1)]!;
  const percent = () => `${random.whole(1, 60)} %`;
  const money = (most = 30) => (random.whole(1, most * 100) / 100).toFixed(2);
  const pay = () => pick([percent, percent, () => `${money()} flat`, () => `${money(9)} flat a unit`])();
  const cap = () => (random.whole(0, 2) ? '' : ` | cap ${money(60)}`);
  const bands = () =>
    [20, 75, 300]
      .slice(0, random.whole(1, 3))
      .map((from) => `from ${from + random.whole(0, 9)}.00 ${pay()}`)
      .join(', ');
  const wheres = ['programme', 'product A', 'card makers', 'personal on A', 'tag t1', 'group G on A'];
  const rates = () => [
    ...Array.from({ length: random.whole(1, 3) }, () => {
      return `${pick(wheres)}: ${random.whole(0, 3) ? pay() : bands()}${cap()}`;
    }),
    ...Array.from({ length: random.whole(0, 2) }, () => {
      return `uplift ${pick(wheres)}: ${pick(['plus', 'up to'])} ${pay()}${cap()}`;
    }),
  ];

  it('are the same, to the minor unit that rounding can take', () => {
    let [compared, several] = [0, 0];
    for (let n = 0; n < 300; n += 1) {
      const book = rates();
      const query = question(book, { terms: sayTerms('card makers, group G, tags t1') });
      const text = words(query);
      if (text.includes(', from ')) several += 1;
      for (let i = 0; i < 60; i += 1) {
        const value = random.whole(1, pick([900, 9_000, 90_000]));
        // words for one unit are compared for one unit
        const units = text.includes('(one unit)') ? 1 : pick([1, 1, 2, 5]);
        const [paid] = amountsOf(query.book, query.terms, {
          ...{ event: 'sale' as const, at: 100, currency: 'EUR', base: 'EUR', rateMicros: 1_000_000 },
          lines: [{ ...query.sold, name: '', quantity: units, amount: value, discount: 0, approved: true }],
        });
        const expected = readBack(text, { value, units });
        if (Math.abs(expected - paid!) > 1)
          expect.fail(
            `${book.join('; ')}: ${units} units of ${value} pay ${paid}, “${text}” says ${expected}`,
          );
        compared += 1;
      }
    }
    expect([compared, several > 50]).toEqual([18_000, true]);
  });
});

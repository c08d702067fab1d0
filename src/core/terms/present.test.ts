import { expect, it } from 'vitest';
import { resolved, say, sayLine, sayTerms } from '../../../tests/helpers/terms';
import { formatRate, presentExchange, presentLines, presentShare, workingInWords } from './present';
import type { Working } from './working';

it.each([
  [1_000_000, '1'],
  [160_000_000, '160'],
  [1_234_500, '1.2345'],
  [500_000, '0.5'],
  [1, '0.000001'],
  [0, '0'],
])('%i millionths read %s', (micros, words) => {
  expect(formatRate(micros)).toBe(words);
});

const dollars = (more: object = {}) =>
  resolved({
    rates: [say('programme: 10 %')],
    lines: [sayLine('A 10.00', 'USD')],
    order: { currency: 'USD', rateMicros: 1_250_000, ...more },
  });

it('the exchange is said where there is one', () => {
  expect(presentExchange(dollars())).toBe('1 EUR = 1.25 USD on the day of the order');
  expect(
    presentExchange(resolved({ rates: [say('programme: 10 %')], lines: [sayLine('A 1.00')] })),
  ).toBeNull();
});

it('a line in another currency is paid in base: its column goes from the price by the exchange to the commission', () => {
  const [line] = presentLines(dollars());
  const figures = line!.sums.map((s) => s.figure);
  expect(figures[0]).toBe('US$10.00');
  expect(figures).toContain('€8.00');
  expect(line!.sums.at(-1)).toEqual({ label: 'Commission', figure: '€0.80', weight: 'sum' });
});

const rung = (working: Working, name: string, names = true) =>
  presentLines(working, names)[0]!.rungs.find((r) => r.rung === name)!.rows;

it('what the merchant calls its rates is said to the merchant alone', () => {
  const named = { ...say('card makers: 12 %'), label: 'Makers of 2027' };
  const working = resolved({ rates: [named], terms: sayTerms('card makers'), lines: [sayLine('A 10.00')] });
  expect(rung(working, 'Card')[0]!.text).toBe('Makers of 2027: 12 %');
  expect(rung(working, 'Card', false)[0]!.text).toBe('12 %');
});

it('what was said of a rung in workings of before is said on', () => {
  const working = resolved({ rates: [], lines: [sayLine('A 10.00')] });
  const [line] = working.lines;
  const before = line!.rungs.map((r) => ({ ...r, remark: `said of ${r.rung}` }));
  expect(rung({ ...working, lines: [{ ...line!, rungs: before }] }, 'Group')[0]!.text).toBe('said of group');
  expect(rung(working, 'Group')[0]!.text).toBe('in no group with a rate');
});

it('a working in one text: what won, then what is added up, line by line', () => {
  const rates = [say('product A: 12 %'), say('product B: 5.00 flat')];
  const working = resolved({ rates, lines: [sayLine('A 199.00'), sayLine('C 3.00')] });
  expect(workingInWords(working)).toBe(
    'Product A: Product product A: 12 %, decides; Price paid €199.00, Commissionable €199.00, × 12 %, rounded €23.88, Commission €23.88' +
      ' | Product C: no rate applies on any rung; Price paid €3.00, Commissionable €3.00, Commission €0.00',
  );
});

const share = { kind: 'referral', ppm: 100_000, of: 'commission', basis: 2_388, amount: 239 } as const;

it.each([
  [share, 'Mara', ['Commission of Mara', '× 10 %, rounded', 'Referral share']],
  [share, null, ['Commission of the affiliate', '× 10 %, rounded', 'Referral share']],
  [
    { ...share, of: 'sale' as const },
    'Mara',
    ['Commissionable value of the sale', '× 10 %, rounded', 'Referral share'],
  ],
  [
    { ...share, kind: 'co-owner' as const, of: 'rest' as const },
    'Mara',
    ['Left of the sale after commission and referral share', '× 10 %, rounded', 'Co-owner share'],
  ],
])('a share of %j for %s is said as %j', (given, who, labels) => {
  const rows = presentShare(given, 'EUR', who);
  expect(rows.map((r) => r.label)).toEqual(labels);
  expect(rows.map((r) => r.figure)).toEqual(['€23.88', '€2.39', '€2.39']);
});

it('a share of more than a sale leaves says what it was limited by', () => {
  const rows = presentShare({ ...share, amount: 200 }, 'EUR', 'Mara');
  expect(rows.map((r) => [r.label, r.figure])).toEqual([
    ['Commission of Mara', '€23.88'],
    ['× 10 %, rounded', '€2.39'],
    ['Limited to what the sale leaves', '−€0.39'],
    ['Referral share', '€2.00'],
  ]);
});

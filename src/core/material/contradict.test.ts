import { expect, it } from 'vitest';
import { contradictionsIn, type WordFacts } from './contradict';

const wheel10 = { code: 'WHEEL10', ppm: 100_000, lastDay: '2027-03-31', isOn: true, fits: true };
const facts: WordFacts = {
  coupons: [
    wheel10,
    { code: 'WINTER10', ppm: 100_000, lastDay: '2027-01-06', isOn: false, fits: true },
    { code: 'GLAZE15', ppm: 150_000, lastDay: null, isOn: true, fits: false },
  ],
  price: { amount: 19_900, currency: 'EUR' },
  lastDay: null,
  today: '2027-03-12',
};
const said = (text: string, more: Partial<WordFacts> = {}) =>
  contradictionsIn(text, { ...facts, ...more }).map(({ says, stands }) => `${says}: ${stands}`);

it.each([
  ['12 % off your first kiln, until Sunday', ['12 %: WHEEL10 gives 10 %']],
  ['Save 12% with WHEEL10', ['12 %: WHEEL10 gives 10 %']],
  ['10 % off with WHEEL10 until 31 March', []],
  ['WHEEL10 ends on the 30th of March', ['until 30 Mar: WHEEL10 lasts until 31 Mar']],
  ['until March 30, 2027', ['until 30 Mar: WHEEL10 lasts until 31 Mar']],
  ['Take WINTER10 at checkout', ['WINTER10: this coupon does not hold now']],
  ['A wheel for €189', ['€189.00: the price is €199.00']],
  ['A wheel for €199.00, three cups are €24', []],
  ['15 % off with GLAZE15', []],
  ['100 % cotton, 40 percent lighter', []],
  ['For {price WHEEL-1}, {rate WHEEL-1}', []],
])('%s', (text, expected) => {
  expect(said(text)).toEqual(expected);
});

it.each([
  ['more than an amount can be', `A wheel for €${'9'.repeat(40)}`],
  ['a number of several points', 'Firmware 1.234.567 € and 12.1999 €'],
  ['100,000 digits', '1'.repeat(100_000)],
  ['100,000 braces', '{'.repeat(100_000)],
  ['amounts of another currency', 'A wheel for $189'],
])('%s claims nothing', (_, text) => {
  expect(said(text)).toEqual([]);
});

it('an amount is read exactly, in its currency', () => {
  const yen = { price: { amount: 5000, currency: 'JPY' } };
  expect(said('Now ¥4,900', yen)).toEqual(['JP¥4,900: the price is JP¥5,000']);
  expect(said('Now ¥5,000', yen)).toEqual([]);
  expect(said('For €1,199.00')).toEqual(['€1,199.00: the price is €199.00']);
  expect(said('For 199.0 €')).toEqual([]);
});

it('a text of a creative that ends is held to its own end, where no coupon says another', () => {
  expect(said('Only until 5 April', { coupons: [], lastDay: '2027-04-05' })).toEqual([]);
  expect(said('Only until 6 April', { coupons: [], lastDay: '2027-04-05' })).toEqual([
    'until 6 Apr: it lasts until 5 Apr',
  ]);
});

it('a day without a year is the next that comes', () => {
  expect(said('until 6 January', { coupons: [{ ...wheel10, lastDay: '2028-01-06' }] })).toEqual([]);
});

it('a code that came again holds, whatever became of the first', () => {
  const again = [{ ...wheel10, isOn: false, lastDay: '2027-01-01' }, wheel10];
  expect(said('WHEEL10 until 31 March', { coupons: again })).toEqual([]);
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { convertToBase, formatMoney, parseAmount, split, sumOf, toDecimal } from './amount';
import { formatPercent, parsePercent, percentOf } from './percent';
import { mulDiv } from './rounding';

describe('rounding', () => {
  it.each([
    [100, 125_000, 13],
    [-100, 125_000, -13],
    [0, 125_000, 0],
    [1, 500_000, 1],
    [-1, 500_000, -1],
    [1, 499_999, 0],
    [7035, 200_000, 1407],
  ])('%i minor units × %i ppm = %i, half away from zero', (amount, ppm, expected) => {
    expect(percentOf(amount, ppm)).toBe(expected);
  });
  it('is exact beyond 2^53 in the product', () => {
    expect(mulDiv(9_007_199_254_740_991, 999_999, 1_000_000)).toBe(
      Number((9_007_199_254_740_991n * 999_999n * 2n + 1_000_000n) / 2_000_000n),
    );
  });
  it('refuses a result that no amount can hold', () => {
    expect(() => mulDiv(9_007_199_254_740_991, 2, 1)).toThrow(/beyond what an amount can hold/);
    expect(() => mulDiv(1.5, 2, 1)).toThrow(/whole number/);
    expect(() => mulDiv(1, 2, 0)).toThrow(/positive/);
  });
  it('equals the BigInt definition for any arguments', () => {
    fc.assert(
      fc.property(fc.maxSafeInteger(), fc.integer({ min: 0, max: 1_000_000 }), (a, b) => {
        const product = BigInt(a) * BigInt(b);
        const magnitude = (2n * (product < 0n ? -product : product) + 1_000_000n) / 2_000_000n;
        expect(mulDiv(a, b, 1_000_000)).toBe(Number(product < 0n ? -magnitude : magnitude) || 0);
      }),
    );
  });
});

it.each([
  ['129.00', 'EUR', 12900],
  ['129', 'EUR', 12900],
  ['129.5', 'EUR', 12950],
  ['5000', 'JPY', 5000],
  ['1.234', 'KWD', 1234],
  [' 0.01 ', 'EUR', 1],
])('amounts: reads %s %s', (text, currency, value) => {
  expect(parseAmount(text, currency)).toEqual({ ok: true, value });
});
it.each([
  ['1.234', 'EUR', /at most 2 decimals/],
  ['1.5', 'JPY', /no decimals/],
  ['50.25', 'JPY', /no decimals/],
  ['-1', 'EUR', /cannot be negative/],
  ['', 'EUR', /not an amount/],
  ['12,50', 'EUR', /not an amount/],
  ['1e3', 'EUR', /not an amount/],
  ['99999999999999999', 'EUR', /at most/],
])('amounts: refuses %j %s', (text, currency, reason) => {
  const parsed = parseAmount(text, currency);
  expect(parsed.ok).toBe(false);
  if (!parsed.ok) expect(parsed.reason).toMatch(reason);
});
it('amounts: writes what it reads, in every currency form', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1_000_000_000, max: 1_000_000_000 }),
      fc.constantFrom('EUR', 'JPY', 'KWD'),
      (n, currency) => {
        expect(parseAmount(toDecimal(n, currency), currency, { sign: true })).toEqual({
          ok: true,
          value: n || 0,
        });
      },
    ),
  );
});
it('amounts: shows amounts with a true minus and parted thousands', () => {
  expect(formatMoney({ amount: -120418, currency: 'EUR' })).toBe('−€1,204.18');
  expect(formatMoney({ amount: 5000, currency: 'JPY' })).toBe('JP¥5,000');
  expect(formatMoney({ amount: 1234567, currency: 'KWD' })).toBe('KWD 1,234.567');
});
it('amounts: sums amounts of one currency only', () => {
  expect(
    sumOf([
      { amount: 5, currency: 'EUR' },
      { amount: -7, currency: 'EUR' },
    ]),
  ).toEqual({ amount: -2, currency: 'EUR' });
  expect(() =>
    sumOf([
      { amount: 5, currency: 'EUR' },
      { amount: 1, currency: 'JPY' },
    ]),
  ).toThrow('JPY cannot be added to EUR');
  expect(() => sumOf([])).toThrow(RangeError);
});
it('amounts: R14: 5,000 JPY at 160 is 31.25 EUR', () => {
  expect(convertToBase(5000, 'JPY', 'EUR', 160_000_000)).toBe(3125);
});

describe('splitting', () => {
  it('gives ties to the earlier part', () => {
    expect(split(100, [1, 1, 1])).toEqual([34, 33, 33]);
    expect(split(-100, [1, 1, 1])).toEqual([-34, -33, -33]);
    expect(split(5, [0, 0])).toEqual([3, 2]);
    expect(() => split(1, [])).toThrow(/no parts/);
  });
  it('loses and makes nothing, and no part is off by a unit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1_000_000_000, max: 1_000_000_000 }),
        fc.array(fc.nat(1_000_000), { minLength: 1, maxLength: 12 }),
        (amount, weights) => {
          const parts = split(amount, weights);
          const total = weights.reduce((a, b) => a + b, 0);
          expect(parts.reduce((a, b) => a + b, 0)).toBe(amount);
          if (total > 0)
            parts.forEach((p, i) =>
              expect(Math.abs(p - (amount * weights[i]!) / total)).toBeLessThan(1.0001),
            );
        },
      ),
    );
  });
});

describe('percentages', () => {
  it.each([
    ['12.5', 125_000],
    ['0', 0],
    ['100', 1_000_000],
    ['12.3456 %', 123_456],
    ['7', 70_000],
  ])('reads %s', (text, value) => {
    expect(parsePercent(text)).toEqual({ ok: true, value });
  });
  it.each(['100.0001', '101', '100.00001', '-3', '', 'abc', '1.23456'])('refuses %j', (text) => {
    expect(parsePercent(text).ok).toBe(false);
  });
  it('shows no needless digits', () => {
    expect(formatPercent(125_000)).toBe('12.5 %');
    expect(formatPercent(80_000)).toBe('8 %');
    expect(formatPercent(1)).toBe('0.0001 %');
  });
});

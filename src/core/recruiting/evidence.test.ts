import { expect, it } from 'vitest';
import { clearedBand, emailKey, shrunkRefundRate, tenure } from './evidence';

it.each([
  [0, 1, 48_780],
  [30, 200, 133_333],
  [0, 0, 50_000],
  [9, 40, 137_500],
])('%i refunds of %i sales shrink to %i ppm', (refunds, sales, ppm) => {
  expect(shrunkRefundRate(refunds, sales)).toBe(ppm);
});
it.each([
  [0, 'none'],
  [1, '1–9'],
  [9, '1–9'],
  [10, '10–49'],
  [50, '50–249'],
  [250, '250–999'],
  [999, '250–999'],
  [1000, '1,000+'],
])('%i cleared sales show as %s', (sales, band) => {
  expect(clearedBand(sales)).toBe(band);
});
it.each([
  ['2025-08-12', '2027-03-12', 1, 212],
  ['2024-02-29', '2027-02-28', 3, 0],
  ['2024-02-29', '2028-02-28', 3, 365],
  ['2024-02-29', '2028-02-29', 4, 0],
  ['2027-03-12', '2027-03-12', 0, 0],
])('since %s until %s is %i years %i days', (since, today, years, days) => {
  expect(tenure(since, today)).toEqual({ years, days });
});
it('recognises an address however it is typed', () => {
  expect(emailKey('  Ana@Loam.Example ')).toBe('ana@loam.example');
});

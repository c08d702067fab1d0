import { describe, expect, it } from 'vitest';
import { countryIn, currencyOf, ownFirst } from './countries';

describe('a buyer’s own currency', () => {
  it.each([
    ['PT', 'EUR'],
    ['gb', 'GBP'],
    ['JP', 'JPY'],
    ['LI', 'CHF'],
    ['XX', null],
    ['', null],
  ])('in %s is %s', (country, currency) => {
    expect(currencyOf(country)).toBe(currency);
  });
  it.each([
    ['en-GB,en;q=0.8', 'GB'],
    ['de-AT', 'AT'],
    ['zh-Hant-HK, zh', 'HK'],
    ['en', null],
    ['*', null],
    [undefined, null],
    ['x'.repeat(5000), null],
  ])('the country in %s is %s', (header, country) => {
    expect(countryIn(header)).toBe(country);
  });
  it('comes first, then the product’s own, then the others', () => {
    const prices = { EUR: '89.00', USD: '99.00', GBP: '79.00' };
    expect(ownFirst(prices, 'EUR', 'GB').map(([c]) => c)).toEqual(['GBP', 'EUR', 'USD']);
    expect(ownFirst(prices, 'EUR', 'NO').map(([c]) => c)).toEqual(['EUR', 'USD', 'GBP']);
    expect(ownFirst(prices, 'EUR', null)[0]).toEqual(['EUR', '89.00']);
  });
});

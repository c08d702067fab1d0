import { expect, it } from 'vitest';
import { countryChoices, countryName } from './countries';

it('a country is said by its name; what is no code stays as it is', () => {
  expect(countryName('PT')).toBe('Portugal');
  expect(countryName('GB')).toBe('United Kingdom');
  expect(countryName('Portugal')).toBe('Portugal');
  expect(countryName('')).toBe('');
});

it('countries are chosen by name, in the order of their names', () => {
  expect(countryChoices(['PT', 'AT', 'GB'])).toEqual([
    ['AT', 'Austria'],
    ['PT', 'Portugal'],
    ['GB', 'United Kingdom'],
  ]);
});

import { expect, it } from 'vitest';
import { allCountries, countryChoices, countryName } from './countries';

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

it('all countries have a name of their own, and stand in its order', () => {
  const all = allCountries();
  expect(all.length).toBeGreaterThan(240);
  expect(all.filter(([code, name]) => code === name)).toEqual([]);
  expect(new Set(all.map(([, name]) => name)).size).toBe(all.length);
  expect(all.map(([, name]) => name)).toEqual(
    all.map(([, name]) => name).toSorted((a, b) => a.localeCompare(b, 'en')),
  );
  expect(all).toContainEqual(['PT', 'Portugal']);
  expect(all).toContainEqual(['XK', 'Kosovo']);
});

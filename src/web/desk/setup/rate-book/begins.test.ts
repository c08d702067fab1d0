import { expect, it } from 'vitest';
import { beginsInWords } from './begins';

it.each([
  [[null], null, 'from now on'],
  [[5], null, 'from day 5'],
  [[null, null], 7, 'from day 7'],
  [[5, null], null, 'each from its own day'],
  [[5, 5], 7, 'from day 5'],
  [[7, null], 7, 'from day 7'],
  [[], null, 'from now on'],
] as const)('%j in a draft from %s: %s', (own, draft, words) => {
  expect(beginsInWords(own, draft, (at) => `day ${at}`)).toBe(words);
});

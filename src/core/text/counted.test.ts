import { expect, it } from 'vitest';
import { counted } from './counted';

it('says how many, with the word for one, for none and for several', () => {
  expect(counted(1, 'order')).toBe('1 order');
  expect(counted(0, 'order')).toBe('0 orders');
  expect(counted(2300, 'order')).toBe('2,300 orders');
  expect(counted(2, 'is so', 'are so')).toBe('2 are so');
});

import { expect, it } from 'vitest';
import { looksUnused, shareOf, unusedBefore } from './used';

const now = Date.UTC(2027, 2, 12, 9);
const old = unusedBefore(now) - 1;
const banner = { state: 'on', createdAt: old, from: null, clicks: 0 } as const;

it.each([
  ['on for long without a click', banner, true],
  ['a click', { ...banner, clicks: 1 }, false],
  ['off', { ...banner, state: 'off' as const }, false],
  ['made lately', { ...banner, createdAt: unusedBefore(now) }, false],
  ['made long ago, begun lately', { ...banner, from: now - 1 }, false],
  ['begun long before it was made', { ...banner, createdAt: now - 1, from: old }, false],
])('%s', (_, one, unused) => {
  expect(looksUnused(one, now)).toBe(unused);
});

it('orders of clicks, and none without a click', () => {
  expect(shareOf(53, 1204)).toBe(44_020);
  expect(shareOf(0, 9)).toBe(0);
  expect(shareOf(1, 0)).toBeNull();
});

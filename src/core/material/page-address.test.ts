import { expect, it } from 'vitest';
import { pageAddress } from './page-address';

it.each([
  ['https://Shop.Quernstone.example', 'https://shop.quernstone.example/'],
  ['https://shop.quernstone.example/log?gvn=vis_123&coupon=WHEEL10', 'https://shop.quernstone.example/log'],
  [
    'https://shop.quernstone.example/log?size=2&gvn=vis_1#top',
    'https://shop.quernstone.example/log?size=2#top',
  ],
  ['https://shop.quernstone.example:443/log', 'https://shop.quernstone.example/log'],
])('%s is kept as %s', (typed, kept) => {
  expect(pageAddress(typed)).toBe(kept);
  expect(pageAddress(kept)).toBe(kept);
});

it('what a page has of its own stays as it was', () => {
  const page = 'https://shop.quernstone.example/a%20b?x=1&x=2&y=%C3%A9';
  expect(pageAddress(page)).toBe(page);
});

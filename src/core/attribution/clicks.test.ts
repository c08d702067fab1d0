import { describe, expect, it } from 'vitest';
import type { Id } from '../text/id';
import { judgeClicks, runsOf } from './clicks';
import { networkOf, notOpened } from './opened';

const click = (
  at: number,
  visitor: string | null,
  address: string | null = null,
  affiliate: Id<'affiliate'> = 'aff_ann',
) => ({
  id: `vis_${at}`,
  at,
  affiliate,
  visitor,
  address,
});
const paid = (...judged: Parameters<typeof judgeClicks>) => judgeClicks(...judged).paid.map((c) => c.at);

describe('clicks that are paid', () => {
  it('are each visitor’s first of the day on an affiliate’s link', () => {
    expect(paid([click(1, 'a'), click(2, 'b'), click(3, 'a'), click(4, 'a', null, 'aff_bob')], 3)).toEqual([
      1, 2, 4,
    ]);
    expect(judgeClicks([click(1, 'a'), click(2, 'a')], 3).unpaid).toEqual([
      { click: click(2, 'a'), why: { code: 'same-visitor' } },
    ]);
    expect(paid([], 3)).toEqual([]);
  });
  it('are at most so many of one address, whosever links they were', () => {
    const many = Array.from({ length: 600 }, (_, n) =>
      click(n, `new-${n}`, 'x', n % 2 ? 'aff_ann' : 'aff_bob'),
    );
    expect(paid(many, 3)).toEqual([0, 1, 2]);
    expect(judgeClicks(many, 3).unpaid[0]!.why).toEqual({ code: 'same-address', most: 3 });
    expect(paid(many, null)).toHaveLength(600);
    expect(paid([click(1, 'a', 'x'), click(2, 'a', 'x'), click(3, 'b', 'x'), click(4, 'c', 'y')], 2)).toEqual(
      [1, 3, 4],
    );
  });
  it('are parted where the terms change, and where they change back', () => {
    expect(runsOf([1, 2, 5, 6, 1], (n) => (n < 5 ? 'low' : 'high'))).toEqual([
      { key: 'low', items: [1, 2] },
      { key: 'high', items: [5, 6] },
      { key: 'low', items: [1] },
    ]);
  });
});

describe('a click is a page that somebody opens', () => {
  const asked = (more: Partial<Parameters<typeof notOpened>[0]>) =>
    notOpened({ method: 'GET', dest: undefined, mode: undefined, purpose: undefined, ...more });
  it.each([
    [{}, null],
    [{ dest: 'document', mode: 'navigate' }, null],
    [{ method: 'HEAD' }, { code: 'other-method', method: 'HEAD' }],
    [
      { dest: 'image', mode: 'no-cors' },
      { code: 'loaded-as', dest: 'image' },
    ],
    [
      { dest: 'iframe', mode: 'navigate' },
      { code: 'loaded-as', dest: 'iframe' },
    ],
    [
      { dest: 'empty', mode: 'cors' },
      { code: 'loaded-as', dest: 'empty' },
    ],
    [{ dest: 'document', mode: 'no-cors' }, { code: 'loaded-by-page' }],
    [{ mode: 'cors' }, null],
    [{ dest: 'document', mode: 'navigate', purpose: 'prefetch' }, { code: 'fetched-ahead' }],
    [{ purpose: 'prefetch;prerender' }, { code: 'fetched-ahead' }],
    [{ dest: '<script>' }, { code: 'loaded-as', dest: null }],
  ])('%j', (more, why) => {
    expect(asked(more)).toEqual(why);
  });
});

it.each([
  ['127.0.0.1', '127.0.0.1'],
  ['::ffff:203.0.113.9', '203.0.113.9'],
  ['2001:db8:1:2:3:4:5:6', '2001:db8:1:2'],
  ['2001:DB8::1', '2001:db8:0:0'],
  ['::1', '0:0:0:0'],
  ['fe80::1%eth0', 'fe80:0:0:0'],
  ['2001:0db8:0001:0002::', '2001:db8:1:2'],
])('the network of %s is %s', (address, network) => {
  expect(networkOf(address)).toBe(network);
});

import { describe, expect, it } from 'vitest';
import { noticeSet, weeksOfNotice, type Notice } from './notice';

const week = 7 * 86_400_000;
const plain = (noticeWeeks: number): Notice => ({ noticeWeeks, noticeBefore: null, noticeBeforeUntil: null });
/** A notice after each of some settings, at the weeks at which they were made. */
const history = (from: number, ...set: [weeks: number, at: number][]): Notice =>
  set.reduce((notice, [weeks, at]) => noticeSet(notice, weeks, at * week), plain(from));
const promised = (notice: Notice, at: number) => weeksOfNotice(notice, at * week);

describe('a notice', () => {
  it('that is lengthened counts at once', () => {
    expect(history(2, [4, 0])).toEqual(plain(4));
  });

  it('that is shortened is kept until it has ended itself', () => {
    const shorter = history(4, [1, 0]);
    expect([0, 3.9, 4, 9].map((at) => promised(shorter, at))).toEqual([4, 4, 1, 1]);
  });

  it('of which less is taken away keeps the end of the longer one', () => {
    const lessSo = history(4, [1, 0], [2, 1]);
    expect([1, 3.9, 4].map((at) => promised(lessSo, at))).toEqual([4, 4, 2]);
    expect(history(4, [1, 0], [1, 3])).toEqual(history(4, [1, 0]));
  });

  it('that is shortened twice is kept from the second time on', () => {
    const twice = history(4, [2, 0], [1, 3]);
    expect([3, 6.9, 7].map((at) => promised(twice, at))).toEqual([4, 4, 1]);
  });

  it('set back to what it was, or longer, has nothing left to keep', () => {
    expect(history(4, [1, 0], [4, 2])).toEqual(plain(4));
    expect(history(4, [1, 0], [6, 2])).toEqual(plain(6));
  });

  it('whose longer one has ended is shortened from what follows', () => {
    const later = history(4, [2, 0], [1, 10]);
    expect([10, 11.9, 12].map((at) => promised(later, at))).toEqual([2, 2, 1]);
  });

  it('never owes a cut less than was promised when the promise was made', () => {
    // whoever was promised w weeks at t, is owed at least w until t + w, whatever is set meanwhile
    const at = (n: number) => (n * 37) % 9;
    for (let seed = 0; seed < 60; seed += 1) {
      let notice = plain(at(seed) + 1);
      for (let step = 0; step < 12; step += 1) {
        const before = promised(notice, step);
        notice = noticeSet(notice, at(seed + step * 5), step * week);
        for (let ahead = step; ahead < step + before; ahead += 0.5)
          expect(ahead + promised(notice, ahead)).toBeGreaterThanOrEqual(step + before);
      }
    }
  });
});

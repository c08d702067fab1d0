import { describe, expect, it } from 'vitest';
import { Throttle } from './throttle';

describe('tries', () => {
  it('are counted before they are judged: of two hundred at once only so many are made', () => {
    const throttle = new Throttle(6);
    expect(
      Array.from({ length: 200 }, () => throttle.take('ann', 0)).filter((wait) => wait === 0),
    ).toHaveLength(6);
  });
  it('come free one by one as time goes by', () => {
    const throttle = new Throttle(2);
    throttle.take('ann', 0);
    throttle.take('ann', 60_000);
    expect([
      throttle.take('ann', 120_000),
      throttle.take('ann', 15 * 60_000 + 1),
      throttle.take('ann', 15 * 60_000 + 2),
    ]).toEqual([780, 0, 60]);
  });
  it('a good one does not count, and other names have their own', () => {
    const throttle = new Throttle(1);
    expect([throttle.take('ann', 0), throttle.take('bob', 0)]).toEqual([0, 0]);
    throttle.giveBack('ann');
    expect([throttle.take('ann', 1), throttle.take('bob', 1)]).toEqual([0, 900]);
    throttle.clear('bob');
    expect(throttle.take('bob', 2)).toBe(0);
  });
  it('names that somebody makes up are forgotten, the oldest first', () => {
    const throttle = new Throttle(1);
    for (let i = 0; i <= 20_000; i += 1) throttle.take(`name ${i}`, i);
    expect([throttle.take('name 0', 20_001), throttle.take('name 20000', 20_001)]).toEqual([0, 900]);
  });
});

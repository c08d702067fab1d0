import { describe, expect, it } from 'vitest';
import { Seeded } from '../../demo/random';
import { holdsFrom, inForceAt, noticeEnd, type Announced } from './policy-notice';

const day = 86_400_000;
const zone = 'Europe/Lisbon';
const start = Date.UTC(2027, 0, 5, 9);

describe('the notice of a version', () => {
  it('is none for the first', () => {
    expect(holdsFrom([], start, zone)).toBe(start);
  });
  it('is what the version in force promises, not the one that is announced', () => {
    const first = { holdsFrom: start, noticeWeeks: 2 };
    expect(holdsFrom([first], start, zone)).toBe(start + 14 * day);
    const second = { holdsFrom: start + 14 * day, noticeWeeks: 1 };
    expect(holdsFrom([first, second], start + day, zone)).toBe(start + 15 * day);
    expect(holdsFrom([first, second], start + 20 * day, zone)).toBe(start + 27 * day);
  });
  it('of two in one day never lets the later hold before the earlier', () => {
    const first = { holdsFrom: start, noticeWeeks: 4 };
    const second = { holdsFrom: start + 28 * day, noticeWeeks: 1 };
    expect(holdsFrom([first, second], start, zone)).toBe(second.holdsFrom);
  });
  it('counts weeks by the calendar where clocks change', () => {
    const spring = Date.UTC(2027, 2, 20, 9);
    expect(noticeEnd(spring, 2, zone)).toBe(spring + 14 * day - 3_600_000);
  });
  it('is never overtaken, whatever is published when', () => {
    const seed = 20270312;
    const random = new Seeded(seed);
    let published = 0;
    for (let history = 0; history < 300; history += 1) {
      const all: (Announced & { at: number })[] = [];
      let at = start;
      for (let n = 0; n < random.whole(1, 9); n += 1) {
        at += random.chance(0.3) ? 0 : random.whole(0, 40 * 24) * 3_600_000;
        const promised = inForceAt(all, at)?.noticeWeeks;
        const made = { at, noticeWeeks: random.whole(1, 4), holdsFrom: holdsFrom(all, at, zone) };
        // nobody is given less than what the version in force promised, and none is overtaken
        if (promised !== undefined)
          expect(made.holdsFrom).toBeGreaterThanOrEqual(noticeEnd(at, promised, zone));
        for (const earlier of all) expect(made.holdsFrom).toBeGreaterThanOrEqual(earlier.holdsFrom);
        all.push(made);
        published += 1;
      }
      // at every moment the newest of those that hold is the one in force, and it only moves forward
      const numbers = Array.from({ length: 60 }, (_, i) => inForceAt(all, start + i * 4 * day)).map((v) =>
        v ? all.indexOf(v as (typeof all)[number]) : -1,
      );
      expect(numbers).toEqual([...numbers].sort((a, b) => a - b));
    }
    expect(published).toBeGreaterThan(900);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays } from '../calendar/zone';
import { addCounts, figuresOf, noCounts, type Counts } from './measures';
import { sliding, trendOf, weekly, windowsOf } from './trend';

const first = '2027-01-01';
const dayOf = (i: number) => addDays(first, i);
const dated = (days: readonly Counts[]) => days.map((counts, i) => ({ day: dayOf(i), ...counts }));

const counts = fc.record({
  clicks: fc.nat(500),
  orders: fc.nat(40),
  renewals: fc.nat(40),
  value: fc.nat(900_000),
  firstValue: fc.nat(900_000),
  corrected: fc.nat(9_000),
  granted: fc.nat(90_000),
  reversed: fc.nat(9_000),
});

describe('figures over sliding windows', () => {
  it('has none before the window is filled', () => {
    const days = Array.from({ length: 9 }, () => ({ ...noCounts, clicks: 2 }));
    expect(sliding(days, 7).map((f) => f?.clicks ?? null)).toEqual([
      ...Array<null>(6).fill(null),
      14,
      14,
      14,
    ]);
  });

  it('counts every window as if it stood alone', () => {
    fc.assert(
      fc.property(
        fc.array(counts, { minLength: 1, maxLength: 50 }),
        fc.integer({ min: 1, max: 30 }),
        (days, n) => {
          sliding(days, n).forEach((figures, i) => {
            let sum = noCounts;
            for (let d = i; d > i - n; d--) sum = addCounts(sum, days[d] ?? noCounts);
            expect(figures).toEqual(i + 1 < n ? null : figuresOf(sum));
          });
        },
      ),
    );
  });

  it('draws a count a day, so that steady days are one height in both windows', () => {
    const days = dated(Array.from({ length: 40 }, () => ({ ...noCounts, clicks: 12 })));
    const last = trendOf(windowsOf(days), { of: 'clicks', shown: 10, isCount: true }).at(-1)!;
    expect(last).toEqual({ day: dayOf(39), week: 84, month: 360, weekDrawn: 12, monthDrawn: 12 });
  });

  it('draws a share as it is, and none where there were no clicks', () => {
    const days = dated(
      Array.from({ length: 31 }, (_, i) => ({
        ...noCounts,
        clicks: i < 24 ? 10 : 0,
        orders: i < 24 ? 1 : 0,
      })),
    );
    const last = trendOf(windowsOf(days), { of: 'conversion', shown: 1, isCount: false })[0]!;
    expect(last.week).toBeNull();
    expect(last.weekDrawn).toBeNull();
    expect(last.monthDrawn).toBe(last.month);
    expect(last.month).toBe(100_000);
  });

  it('shows the last days alone, and of those the end of each week', () => {
    const days = dated(Array.from({ length: 60 }, () => noCounts));
    const points = trendOf(windowsOf(days), { of: 'orders', shown: 21, isCount: true });
    expect(points.map((p) => p.day)).toEqual(Array.from({ length: 21 }, (_, i) => dayOf(39 + i)));
    expect(weekly(points).map((p) => p.day)).toEqual([dayOf(45), dayOf(52), dayOf(59)]);
    expect(weekly(points.slice(0, 3)).map((p) => p.day)).toEqual([dayOf(41)]);
    expect(weekly([])).toEqual([]);
  });
});

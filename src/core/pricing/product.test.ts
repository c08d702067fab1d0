import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  beforeLaunch,
  instalmentsOf,
  leftAtPrice,
  offerNow,
  paymentPrice,
  plainDetails,
  renewalMoment,
  steppedPrice,
} from './product';

const zone = 'Europe/Lisbon';
const at = (text: string) => Date.parse(text);

describe('a stepped price', () => {
  const stepped = { step: 50, every: 5, ceiling: 1400 };
  it('rises by a step every n sales, up to its ceiling', () => {
    expect([1, 5, 6, 10, 11, 16, 20, 21, 500].map((k) => steppedPrice(1200, stepped, k))).toEqual([
      1200, 1200, 1250, 1250, 1300, 1350, 1350, 1400, 1400,
    ]);
  });
  it('says how many are left at it, and nothing at the ceiling', () => {
    expect([1, 2, 5, 6, 20, 21].map((k) => leftAtPrice(1200, stepped, k))).toEqual([5, 4, 1, 5, 1, null]);
  });
  it('is asked with what stock and the step leave, whichever ends first', () => {
    expect(offerNow(1200, { stepped, stock: null }, 3)).toEqual({ price: 1200, inStock: null, left: 2 });
    expect(offerNow(1200, { stepped, stock: 4 }, 3)).toEqual({ price: 1200, inStock: 1, left: 1 });
    expect(offerNow(1200, { stepped, stock: 30 }, 25)).toEqual({ price: 1400, inStock: 5, left: 5 });
    expect(offerNow(1200, { stepped: null, stock: 4 }, 9)).toEqual({ price: 1200, inStock: 0, left: 0 });
    expect(offerNow(1200, { stepped: null, stock: null }, 9)).toEqual({
      price: 1200,
      inStock: null,
      left: null,
    });
  });
  it('the number left is true: so many sales have this price, the next has another', () => {
    fc.assert(
      fc.property(
        fc.record({
          start: fc.integer({ min: 1, max: 5000 }),
          step: fc.integer({ min: 1, max: 300 }),
          every: fc.integer({ min: 1, max: 12 }),
          room: fc.integer({ min: 0, max: 3000 }),
          k: fc.integer({ min: 1, max: 200 }),
        }),
        ({ start, step, every, room, k }) => {
          const price = { step, every, ceiling: start + room };
          const left = leftAtPrice(start, price, k);
          fc.pre(left !== null);
          for (let i = 0; i < left!; i += 1)
            expect(steppedPrice(start, price, k + i)).toBe(steppedPrice(start, price, k));
          expect(steppedPrice(start, price, k + left!)).toBeGreaterThan(steppedPrice(start, price, k));
        },
      ),
    );
  });
});

describe('renewals', () => {
  const monthly = { trialDays: 0, interval: 'month' as const, intervalDays: 30 };
  const days = (sold: string, details: Parameters<typeof renewalMoment>[1], numbers: number[]) =>
    numbers.map((n) => new Date(renewalMoment(at(sold), details, n, zone)).toISOString().slice(0, 10));
  it('keep the day of month', () => {
    expect(days('2027-01-31T10:00:00Z', monthly, [2, 3, 4, 5])).toEqual([
      '2027-02-28',
      '2027-03-31',
      '2027-04-30',
      '2027-05-31',
    ]);
    expect(days('2028-01-31T10:00:00Z', monthly, [2])).toEqual(['2028-02-29']);
  });
  it('begin after the trial and count from there', () => {
    expect(days('2027-01-20T10:00:00Z', { ...monthly, trialDays: 14 }, [2, 3])).toEqual([
      '2027-02-03',
      '2027-03-03',
    ]);
  });
  it('keep the time of day across daylight saving', () => {
    expect(new Date(renewalMoment(at('2027-03-10T10:00:00Z'), monthly, 2, zone)).toISOString()).toBe(
      '2027-04-10T09:00:00.000Z',
    );
  });
  it('by week, quarter, year and days', () => {
    const daysOf = (interval: 'week' | 'quarter' | 'year' | 'days') =>
      days('2027-01-31T10:00:00Z', { ...monthly, interval, intervalDays: 10 }, [2, 3]);
    expect([daysOf('week'), daysOf('quarter'), daysOf('year'), daysOf('days')]).toEqual([
      ['2027-02-07', '2027-02-14'],
      ['2027-04-30', '2027-07-31'],
      ['2028-01-31', '2029-01-31'],
      ['2027-02-10', '2027-02-20'],
    ]);
  });
  it('come to the renewal price, until they are used up', () => {
    const box = { ...plainDetails, renewalPrice: 2400, renewals: 2 };
    expect([1, 2, 3, 4].map((n) => paymentPrice('recurring', 500, box, n))).toEqual([500, 2400, 2400, null]);
    expect(paymentPrice('recurring', 500, { ...box, renewals: null }, 99)).toBe(2400);
    expect(paymentPrice('one-off', 500, plainDetails, 2)).toBeNull();
  });
});

describe('instalments', () => {
  it('lose and make nothing', () => {
    expect(instalmentsOf(10_000, 3)).toEqual([3334, 3333, 3333]);
    expect(
      [1, 3, 4].map((n) => paymentPrice('instalments', 10_000, { ...plainDetails, instalments: 3 }, n)),
    ).toEqual([3334, 3333, null]);
  });
});

describe('a launch', () => {
  it('is before until its moment, if there is a page to lead to', () => {
    expect(
      [99, 100].map((now) => beforeLaunch({ launchAt: 100, prelaunchPage: 'https://x.example' }, now)),
    ).toEqual([true, false]);
    expect(beforeLaunch({ launchAt: 100, prelaunchPage: '' }, 5)).toBe(false);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { startOfDay } from '../calendar/zone';
import { comingOf, lastClearing, recentSince, type Earned } from './coming';

const zone = 'Europe/Lisbon';
const programme = { zone, currency: 'EUR' };
const at = (day: string, hour = 9) => startOfDay(day, zone) + hour * 3_600_000;
const now = at('2027-03-12');
const nothing: Earned = {
  paid: [],
  inRun: 0,
  cleared: 0,
  held: [],
  recent: { amount: 0, orders: 0, lag: 0 },
};
const week = (day: string) => startOfDay(day, zone);

describe('what comes to an affiliate, and what it may expect', () => {
  it('paid, in the next payout, waiting by week, and expected, in the order of time', () => {
    const columns = comingOf(
      {
        paid: [{ at: at('2027-03-02'), amount: 23_669 }],
        inRun: 500,
        cleared: 7774,
        // a Sunday and the Monday before it are of one week, the Monday after is of the next
        held: [
          { clearsAt: at('2027-03-15'), amount: 103 },
          { clearsAt: at('2027-03-21'), amount: 200 },
          { clearsAt: at('2027-03-22'), amount: 50 },
        ],
        recent: { amount: 24_001, orders: 11, lag: 15 * 86_400_000 },
      },
      now,
      programme,
    );
    expect(columns).toEqual([
      { kind: 'paid', at: at('2027-03-02'), amount: 23_669, isRest: false },
      { kind: 'in-run', at: null, amount: 500, isRest: false },
      { kind: 'cleared', at: null, amount: 7774, isRest: false },
      { kind: 'held', at: week('2027-03-15'), amount: 303, isRest: false },
      { kind: 'held', at: week('2027-03-22'), amount: 50, isRest: false },
      // what is sold now clears in the week of 27 March: the week after it is the first that is not sold yet
      { kind: 'expected', at: week('2027-03-29'), amount: 6000, isRest: false },
      { kind: 'expected', at: week('2027-04-05'), amount: 6000, isRest: false },
      { kind: 'expected', at: week('2027-04-12'), amount: 6000, isRest: false },
    ]);
  });

  it('where what was sold waits longer than usual, the expected begins after it', () => {
    const columns = comingOf(
      {
        ...nothing,
        held: [{ clearsAt: at('2027-05-04'), amount: 10 }],
        recent: { amount: 4000, orders: 5, lag: 0 },
      },
      now,
      programme,
    );
    expect(columns[1]).toMatchObject({ kind: 'expected', at: week('2027-05-10'), amount: 1000 });
  });

  it('is said in whole units of the currency', () => {
    const recent = { amount: 23_943, orders: 9, lag: 0 };
    const weekly = (currency: string) => comingOf({ ...nothing, recent }, now, { zone, currency })[0]?.amount;
    expect(weekly('EUR')).toBe(6000);
    expect(weekly('JPY')).toBe(5986);
    expect(comingOf({ ...nothing, recent: { ...recent, amount: 180 } }, now, programme)).toEqual([]);
  });

  it('few orders say nothing about the next weeks, and what was taken back neither', () => {
    const recent = { amount: 40_000, orders: 4, lag: 0 };
    expect(comingOf({ ...nothing, recent }, now, programme)).toEqual([]);
    expect(comingOf({ ...nothing, recent: { amount: -50, orders: 9, lag: 0 } }, now, programme)).toEqual([]);
  });
});

describe('the columns of what comes', () => {
  it('of payments the last two stand there, the older first', () => {
    const paid = ['2027-03-10', '2027-03-03', '2027-02-20'].map((day, i) => ({
      at: at(day),
      amount: 100 + i,
    }));
    expect(comingOf({ ...nothing, paid }, now, programme).map((c) => c.amount)).toEqual([101, 100]);
  });

  it('a balance below zero is said as it is', () => {
    const [column] = comingOf({ ...nothing, cleared: -450 }, now, programme);
    expect(column).toMatchObject({ kind: 'cleared', amount: -450 });
  });

  it('whatever waits: the columns sum to what is owed, in the order of weeks, the rest with the fourth', () => {
    const part = fc.record({
      clearsAt: fc.integer({ min: now, max: now + 120 * 86_400_000 }),
      amount: fc.integer({ min: 1, max: 1_000_000 }),
    });
    let more = 0;
    fc.assert(
      fc.property(fc.array(part, { maxLength: 30 }), fc.nat(1000), (held, cleared) => {
        const columns = comingOf({ ...nothing, held, cleared }, now, programme);
        const owed = held.reduce((sum, h) => sum + h.amount, cleared);
        expect(columns.reduce((sum, c) => sum + c.amount, 0)).toBe(owed);
        const weeks = columns.filter((c) => c.kind === 'held').map((c) => c.at!);
        expect([...weeks].sort((a, b) => a - b)).toEqual(weeks);
        expect(weeks.length).toBeLessThanOrEqual(4);
        if (columns.some((c) => c.isRest)) more += 1;
      }),
      { seed: 20270312 },
    );
    expect(more).toBeGreaterThan(20);
  });
});

it('what waits is cleared with the last of it', () => {
  expect(lastClearing([])).toBeNull();
  expect(
    lastClearing([
      { clearsAt: 5, amount: 1 },
      { clearsAt: 9, amount: 1 },
    ]),
  ).toBe(9);
  expect(now - recentSince(now)).toBe(28 * 86_400_000);
});

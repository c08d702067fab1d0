import { describe, expect, it } from 'vitest';
import { describeAge } from '../calendar/format';
import { looksAutomated } from './automated';
import { creditFor, type Visit } from './credit';
import type { Barred } from './lists';

const day = 86_400_000;
const now = Date.parse('2027-03-12T12:00:00Z');
const visit = (id: string, affiliate: string, daysAgo: number, barred: Barred | null = null): Visit => ({
  id,
  affiliate,
  product: null,
  at: now - daysAgo * day,
  barred,
});
const credit = (named: Visit | null, stored: Visit[] = [], namedUnknown = false) =>
  creditFor({ placedAt: now, windowDays: 30, named, stored, namedUnknown });

describe('who is credited', () => {
  it('the visit that the report names, whatever else is stored', () => {
    expect(credit(visit('v1', 'ann', 3), [visit('v2', 'bob', 1)])).toMatchObject({
      affiliate: 'ann',
      visit: 'v1',
      by: 'visit',
      reason: { code: 'visit', age: 3 * day },
    });
  });
  it('the visitor’s last visit inside the window', () => {
    const found = credit(null, [visit('v1', 'ann', 20), visit('v2', 'bob', 2), visit('v3', 'cem', 40)]);
    expect(found).toMatchObject({ affiliate: 'bob', by: 'visitor' });
    expect(found.considered.map((c) => c.outcome)).toEqual([
      { code: 'last' },
      { code: 'earlier' },
      { code: 'outside', days: 30, over: 10 * day },
    ]);
  });
  it('counts the edge of the window as inside', () => {
    expect(credit(visit('v1', 'ann', 30)).affiliate).toBe('ann');
    expect(credit({ ...visit('v1', 'ann', 30), at: now - 30 * day - 1 }).affiliate).toBeNull();
  });
  it('a visit that cannot earn is passed over and named', () => {
    expect(credit(visit('v1', 'ann', 1, 'affiliate-paused'))).toMatchObject({
      affiliate: null,
      reason: { code: 'not-counted', affiliate: 'ann', why: { code: 'barred', by: 'affiliate-paused' } },
    });
    expect(credit(visit('v1', 'ann', 1, 'affiliate-paused'), [visit('v2', 'bob', 5)]).affiliate).toBe('bob');
  });
  it('a named visit later than the order proves only that the shop’s clock is behind', () => {
    expect(credit(visit('v1', 'ann', -4))).toMatchObject({
      affiliate: 'ann',
      reason: { code: 'visit', age: 0 },
    });
  });
  it('a stored visit after the order is not looked at', () => {
    expect(credit(null, [visit('v1', 'ann', -1)]).affiliate).toBeNull();
  });
  it('says why nobody is', () => {
    expect(credit(null).reason).toEqual({ code: 'no-visit' });
    expect(credit(null, [], true).reason).toEqual({ code: 'visit-unknown' });
  });
});

it.each([
  [5 * day, '5 days'],
  [day, '1 day'],
  [7_200_000, '2 hours'],
  [61_000, '1 minute'],
  [3, 'less than a minute'],
])('%i ms reads %s', (ms, text) => {
  expect(describeAge(ms)).toBe(text);
});

it('keeps programs that walk pages apart, and only those', () => {
  expect(
    ['Examplebot/2.1 (+https://walker.example)', 'page-crawler', 'Some Spider 1.0'].map(looksAutomated),
  ).toEqual([true, true, true]);
  expect(['Mozilla/5.0 (X11; Linux x86_64) Chrome/140', undefined, 'node'].map(looksAutomated)).toEqual([
    false,
    false,
    false,
  ]);
});

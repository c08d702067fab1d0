import { describe, expect, it } from 'vitest';
import { describeAge } from '../calendar/format';
import type { Id } from '../text/id';
import { looksAutomated } from './automated';
import { creditFor, type Visit } from './credit';
import type { Barred } from './lists';

const day = 86_400_000;
const now = Date.parse('2027-03-12T12:00:00Z');
const visit = (
  id: Id<'visit'>,
  affiliate: Id<'affiliate'>,
  daysAgo: number,
  barred: Barred | null = null,
): Visit => ({
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
    expect(credit(visit('vis_v1', 'aff_ann', 3), [visit('vis_v2', 'aff_bob', 1)])).toMatchObject({
      affiliate: 'aff_ann',
      visit: 'vis_v1',
      by: 'visit',
      reason: { code: 'visit', age: 3 * day },
    });
  });
  it('the visitor’s last visit inside the window', () => {
    const found = credit(null, [
      visit('vis_v1', 'aff_ann', 20),
      visit('vis_v2', 'aff_bob', 2),
      visit('vis_v3', 'aff_cem', 40),
    ]);
    expect(found).toMatchObject({ affiliate: 'aff_bob', by: 'visitor' });
    expect(found.considered.map((c) => c.outcome)).toEqual([
      { code: 'last' },
      { code: 'earlier' },
      { code: 'outside', days: 30, over: 10 * day },
    ]);
  });
  it('counts the edge of the window as inside', () => {
    expect(credit(visit('vis_v1', 'aff_ann', 30)).affiliate).toBe('aff_ann');
    expect(credit({ ...visit('vis_v1', 'aff_ann', 30), at: now - 30 * day - 1 }).affiliate).toBeNull();
  });
  it('a visit that cannot earn is passed over and named', () => {
    expect(credit(visit('vis_v1', 'aff_ann', 1, 'affiliate-paused'))).toMatchObject({
      affiliate: null,
      reason: { code: 'not-counted', affiliate: 'aff_ann', why: { code: 'barred', by: 'affiliate-paused' } },
    });
    expect(
      credit(visit('vis_v1', 'aff_ann', 1, 'affiliate-paused'), [visit('vis_v2', 'aff_bob', 5)]).affiliate,
    ).toBe('aff_bob');
  });
  it('a named visit later than the order proves only that the shop’s clock is behind', () => {
    expect(credit(visit('vis_v1', 'aff_ann', -4))).toMatchObject({
      affiliate: 'aff_ann',
      reason: { code: 'visit', age: 0 },
    });
  });
  it('a stored visit after the order is not looked at', () => {
    expect(credit(null, [visit('vis_v1', 'aff_ann', -1)]).affiliate).toBeNull();
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

import { describe, expect, it } from 'vitest';
import { formatAge, formatAgo, formatDay, formatEnd, formatMoment, formatWeekday } from './format';
import { addDays, addZonedDays, dayOf, daysBetween, isDay, isZone, momentOf, startOfDay } from './zone';

const lisbon = 'Europe/Lisbon';
const at = (iso: string) => Date.parse(iso);

describe('days in a zone', () => {
  it('cuts the day at the zone’s midnight', () => {
    expect(dayOf(at('2027-07-01T22:59:59Z'), lisbon)).toBe('2027-07-01');
    expect(dayOf(at('2027-07-01T23:00:00Z'), lisbon)).toBe('2027-07-02');
    expect(startOfDay('2027-07-02', lisbon)).toBe(at('2027-07-01T23:00:00Z'));
    expect(startOfDay('2027-01-02', lisbon)).toBe(at('2027-01-02T00:00:00Z'));
  });
  it('keeps the wall clock when days are added across daylight saving', () => {
    // Lisbon goes to summer time on 28 March 2027
    expect(addZonedDays(at('2027-03-20T14:05:00Z'), 17, lisbon)).toBe(at('2027-04-06T13:05:00Z'));
    expect(addZonedDays(at('2027-03-20T14:05:00Z'), 0, lisbon)).toBe(at('2027-03-20T14:05:00Z'));
  });
  it('gives the skipped hour one moment and the repeated hour its first', () => {
    expect(momentOf(Date.parse('2027-03-28T01:30:00Z'), lisbon)).toBe(at('2027-03-28T01:30:00Z'));
    expect(momentOf(Date.parse('2027-10-31T01:30:00Z'), lisbon)).toBe(at('2027-10-31T00:30:00Z'));
  });
  it('counts days over month ends and leap days', () => {
    expect(addDays('2028-02-28', 1)).toBe('2028-02-29');
    expect(addDays('2027-03-01', -1)).toBe('2027-02-28');
    expect(daysBetween('2027-02-27', '2027-03-02')).toEqual(['2027-02-27', '2027-02-28', '2027-03-01']);
    expect(daysBetween('2027-03-02', '2027-03-02')).toEqual([]);
  });
  it('knows which zones exist', () => {
    expect(isZone(lisbon)).toBe(true);
    expect(isZone('Atlantis/Capital')).toBe(false);
  });
});

describe('days of the calendar', () => {
  it.each([
    ['2027-02-28', true],
    ['2027-02-30', false],
    ['2028-02-29', true],
    ['2027-02-29', false],
    ['2027-13-01', false],
    ['2027-4-1', false],
    ['', false],
    ['2027-04-31', false],
    ['yesterday', false],
  ])('%s: %s', (text, is) => {
    expect(isDay(text)).toBe(is);
  });
});

describe('dates for people', () => {
  const moment = at('2027-07-12T13:05:00Z');
  it('reads in the programme’s zone', () => {
    expect(formatDay(moment, lisbon)).toBe('12 Jul 2027');
    expect(formatMoment(moment, lisbon)).toBe('12 Jul 2027, 14:05');
    expect(formatWeekday(moment, lisbon)).toBe('Monday 12 Jul');
  });
  it.each([
    [0, 'now'],
    [59_999, 'now'],
    [60_000, '1 min'],
    [3_599_999, '59 min'],
    [7_200_000, '2 h'],
    [3 * 86_400_000, '3 d'],
    [-5, 'now'],
  ])('%i ms ago is %s', (ms, text) => {
    expect(formatAge(1_000_000_000, 1_000_000_000 + ms)).toBe(text);
    expect(formatAgo(1_000_000_000, 1_000_000_000 + ms)).toBe(text === 'now' ? 'just now' : `${text} ago`);
  });
});

it.each(['Europe/Lisbon', 'America/Los_Angeles', 'Pacific/Auckland', 'UTC'])(
  'an end at midnight has the day before as its last day, in %s',
  (zone) => {
    expect(formatEnd(startOfDay('2027-04-01', zone), zone)).toBe('31 Mar 2027');
    // the hour is put on that night in Lisbon: the day is shorter, it still has one midnight
    expect(formatEnd(startOfDay('2027-03-29', zone), zone)).toBe('28 Mar 2027');
    expect(formatEnd(startOfDay('2027-04-01', zone) + 14 * 3_600_000, zone)).toBe('1 Apr 2027, 14:00');
    expect(formatEnd(startOfDay('2027-04-01', zone) - 1, zone)).toBe('31 Mar 2027, 23:59');
  },
);

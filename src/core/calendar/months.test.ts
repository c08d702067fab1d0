import { describe, expect, it } from 'vitest';
import { Seeded } from '../../demo/random';
import { addMonths, addZonedDays, addZonedMonths, dayOf, momentOf, offsetAt } from './zone';

describe('a day moved by months', () => {
  it.each([
    ['2027-01-31', 1, '2027-02-28'],
    ['2027-01-31', 2, '2027-03-31'],
    ['2028-01-31', 1, '2028-02-29'],
    ['2028-02-29', 12, '2029-02-28'],
    ['2027-12-15', 1, '2028-01-15'],
    ['2027-03-31', -1, '2027-02-28'],
    ['2027-01-15', -1, '2026-12-15'],
    ['2027-05-05', 0, '2027-05-05'],
    ['2027-11-30', 3, '2028-02-29'],
  ])('%s and %i months is %s', (day, months, moved) => {
    expect(addMonths(day, months)).toBe(moved);
  });

  it('is in the month that was asked for, on its day or on the month’s last', () => {
    const random = new Seeded(7);
    for (let n = 0; n < 2_000; n += 1) {
      const day = `${random.whole(1990, 2060)}-${String(random.whole(1, 12)).padStart(2, '0')}-${String(random.whole(1, 28)).padStart(2, '0')}`;
      const months = random.whole(-50, 50);
      const moved = addMonths(day, months);
      const index = (text: string) => Number(text.slice(0, 4)) * 12 + Number(text.slice(5, 7));
      expect(index(moved) - index(day), `${day} + ${months}`).toBe(months);
      expect(moved.slice(8)).toBe(day.slice(8));
      expect(addMonths(moved, -months)).toBe(day);
    }
  });
});

describe('a moment moved in a zone keeps its time on the wall', () => {
  const at = (text: string) => Date.parse(text);
  it.each([
    // the clocks go forward on 28 March 2027 and back on 31 October
    ['2027-03-12T09:00:00Z', 1, 'Europe/Lisbon', '2027-04-12T08:00:00Z'],
    ['2027-10-12T08:00:00Z', 1, 'Europe/Lisbon', '2027-11-12T09:00:00Z'],
    ['2027-01-31T23:30:00Z', 1, 'Europe/Lisbon', '2027-02-28T23:30:00Z'],
    // half past eleven in Lisbon is the next day in Berlin: the day is the zone's
    ['2027-01-30T23:30:00Z', 1, 'Europe/Berlin', '2027-02-27T23:30:00Z'],
    ['2027-01-10T05:00:00Z', 12, 'America/New_York', '2028-01-10T05:00:00Z'],
    ['2027-03-12T09:00:00Z', 0, 'Europe/Lisbon', '2027-03-12T09:00:00Z'],
  ])('%s and %i months in %s is %s', (moment, months, zone, moved) => {
    expect(new Date(addZonedMonths(at(moment), months, zone)).toISOString()).toBe(
      new Date(at(moved)).toISOString(),
    );
  });

  it('in an hour that the clock skips it is the moment it would be without the skip', () => {
    const skipped = addZonedMonths(at('2027-02-28T01:30:00Z'), 1, 'Europe/Lisbon');
    expect(new Date(skipped).toISOString()).toBe('2027-03-28T01:30:00.000Z');
    expect(dayOf(skipped, 'Europe/Lisbon')).toBe('2027-03-28');
  });

  it('by days as by months, whatever the zone and the season', () => {
    const random = new Seeded(11);
    const zones = ['Europe/Lisbon', 'America/New_York', 'Asia/Kolkata', 'Australia/Lord_Howe', 'UTC'];
    let [same, moved] = [0, 0];
    for (let n = 0; n < 1_000; n += 1) {
      const zone = random.pick(zones);
      const begin = at('2027-01-01T00:00:00Z') + random.whole(0, 720) * 3_600_000 * 24;
      const noon = momentOf(Date.parse(`${dayOf(begin, zone)}T12:00:00Z`), zone);
      for (const later of [
        addZonedDays(noon, random.whole(1, 400), zone),
        addZonedMonths(noon, random.whole(1, 14), zone),
      ]) {
        expect((later + offsetAt(later, zone)) % 86_400_000, `${zone} ${noon}`).toBe(43_200_000);
        if (offsetAt(later, zone) === offsetAt(noon, zone)) same += 1;
        else moved += 1;
      }
    }
    // both happened often: over a change of the clock, and without one
    expect(Math.min(same, moved)).toBeGreaterThan(100);
  });
});

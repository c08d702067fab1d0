import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatDay } from './format';
import { readTypedDay } from './typed';
import { addDays, startOfDay } from './zone';

const today = '2027-03-12';
const read = (text: string) => readTypedDay(text, today);

describe('a day as it is typed', () => {
  it.each([
    ['2027-04-05', '2027-04-05'],
    ['2027-4-5', '2027-04-05'],
    ['5 Apr 2027', '2027-04-05'],
    ['05 april 2027', '2027-04-05'],
    ['5. April 2027', '2027-04-05'],
    ['5 sept', '2027-09-05'],
    ['  5   Apr  ', '2027-04-05'],
    ['5.4.2027', '2027-04-05'],
    ['5.4.', '2027-04-05'],
    ['29 Feb 2028', '2028-02-29'],
    ['25/4/2027', '2027-04-25'],
    ['4/25/2027', '2027-04-25'],
    ['5/5/2027', '2027-05-05'],
    ['today', '2027-03-12'],
    ['Tomorrow', '2027-03-13'],
    ['yesterday', '2027-03-11'],
    ['', ''],
    ['   ', ''],
  ])('reads “%s” as %s', (text, day) => {
    expect(read(text)).toEqual({ day });
  });

  it.each([
    ['31 Feb 2027', 'is not a day of the calendar'],
    ['29 Feb 2027', 'is not a day of the calendar'],
    ['2027-13-01', 'is not a day of the calendar'],
    ['0.4.2027', 'is not a day of the calendar'],
    ['32/13/2027', 'is not a day of the calendar'],
    ['4/5/2027', 'can be read as two days'],
    ['5 Ju', 'is not a day'],
    ['5 Xyz 2027', 'is not a day'],
    ['12.3.0027', 'is too long ago'],
    ['soon', 'is not a day'],
    ['valueOf', 'is not a day'],
    ['12', 'is not a day'],
    ['12 Mar 27', 'is not a day'],
  ])('refuses “%s”, which %s', (text, fault) => {
    expect(read(text)).toEqual({ fault });
  });

  it('reads back every day in the way days are shown', () => {
    fc.assert(
      fc.property(fc.integer({ min: -20_000, max: 60_000 }), (days) => {
        const day = addDays(today, days);
        expect(read(formatDay(startOfDay(day, 'Europe/Lisbon'), 'Europe/Lisbon'))).toEqual({ day });
      }),
    );
  });

  it('gives a day, nothing or a fault for whatever is typed', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const typed = read(text);
        expect('fault' in typed || typed.day === '' || /^\d{4}-\d\d-\d\d$/.test(typed.day)).toBe(true);
      }),
    );
  });
});

import { addDays, isDay, type Day } from './zone';

/** What was typed as a day: the day, nothing at all, or why it is none, as the end of a sentence. */
export type TypedDay = { day: Day } | { day: '' } | { fault: string };

/** Words for days, as days from today. */
const words = new Map([
  ['yesterday', -1],
  ['today', 0],
  ['tomorrow', 1],
]);

/**
 * Reads a day as people write it: “12 Mar 2027”, “12 march”, “12.3.2027”, “2027-03-12”, “tomorrow”.
 * Without a year it is the year of today. Numbers between strokes are read in one order here and in another
 * there, so they count only where both orders give the same day.
 * @param today the programme's day, "2027-03-12"
 */
export function readTypedDay(text: string, today: Day): TypedDay {
  const typed = text.trim().toLowerCase().replace(/\s+/g, ' ');
  if (typed === '') return { day: '' };
  const days = words.get(typed);
  if (days !== undefined) return { day: addDays(today, days) };
  if (/^\d{1,2}\/\d{1,2}\/\d{4}$/.test(typed)) return betweenStrokes(typed);
  const parts = partsOf(typed, today);
  if (!parts) return { fault: 'is not a day' };
  // “12.3.0027” is a slip of the finger, and no year that anything here happens in
  if (parts.year < 1900) return { fault: 'is too long ago' };
  return calendarDay(parts) ?? { fault: 'is not a day of the calendar' };
}

interface Parts {
  year: number;
  month: number;
  day: number;
}

/** Year, month and day of one of the ways a day is written in one order alone. */
function partsOf(typed: string, today: Day): Parts | null {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(typed);
  if (iso) return { year: Number(iso[1]), month: Number(iso[2]), day: Number(iso[3]) };
  const dotted = /^(\d{1,2})\. ?(\d{1,2})\. ?(\d{4})?$/.exec(typed);
  if (dotted) {
    const year = dotted[3] ?? today.slice(0, 4);
    return { year: Number(year), month: Number(dotted[2]), day: Number(dotted[1]) };
  }
  const worded = /^(\d{1,2})\.? ?([a-z]{3,9})\.?,?(?: (\d{4}))?$/.exec(typed);
  if (!worded) return null;
  const month = monthOf(worded[2]!);
  if (month === 0) return null;
  return { year: Number(worded[3] ?? today.slice(0, 4)), month, day: Number(worded[1]) };
}

const fullNames = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
];

/** 1 to 12 for a month's name or its beginning of three letters or more, 0 for any other word. */
function monthOf(word: string): number {
  return fullNames.findIndex((name) => name.startsWith(word)) + 1;
}

function calendarDay({ year, month, day }: Parts): { day: Day } | null {
  const text = `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`;
  return isDay(text) ? { day: text } : null;
}

const two = (n: number) => String(n).padStart(2, '0');

function betweenStrokes(typed: string): TypedDay {
  const [first, second, year] = typed.split('/').map(Number) as [number, number, number];
  const readings = [
    calendarDay({ year, month: second, day: first }),
    calendarDay({ year, month: first, day: second }),
  ].filter((read) => read !== null);
  if (readings.length === 0) return { fault: 'is not a day of the calendar' };
  const [one, other] = readings;
  if (other && other.day !== one!.day) return { fault: 'can be read as two days' };
  return one!;
}

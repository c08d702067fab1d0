import { counted } from '../text/counted';
import { dayOf, millisecondsInDay, offsetAt, startOfDay } from './zone';

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const weekdays = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

function local(moment: number, zone: string): Date {
  return new Date(moment + offsetAt(moment, zone));
}

/** "12 Mar 2027" in the zone. */
export function formatDay(moment: number, zone: string): string {
  const d = local(moment, zone);
  return `${d.getUTCDate()} ${months[d.getUTCMonth()]} ${d.getUTCFullYear()}`;
}

/** "12 Mar 2027, 14:05" in the zone. */
export function formatMoment(moment: number, zone: string): string {
  return `${formatDay(moment, zone)}, ${local(moment, zone).toISOString().slice(11, 16)}`;
}

/**
 * The last day of something whose end is exclusive: one that ends at midnight has the day before as its last day,
 * "31 Mar 2027"; any other end is a moment, "1 Apr 2027, 14:00".
 * @param until UTC milliseconds, exclusive
 */
export function formatEnd(until: number, zone: string): string {
  const isMidnight = startOfDay(dayOf(until, zone), zone) === until;
  return isMidnight ? formatDay(until - 1, zone) : formatMoment(until, zone);
}

/** Weekday and day in the zone, without the year: "Friday 12 Mar". */
export function formatWeekday(moment: number, zone: string): string {
  const d = local(moment, zone);
  return `${weekdays[d.getUTCDay()]} ${d.getUTCDate()} ${months[d.getUTCMonth()]}`;
}

const units = [
  { size: millisecondsInDay, short: 'd', word: 'day' },
  { size: 3_600_000, short: 'h', word: 'hour' },
  { size: 60_000, short: 'min', word: 'minute' },
] as const;

/** A stretch of time in its largest whole unit; null below a minute. */
function inLargestUnit(milliseconds: number) {
  const unit = units.find(({ size }) => milliseconds >= size);
  return unit ? { ...unit, n: Math.floor(milliseconds / unit.size) } : null;
}

/** An age from one moment to another (UTC milliseconds), short: "3 d", "5 h", "2 min", "now". */
export function formatAge(from: number, now: number): string {
  const age = inLargestUnit(now - from);
  return age ? `${age.n} ${age.short}` : 'now';
}

/** A stretch of time in milliseconds, in words: "3 days", "5 hours", "1 minute", "less than a minute". */
export function describeAge(milliseconds: number): string {
  const age = inLargestUnit(milliseconds);
  return age ? counted(age.n, age.word) : 'less than a minute';
}

/** How long ago something was: "3 d ago", "just now". */
export function formatAgo(from: number, now: number): string {
  const age = formatAge(from, now);
  return age === 'now' ? 'just now' : `${age} ago`;
}

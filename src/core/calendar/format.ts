import { millisecondsInDay, offsetAt } from './zone';

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

/** "Friday 12 March" style heading: weekday and day. */
export function formatWeekday(moment: number, zone: string): string {
  const d = local(moment, zone);
  return `${weekdays[d.getUTCDay()]} ${d.getUTCDate()} ${months[d.getUTCMonth()]}`;
}

/** An age in the largest whole unit: "3 d", "5 h", "2 min", "now". */
export function formatAge(from: number, now: number): string {
  const age = Math.max(0, now - from);
  if (age >= millisecondsInDay) return `${Math.floor(age / millisecondsInDay)} d`;
  if (age >= 3_600_000) return `${Math.floor(age / 3_600_000)} h`;
  if (age >= 60_000) return `${Math.floor(age / 60_000)} min`;
  return 'now';
}

/** How long ago something was: "3 d ago", "just now". */
export function formatAgo(from: number, now: number): string {
  const age = formatAge(from, now);
  return age === 'now' ? 'just now' : `${age} ago`;
}

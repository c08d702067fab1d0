/** Milliseconds in a day of 24 hours; days of a zone may have 23 or 25. */
export const millisecondsInDay = 86_400_000;

/** A calendar day, "2027-03-12". */
export type Day = string;

const formats = new Map<string, Intl.DateTimeFormat>();

function formatFor(zone: string): Intl.DateTimeFormat {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    });
    formats.set(zone, format);
  }
  return format;
}

/** True if the running system knows the IANA time zone. */
export function isZone(zone: string): boolean {
  try {
    formatFor(zone);
    return true;
  } catch {
    return false;
  }
}

const offsets = new Map<string, Map<number, number>>();
const quarter = 900_000;
const mostKept = 50_000;

/**
 * Offset of a zone from UTC at a moment, in milliseconds (Lisbon in July: 3600000).
 * Offsets only change on quarters of an hour, so one is looked up a quarter and kept: formatting a date is slow.
 */
export function offsetAt(moment: number, zone: string): number {
  let kept = offsets.get(zone);
  if (!kept) offsets.set(zone, (kept = new Map()));
  const bucket = Math.floor(moment / quarter);
  let offset = kept.get(bucket);
  if (offset === undefined) {
    offset = readOffset(bucket * quarter, zone);
    if (kept.size >= mostKept) kept.clear();
    kept.set(bucket, offset);
  }
  return offset;
}

function readOffset(moment: number, zone: string): number {
  const part: Record<string, number> = {};
  for (const { type, value } of formatFor(zone).formatToParts(moment)) part[type] = Number(value);
  const local = Date.UTC(part.year!, part.month! - 1, part.day!, part.hour!, part.minute!, part.second!);
  return local - Math.floor(moment / 1000) * 1000;
}

/** The calendar day of a moment in a zone. */
export function dayOf(moment: number, zone: string): Day {
  return new Date(moment + offsetAt(moment, zone)).toISOString().slice(0, 10);
}

/** The UTC moment of a wall-clock time in a zone. In the hour that a clock skips: the moment it would be without the skip; in the one that repeats: the earlier. */
export function momentOf(localMilliseconds: number, zone: string): number {
  const before = localMilliseconds - offsetAt(localMilliseconds - millisecondsInDay, zone);
  const after = localMilliseconds - offsetAt(localMilliseconds + millisecondsInDay, zone);
  const fits = (moment: number) => moment + offsetAt(moment, zone) === localMilliseconds;
  const fitting = [before, after].filter(fits);
  return fitting.length ? Math.min(...fitting) : before;
}

/** First moment of a day in a zone. */
export function startOfDay(day: Day, zone: string): number {
  return momentOf(Date.parse(`${day}T00:00:00Z`), zone);
}

/** True for a day that the calendar has, as YYYY-MM-DD: 2027-02-30 is none, though it could be counted on from. */
export function isDay(text: string): text is Day {
  return (
    /^\d{4}-\d{2}-\d{2}$/.test(text) &&
    !Number.isNaN(Date.parse(`${text}T00:00:00Z`)) &&
    addDays(text, 0) === text
  );
}

/** A day moved by a number of days: ("2027-02-28", 1) → "2027-03-01". */
export function addDays(day: Day, days: number): Day {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * millisecondsInDay).toISOString().slice(0, 10);
}

/**
 * A moment moved by whole days of the zone: the same wall-clock time, daylight saving or not.
 */
export function addZonedDays(moment: number, days: number, zone: string): number {
  if (days === 0) return moment;
  return momentOf(moment + offsetAt(moment, zone) + days * millisecondsInDay, zone);
}

/** Days from `from` to `to` (exclusive), in order. */
export function daysBetween(from: Day, to: Day): Day[] {
  const days: Day[] = [];
  for (let day = from; day < to; day = addDays(day, 1)) days.push(day);
  return days;
}

/** A day moved by whole months, kept within the month: ("2027-01-31", 1) → "2027-02-28", and 2 → "2027-03-31". */
export function addMonths(day: Day, months: number): Day {
  const [year = 0, month = 1, date = 1] = day.split('-').map(Number);
  const index = year * 12 + (month - 1) + months;
  const last = new Date(Date.UTC(Math.floor(index / 12), (index % 12) + 1, 0)).getUTCDate();
  return new Date(Date.UTC(Math.floor(index / 12), index % 12, Math.min(date, last)))
    .toISOString()
    .slice(0, 10);
}

/** A moment so many months later in a zone: same wall-clock time, day of month kept where the month has it (31 Jan → 28 Feb). */
export function addZonedMonths(moment: number, months: number, zone: string): number {
  const local = moment + offsetAt(moment, zone);
  return momentOf(
    Date.parse(`${addMonths(dayOf(moment, zone), months)}T00:00:00Z`) +
      (((local % millisecondsInDay) + millisecondsInDay) % millisecondsInDay),
    zone,
  );
}

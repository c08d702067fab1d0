import { addZonedDays } from '../calendar/zone';

const weekDays = 7;

/** A version that was published. Moments in milliseconds since 1970. */
export interface Announced {
  holdsFrom: number;
  /** the notice that it promises for the change after it */
  noticeWeeks: number;
}

/** The version that holds at a moment: the newest whose notice is over; null before the first. @param announced in the order in which they were published */
export const inForceAt = <T extends Announced>(announced: readonly T[], at: number): T | null =>
  announced.filter((v) => v.holdsFrom <= at).at(-1) ?? null;

/** The moment that ends a notice of so many weeks; weeks are those of the programme’s calendar. */
export const noticeEnd = (from: number, weeks: number, zone: string): number =>
  addZonedDays(from, weeks * weekDays, zone);

/**
 * From when a version holds that is published at a moment: the first at once, a later one after the notice that the version in force promises, and never
 * before one that was announced already: a shorter notice of a version whose own notice still runs is nobody’s promise yet.
 */
export function holdsFrom(announced: readonly Announced[], at: number, zone: string): number {
  const last = announced.at(-1);
  if (!last) return at;
  const promised = (inForceAt(announced, at) ?? last).noticeWeeks;
  return Math.max(noticeEnd(at, promised, zone), ...announced.map((v) => v.holdsFrom));
}

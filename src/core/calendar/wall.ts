import { momentOf, offsetAt } from './zone';

/** A moment as the wall-clock text that forms use: "2027-03-12T09:00" in a zone. */
export function wallOf(moment: number, zone: string): string {
  return new Date(moment + offsetAt(moment, zone)).toISOString().slice(0, 16);
}

/** The moment of a wall-clock text in a zone, UTC milliseconds; null for an empty one. */
export function momentOfWall(text: string, zone: string): number | null {
  return text === '' ? null : momentOf(Date.parse(`${text}:00Z`), zone);
}

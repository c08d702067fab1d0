import type { Logger } from 'pino';

/** What failed, so that people are told: each place with how often and when last. */
export interface FaultCount {
  place: string;
  count: number;
  /** machine time */
  last: number;
}

/**
 * Counts and logs what no service expects: an exception in a listener, a job, a stream. Nothing of that kind ends the process; here it
 * becomes a number that the desk shows, and a line of the log.
 */
export class Faults {
  readonly #counts = new Map<string, FaultCount>();
  readonly #log: Logger;
  readonly #heard: (place: string, thrown: unknown) => void;

  /** @param heard told of each fault: a thread hands them to the process that counts for all */
  constructor(log: Logger, heard: (place: string, thrown: unknown) => void = () => undefined) {
    this.#log = log;
    this.#heard = heard;
  }

  note(place: string, thrown: unknown, more: object = {}): void {
    const before = this.#counts.get(place)?.count ?? 0;
    this.#counts.set(place, { place, count: before + 1, last: Date.now() });
    this.#log.error({ err: thrown, place, ...more }, 'something failed; the server runs on');
    this.#heard(place, thrown);
  }

  /** Runs work whose exceptions belong to nobody. @returns what it returns, or null if it threw */
  guard<T>(place: string, work: () => T): T | null {
    try {
      return work();
    } catch (thrown) {
      this.note(place, thrown);
      return null;
    }
  }

  /**
   * Draws rows one by one. One that cannot be drawn never takes the others with it: it is counted as a fault and left out.
   * @returns the rows, and `unreadable`, how many are left out, where there are some
   */
  rows<T, R>(place: string, rows: readonly T[], draw: (row: T) => R): { rows: R[]; unreadable?: number } {
    const drawn: R[] = [];
    for (const row of rows) this.guard(place, () => drawn.push(draw(row)));
    return drawn.length === rows.length
      ? { rows: drawn }
      : { rows: drawn, unreadable: rows.length - drawn.length };
  }

  /** What failed within some milliseconds, latest first. */
  since(ms: number, now = Date.now()): FaultCount[] {
    return [...this.#counts.values()].filter((f) => f.last >= now - ms).sort((a, b) => b.last - a.last);
  }
}

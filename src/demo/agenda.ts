import type { App } from '../server/ground/context';

/** The hand on the demo's clock while history is played. */
export interface Hand {
  set: (moment: number) => void;
}

/** Plans an act for a moment. */
export type Plan = (at: number, act: () => void) => void;

/** The moment of a day at an hour, in the programme's zone; nine where no hour is said. */
export type At = (day: string, hour?: number) => number;

export const hours = 3_600_000;

interface Pending {
  at: number;
  act: () => void;
}

/** What is carried out in one transaction. */
const span = 6 * hours;

/** What is to happen, carried out in order of time. */
export class Agenda {
  /** some hours a list: a year of visits is long, and most of it is planned beforehand */
  readonly #planned = new Map<number, Pending[]>();
  /** the hours that are being carried out */
  #now = -Infinity;

  /** What is planned for hours that are over happens in those that are being carried out. */
  readonly plan: Plan = (at, act) => {
    const part = Math.max(this.#now, Math.floor(at / span));
    const acts = this.#planned.get(part);
    if (acts) acts.push({ at, act });
    else this.#planned.set(part, [{ at, act }]);
  };

  /** Carries everything out up to a moment, some hours in one transaction; what is planned meanwhile finds its place. */
  play(app: App, hand: Hand, end: number): void {
    while (this.#planned.size) {
      this.#now = Math.min(...this.#planned.keys());
      app.transaction(() => {
        let acts = this.#takenInto([]);
        for (let next = acts.shift(); next; next = acts.shift()) {
          if (next.at > end) continue;
          hand.set(next.at);
          next.act();
          acts = this.#takenInto(acts);
        }
      });
    }
  }

  /** What is left of these hours with what was planned for them since; of the same moment, what was planned first comes first. */
  #takenInto(left: Pending[]): Pending[] {
    const fresh = this.#planned.get(this.#now);
    if (!fresh) return left;
    this.#planned.delete(this.#now);
    return [...left, ...fresh].sort((a, b) => a.at - b.at);
  }
}

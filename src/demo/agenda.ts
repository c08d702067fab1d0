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

/** What is to happen, carried out in order of time. */
export class Agenda {
  #pending: Pending[] = [];

  readonly plan: Plan = (at, act) => {
    this.#pending.push({ at, act });
  };

  /** Carries everything out up to a moment, some hours in one transaction; what is planned meanwhile finds its place. */
  play(app: App, hand: Hand, end: number): void {
    while (this.#pending.length) {
      this.#pending.sort((a, b) => a.at - b.at);
      const until = this.#pending[0]!.at + 6 * hours;
      const batch = this.#before(until);
      app.transaction(() => {
        for (let next = batch.shift(); next; next = batch.shift()) {
          if (next.at > end) continue;
          hand.set(next.at);
          next.act();
          const added = this.#before(until);
          if (added.length) {
            batch.push(...added);
            batch.sort((a, b) => a.at - b.at);
          }
        }
      });
    }
  }

  /** Takes out what is planned before a moment. */
  #before(until: number): Pending[] {
    const found = this.#pending.filter((p) => p.at < until);
    if (found.length) this.#pending = this.#pending.filter((p) => p.at >= until);
    return found;
  }
}

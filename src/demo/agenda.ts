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
  /** planned since it was last looked at: while history is played, few beside many */
  #fresh: Pending[] = [];

  readonly plan: Plan = (at, act) => {
    this.#fresh.push({ at, act });
  };

  /** Carries everything out up to a moment, some hours in one transaction; what is planned meanwhile finds its place. */
  play(app: App, hand: Hand, end: number): void {
    this.#pending = this.#taken();
    while (this.#pending.length) {
      this.#pending.sort((a, b) => a.at - b.at);
      const until = this.#pending[0]!.at + 6 * hours;
      const rest = this.#pending.findIndex((p) => p.at >= until);
      const batch = this.#pending.splice(0, rest < 0 ? this.#pending.length : rest);
      app.transaction(() => {
        for (let next = batch.shift(); next; next = batch.shift()) {
          if (next.at > end) continue;
          hand.set(next.at);
          next.act();
          this.#sortIn(batch, until);
        }
      });
    }
  }

  #taken(): Pending[] {
    const fresh = this.#fresh;
    this.#fresh = [];
    return fresh;
  }

  /** Puts what was planned meanwhile where it belongs: among what is being carried out, or among what comes later. */
  #sortIn(batch: Pending[], until: number): void {
    const fresh = this.#taken();
    if (!fresh.length) return;
    this.#pending.push(...fresh.filter((p) => p.at >= until));
    const now = fresh.filter((p) => p.at < until);
    if (!now.length) return;
    batch.push(...now);
    batch.sort((a, b) => a.at - b.at);
  }
}

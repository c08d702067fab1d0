import { type Clock } from './ports';

/** A clock that runs with the machine's, ahead of it by what it was advanced. */
export function newClock(real: () => number = Date.now): Clock {
  let ahead = 0;
  return {
    now: () => real() + ahead,
    real,
    advance: (milliseconds) => {
      ahead += milliseconds;
    },
  };
}

/** A clock that stands still during an act. */
export interface ActClock extends Clock {
  /**
   * Does an act, which has one moment however deep and however often the clock is read in it. An act within an act
   * has the moment of the outer one. Only what `work` does before it first waits belongs to the act.
   */
  during: <T>(work: () => T) => T;
}

/**
 * One act, one moment: what an act ends and what it begins would otherwise be some milliseconds apart, and what looks
 * for the one by the moment of the other would not find it.
 */
export function actClock(clock: Clock): ActClock {
  let act: { now: number; real: number } | null = null;
  return {
    now: () => act?.now ?? clock.now(),
    real: () => act?.real ?? clock.real(),
    advance: (milliseconds) => {
      clock.advance(milliseconds);
      if (act) act.now += milliseconds;
    },
    during: (work) => {
      if (act) return work();
      act = { now: clock.now(), real: clock.real() };
      try {
        return work();
      } finally {
        act = null;
      }
    },
  };
}

interface Transactions {
  transaction: <T>(work: () => T) => T;
  repeatable: <T>(work: () => T) => T;
}

/** The transactions of a store, each an act with one moment. */
export const actsOf = (store: Transactions, clock: ActClock): Transactions => ({
  transaction: (work) => clock.during(() => store.transaction(work)),
  repeatable: (work) => clock.during(() => store.repeatable(work)),
});

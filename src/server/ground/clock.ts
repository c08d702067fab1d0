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

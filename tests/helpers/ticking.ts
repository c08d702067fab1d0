import type { Clock } from '../../src/server/ground/ports';

/** A clock that is a millisecond later at every read: an act that reads its moment twice has two, and a test sees it. */
export function ticking(clock: Clock): Clock {
  let ticks = 0;
  return {
    now: () => clock.now() + (ticks += 1),
    real: () => clock.real() + (ticks += 1),
    advance: clock.advance,
  };
}

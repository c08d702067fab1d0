/**
 * Takes turns: whoever waits here goes on one at a time, each in a turn of the event loop of its own. What came in meanwhile, redirects first of all, is
 * answered between two, so that a burst of calls makes nobody wait for all of it.
 */
export function newTurns(): () => Promise<void> {
  const waiting: (() => void)[] = [];
  const next = () => {
    waiting.shift()?.();
    if (waiting.length) setImmediate(next);
  };
  return () =>
    new Promise((go) => {
      waiting.push(go);
      if (waiting.length === 1) setImmediate(next);
    });
}

/** The turns of this process. */
export const turn = newTurns();

/** Lets so many pieces of work run at once; the others wait in line. @throws whatever `full` makes, where the line is too long */
export function atMost(
  running: number,
  line: number,
  full: () => Error,
): <T>(work: () => Promise<T>) => Promise<T> {
  let busy = 0;
  const waiting: (() => void)[] = [];
  return async (work) => {
    if (busy >= running) {
      if (waiting.length >= line) throw full();
      await new Promise<void>((go) => {
        waiting.push(go);
      });
    } else busy += 1;
    try {
      return await work();
    } finally {
      const following = waiting.shift();
      if (following) following();
      else busy -= 1;
    }
  };
}

/**
 * Does work in slices: pieces that wait are done one after another for some milliseconds, then what came in meanwhile is answered first. In each turn at
 * least one is done.
 */
export function newSlices(milliseconds: number): (work: () => void) => void {
  let waiting: (() => void)[] = [];
  const run = () => {
    const until = performance.now() + milliseconds;
    let done = 0;
    try {
      while (done < waiting.length && (done === 0 || performance.now() < until)) waiting[done++]!();
    } finally {
      // also where one throws: those behind it are not held up by it
      waiting = waiting.slice(done);
      if (waiting.length) setImmediate(run);
    }
  };
  return (work) => {
    waiting.push(work);
    if (waiting.length === 1) setImmediate(run);
  };
}

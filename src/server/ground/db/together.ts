import type { App } from '../context';
import { perApp } from './prepared';

interface Job {
  work: () => unknown;
  done: (result: unknown) => void;
  failed: (fault: unknown) => void;
}

/** Milliseconds that one transaction collects work for. */
const longest = 6;

/**
 * Runs pieces of work that arrive in one turn of the event loop in one durable transaction, each in a savepoint of its own:
 * one that throws takes only itself back. A promise is settled after the commit, so what is answered is on disk.
 */
export const together = perApp((app: App) => {
  let waiting: Job[] = [];
  const flush = () => {
    const jobs = waiting;
    waiting = [];
    const settle: (() => void)[] = [];
    const until = performance.now() + longest;
    let begun = 0;
    try {
      app.transaction(() => {
        for (const { work, done, failed } of jobs) {
          // the rest of a burst has a turn of its own: what else waits is answered first
          if (begun > 0 && performance.now() > until) break;
          begun += 1;
          try {
            // one that is alone needs no savepoint: what takes it back takes back the whole
            const result = jobs.length === 1 ? work() : app.transaction(work);
            settle.push(() => done(result));
          } catch (fault) {
            // a disk that is full takes back the whole transaction by itself: then nothing of this turn is kept
            if (jobs.length === 1 || !app.sqlite.inTransaction) throw fault;
            settle.push(() => failed(fault));
          }
        }
      });
    } catch (fault) {
      // the commit itself failed: nothing of this turn is kept, and nobody is told otherwise
      for (const { failed } of jobs.slice(0, begun)) failed(fault);
      settle.length = 0;
    }
    const rest = jobs.slice(begun);
    if (rest.length) {
      if (waiting.length === 0) setImmediate(flush);
      waiting = [...rest, ...waiting];
    }
    for (const tell of settle) tell();
  };
  return <T>(work: () => T): Promise<T> =>
    new Promise<T>((done, failed) => {
      waiting.push({ work, done: done as (result: unknown) => void, failed });
      if (waiting.length === 1) setImmediate(flush);
    });
});

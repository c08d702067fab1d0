import type { App } from '../context';
import { perApp } from './prepared';

interface Job {
  work: () => unknown;
  done: (result: unknown) => void;
  failed: (fault: unknown) => void;
}

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
    try {
      app.transaction(() => {
        for (const { work, done, failed } of jobs) {
          try {
            const result = app.transaction(work);
            settle.push(() => done(result));
          } catch (fault) {
            // a disk that is full takes back the whole transaction by itself: then nothing of this turn is kept
            if (!app.sqlite.inTransaction) throw fault;
            settle.push(() => failed(fault));
          }
        }
      });
    } catch (fault) {
      // the commit itself failed: nothing of this turn is kept, and nobody is told otherwise
      for (const { failed } of jobs) failed(fault);
      return;
    }
    for (const tell of settle) tell();
  };
  return <T>(work: () => T): Promise<T> => new Promise<T>((done, failed) => {
    waiting.push({ work, done: done as (result: unknown) => void, failed });
    if (waiting.length === 1) setImmediate(flush);
  });
});

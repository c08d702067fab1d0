import { Worker } from 'node:worker_threads';
import type { FieldFault } from '../../contract/explain';
import type { ProblemCode } from '../http/problem';
import { Problem } from '../http/problem';
import type { SearcherPort, SearchQuestion } from '../ports';
import type { FoundPage } from './search';
import { findProspects } from './search';
import type { Sqlite } from '../db/open';

interface Waiting { done: (page: FoundPage) => void; failed: (fault: Error) => void; timer: NodeJS.Timeout }
type Said = { number: number; page: FoundPage } | { number: number; refused: { code: ProblemCode; message: string; errors: FieldFault[] } };

/** A search that takes longer than this is given up. */
const patience = 10_000;
/** Questions that wait at once; more are asked to come back. */
const mostWaiting = 50;

const unavailable = (why: string) => new Problem('unavailable', `The search ${why}; try again in a moment`, { retryAfter: 5 });

/**
 * Searches in one worker thread, begun with the first question, and begun again after it ended.
 * @param program the worker's bundle @param file the data file
 */
export function threadedSearcher(program: string, file: string): SearcherPort {
  const waiting = new Map<number, Waiting>();
  let worker: Worker | null = null;
  let serial = 0;
  const settle = (number: number, how: (w: Waiting) => void) => {
    const found = waiting.get(number);
    if (!found) return;
    waiting.delete(number);
    clearTimeout(found.timer);
    how(found);
  };
  const giveUp = (why: string) => {
    const ended = worker;
    worker = null;
    void ended?.terminate();
    for (const number of [...waiting.keys()]) settle(number, (w) => w.failed(unavailable(why)));
  };
  const begin = (): Worker => {
    const begun = new Worker(program, { workerData: { file } });
    begun.unref();
    begun.on('message', (said: Said) => settle(said.number, (w) => {
      if ('page' in said) w.done(said.page);
      else w.failed(new Problem(said.refused.code, said.refused.message, { errors: said.refused.errors }));
    }));
    begun.on('error', () => { if (worker === begun) giveUp('failed'); });
    begun.on('exit', () => { if (worker === begun) giveUp('ended'); });
    return begun;
  };
  return {
    find: (filter, after, limit, stamp) => new Promise((done, failed) => {
      if (waiting.size >= mostWaiting) return failed(unavailable('has many questions'));
      worker ??= begin();
      const number = (serial += 1);
      waiting.set(number, { done, failed, timer: setTimeout(() => giveUp('takes too long'), patience).unref() });
      return worker.postMessage({ number, filter, after, limit, stamp } satisfies SearchQuestion);
    }),
    close: () => giveUp('has ended'),
  };
}

/** The same on the calling thread, for a database in memory, which no other thread can read. */
export function searcherHere(sqlite: Sqlite): SearcherPort {
  return { find: (filter, after, limit, stamp) => Promise.resolve().then(() => findProspects({ sqlite, stamp }, filter, after, limit)), close: () => undefined };
}

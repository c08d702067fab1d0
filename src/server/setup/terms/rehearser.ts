import { Worker } from 'node:worker_threads';
import type { RehearsalResult } from '../../../core/terms/rehearse';
import { type Sqlite } from '../../ground/db/sqlite';
import type { RehearserPort } from '../../ground/ports';
import { replay } from './replay';

/**
 * Rehearsals in worker threads.
 * @param program the worker's bundle @param file the data file
 */
export function threadedRehearser(program: string, file: string): RehearserPort {
  return {
    run(job, progress) {
      const worker = new Worker(program, { workerData: { file, job } });
      const result = new Promise<RehearsalResult>((done, failed) => {
        worker.on('message', (said: { done: number; total: number } | { result: RehearsalResult }) => {
          if ('result' in said) done(said.result);
          else progress(said.done, said.total);
        });
        worker.on('error', failed);
        worker.on('exit', (code) => {
          if (code !== 0) failed(new Error(`The rehearsal ended early (${code})`));
        });
      });
      return {
        result,
        cancel: () => {
          result.catch(() => undefined);
          void worker.terminate();
        },
      };
    },
  };
}

/** Rehearsals on the calling thread, for a database in memory, which no other thread can read. */
export function rehearserHere(sqlite: Sqlite): RehearserPort {
  return {
    run(job, progress) {
      let cancelled = false;
      const result = new Promise<RehearsalResult>((done, failed) => {
        setImmediate(() => {
          if (cancelled) return;
          try {
            done(replay(sqlite, job, progress));
          } catch (fault) {
            failed(fault as Error);
          }
        });
      });
      return {
        result,
        cancel: () => {
          cancelled = true;
        },
      };
    },
  };
}

import Database from 'better-sqlite3';
import { parentPort, workerData } from 'node:worker_threads';
import type { RehearsalJob } from '../ports';
import { replay } from './replay';

/** Runs one rehearsal in a thread of its own, on a reading connection of its own. */
const { file, job } = workerData as { file: string; job: RehearsalJob };
const sqlite = new Database(file, { readonly: true, fileMustExist: true });
sqlite.pragma('cache_size = -32000');
try {
  const result = replay(sqlite, job, (done, total) => parentPort?.postMessage({ done, total }));
  parentPort?.postMessage({ result });
} finally {
  sqlite.close();
}

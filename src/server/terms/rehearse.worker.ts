import { constants, setPriority } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { openReading } from '../db/reading';
import type { RehearsalJob } from '../ports';
import { replay } from './replay';

/** Runs one rehearsal in a thread of its own, on a reading connection of its own. */
// 0 is the calling thread: redirects and reports go before it wherever a processor is wanted by both
try {
  setPriority(0, constants.priority.PRIORITY_LOW);
} catch { /* not every system lets a thread step back; it then shares */ }

const { file, job } = workerData as { file: string; job: RehearsalJob };
const sqlite = openReading(file);
try {
  const result = replay(sqlite, job, (done, total) => parentPort?.postMessage({ done, total }));
  parentPort?.postMessage({ result });
} finally {
  sqlite.close();
}

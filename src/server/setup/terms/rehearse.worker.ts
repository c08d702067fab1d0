import { parentPort, workerData } from 'node:worker_threads';
import { openReading } from '../../ground/db/reading';
import { stepBack } from '../../ground/db/stepback';
import type { RehearsalJob } from '../../ground/ports';
import { replay } from './replay';

// one rehearsal in a thread of its own, on a reading connection of its own
stepBack();
const { file, job } = workerData as { file: string; job: RehearsalJob };
const sqlite = openReading(file);
try {
  const result = replay(sqlite, job, (done, total) => parentPort?.postMessage({ done, total }));
  parentPort?.postMessage({ result });
} finally {
  sqlite.close();
}

import { parentPort, workerData } from 'node:worker_threads';
import { openReading } from '../db/reading';
import { problemFrom } from '../http/problem';
import type { SearchQuestion } from '../ports';
import { findProspects } from './search';

/** Searches partners in a thread of its own, on a reading connection of its own, one question after another. */
const sqlite = openReading((workerData as { file: string }).file);

parentPort?.on('message', ({ number, filter, after, limit, stamp }: SearchQuestion) => {
  try {
    parentPort?.postMessage({ number, page: findProspects({ sqlite, stamp }, filter, after, limit) });
  } catch (thrown) {
    const { code, message, errors } = problemFrom(thrown);
    parentPort?.postMessage({ number, refused: { code, message, errors } });
  }
});

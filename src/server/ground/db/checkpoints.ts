import { Worker } from 'node:worker_threads';

/** Milliseconds between two looks at what was committed. */
const every = 250;

/**
 * Brings the write-ahead log into the data file in a thread of its own: done at a commit, as SQLite does it by itself, it would hold the serving thread for as
 * long as the disk takes for pages from all over the file. Where the thread ends, SQLite still does it, at the size that `openStore` sets.
 * @param program the thread's bundle @param file the data file @param note told what ended the thread
 * @returns ends it; awaited before the data file is closed
 */
export function startCheckpoints(
  program: string,
  file: string,
  note: (thrown: unknown) => void,
): () => Promise<void> {
  const worker = new Worker(program, { workerData: { file, every } });
  worker.unref();
  worker.on('error', note);
  const ended = new Promise<void>((done) => {
    worker.once('exit', () => done());
  });
  return () => {
    worker.ref();
    worker.postMessage('end');
    return ended;
  };
}

import { parentPort, workerData } from 'node:worker_threads';
import { problemFrom } from '../../ground/http/problem';
import { readStatusFile } from './statusfile';

/** Reads one status report in a thread of its own: a long one would hold redirects and reports meanwhile. */
const { content } = workerData as { content: string };
try {
  parentPort?.postMessage({ report: readStatusFile(content) });
} catch (thrown) {
  const { code, message, errors } = problemFrom(thrown);
  parentPort?.postMessage({ refused: { code, message, errors } });
}

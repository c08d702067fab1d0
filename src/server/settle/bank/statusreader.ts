import { Worker } from 'node:worker_threads';
import type { FieldFault } from '../../../contract/explain';
import { Problem, type ProblemCode } from '../../ground/http/problem';
import { type StatusReaderPort, type StatusReport } from '../../ground/ports';
import { readStatusFile } from './statusfile';

type Said =
  { report: StatusReport } | { refused: { code: ProblemCode; message: string; errors: FieldFault[] } };

/** Reads status reports in worker threads. @param program the worker's bundle */
export function threadedStatusReader(program: string): StatusReaderPort {
  return {
    read: (content) =>
      new Promise<StatusReport>((done, failed) => {
        const worker = new Worker(program, { workerData: { content } });
        worker.once('message', (said: Said) => {
          if ('report' in said) done(said.report);
          else failed(new Problem(said.refused.code, said.refused.message, { errors: said.refused.errors }));
        });
        worker.once('error', failed);
        worker.once('exit', () => failed(new Error('The status report was not read to its end')));
      }),
  };
}

/** The same on the calling thread, for tests below HTTP. */
export const statusReaderHere: StatusReaderPort = {
  read: (content) =>
    new Promise((done) => {
      done(readStatusFile(content));
    }),
};

import { Worker } from 'node:worker_threads';
import type { FieldFault } from '../../../contract/explain';
import { answer, type ReadingName } from '../../reading/readings';
import type { App, Kept } from '../context';
import { Problem, type ProblemCode } from '../http/problem';
import { JsonText, type Clock, type ReaderPort, type Urgency } from '../ports';

/** A question on its way into the thread. */
export interface Question {
  number: number;
  name: ReadingName;
  input: unknown;
  /** whether the answer is wanted as JSON */
  written: boolean;
  /** whether it is said how far it is; then it steps back behind all other work */
  tells: boolean;
  /** the moments that the serving process reads its clocks as */
  now: number;
  real: number;
  /** changes whenever what is kept between questions has to be read anew */
  stamp: number;
}

/** What the thread says: an answer, or a refusal; `fault` is where a fault of ours was thrown, which is counted as any other is. */
export type Said =
  | { number: number; done: number; total: number }
  | { number: number; answer: unknown }
  | {
      number: number;
      refused: { code: ProblemCode; message: string; errors: FieldFault[] };
      fault: string | null;
    };

interface Waiting {
  question: Omit<Question, 'now' | 'real' | 'stamp'>;
  done: (answer: unknown) => void;
  failed: (fault: Error) => void;
  timer: NodeJS.Timeout | null;
}

/** What the thread shares with the serving process. */
interface Surroundings {
  address: string;
  clock: Clock;
  kept: Kept;
  note: (thrown: unknown) => void;
}

/** A question that takes longer than this is given up. */
const patience = 15_000;
/** Questions that wait at once; more are asked to come back. */
const mostWaiting = 100;

const refusalIn = ({ refused }: Extract<Said, { refused: unknown }>) =>
  new Problem(refused.code, refused.message, { errors: refused.errors });
const unavailable = (why: string) =>
  new Problem('unavailable', `This question ${why}; try again in a moment`, { retryAfter: 5 });

/**
 * Answers in one thread on a connection of its own, begun with the first question and begun again after it ended. One question at a time: what a person waits
 * for goes before a piece of an export.
 * @param program the thread's bundle @param file the data file
 * @param note told what ended the thread
 */
export function threadedReader(
  program: string,
  file: string,
  { address, clock, kept, note }: Surroundings,
): ReaderPort {
  const lines: Record<Urgency, Waiting[]> = { person: [], export: [] };
  let running: Waiting | null = null;
  let worker: Worker | null = null;
  const working = new Set<Worker>();
  let serial = 0;

  const settle = (how: (w: Waiting) => void) => {
    const ended = running;
    running = null;
    if (!ended) return;
    if (ended.timer) clearTimeout(ended.timer);
    how(ended);
    next();
  };
  const giveUp = (why: string) => {
    const ended = worker;
    worker = null;
    void ended?.terminate();
    settle((w) => w.failed(unavailable(why)));
  };
  const begin = (): Worker => {
    const begun = new Worker(program, { workerData: { file, address } });
    begun.unref();
    begun.on('message', (said: Said) => {
      if (said.number !== running?.question.number || 'done' in said) return;
      if ('fault' in said && said.fault !== null) note(new Error(said.fault));
      settle((w) => {
        if ('answer' in said) w.done(said.answer);
        else w.failed(refusalIn(said));
      });
    });
    begun.on('error', (thrown) => {
      note(thrown);
      if (worker === begun) giveUp('failed');
    });
    begun.on('exit', () => {
      if (worker === begun) giveUp('was cut off');
    });
    return begun;
  };
  const next = () => {
    if (running) return;
    running = lines.person.shift() ?? lines.export.shift() ?? null;
    if (!running) return;
    worker ??= begin();
    running.timer = setTimeout(() => giveUp('takes too long'), patience).unref();
    worker.postMessage({
      ...running.question,
      now: clock.now(),
      real: clock.real(),
      stamp: kept.stamp,
    } satisfies Question);
  };
  const put = (asked: Pick<Question, 'name' | 'input' | 'written' | 'tells'>, urgency: Urgency) =>
    new Promise<unknown>((done, failed) => {
      if (lines.person.length + lines.export.length >= mostWaiting)
        return failed(unavailable('is one of too many at once'));
      lines[urgency].push({ question: { number: (serial += 1), ...asked }, done, failed, timer: null });
      return next();
    });
  const ask = (name: ReadingName, input: unknown, urgency: Urgency = 'person') =>
    put({ name, input, written: false, tells: false }, urgency);
  const say = async (name: ReadingName, input: unknown) =>
    new JsonText((await put({ name, input, written: true, tells: false }, 'person')) as string);
  const work = (name: ReadingName, input: unknown, progress: (done: number, total: number) => void) => {
    const own = new Worker(program, { workerData: { file, address } });
    let cancelled = false;
    own.unref();
    working.add(own);
    const result = new Promise<unknown>((done, failed) => {
      own.on('message', (said: Said) => {
        if ('done' in said) return progress(said.done, said.total);
        if ('answer' in said) done(said.answer);
        else failed(said.fault === null ? refusalIn(said) : new Error(said.fault));
        return void own.terminate();
      });
      own.on('error', failed);
      own.on('exit', () => {
        working.delete(own);
        if (!cancelled) failed(unavailable('was cut off'));
      });
    });
    own.postMessage({
      number: (serial += 1),
      name,
      input,
      written: false,
      tells: true,
      now: clock.now(),
      real: clock.real(),
      stamp: kept.stamp,
    } satisfies Question);
    return {
      result,
      cancel: () => {
        cancelled = true;
        void own.terminate();
      },
    };
  };
  return {
    ask: ask as ReaderPort['ask'],
    say: say as ReaderPort['say'],
    work: work as ReaderPort['work'],
    close: () => {
      for (const line of Object.values(lines))
        for (const w of line.splice(0)) w.failed(unavailable('comes too late: the server ends'));
      giveUp('was cut off: the server ends');
      for (const own of working) void own.terminate();
    },
  };
}

/** The same on the calling thread, for a database in memory, which no other thread can read. */
export function readerHere(app: () => App): ReaderPort {
  const ask = (name: ReadingName, input: unknown) => Promise.resolve().then(() => answer(app(), name, input));
  const say = async (name: ReadingName, input: unknown) =>
    new JsonText(JSON.stringify((await ask(name, input)) ?? null));
  const work = (name: ReadingName, input: unknown, progress: (done: number, total: number) => void) => {
    let cancelled = false;
    const result = new Promise<unknown>((done, failed) => {
      setImmediate(() => {
        if (cancelled) return;
        try {
          done(answer(app(), name, input, progress));
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
  };
  return {
    ask: ask as ReaderPort['ask'],
    say: say as ReaderPort['say'],
    work: work as ReaderPort['work'],
    close: () => undefined,
  };
}

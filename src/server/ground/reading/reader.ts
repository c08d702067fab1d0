import { Worker } from 'node:worker_threads';
import type { FieldFault } from '../../../contract/explain';
import { Problem, type ProblemCode } from '../http/problem';
import { type Kept } from '../kept';
import {
  JsonText,
  type Clock,
  type Progress,
  type Question,
  type ReaderPort,
  type Urgency,
  type Work,
} from '../ports';

/** A question on its way into the thread. */
export interface Asked {
  number: number;
  name: string;
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
  /** a part of an answer failed, and the rest of it is given: counted where all faults are */
  | { part: string; thrown: string }
  | { number: number; done: number; total: number }
  | { number: number; answer: unknown }
  | {
      number: number;
      refused: { code: ProblemCode; message: string; errors: FieldFault[] };
      fault: string | null;
    };

interface Waiting {
  question: Omit<Asked, 'now' | 'real' | 'stamp'>;
  done: (answer: unknown) => void;
  failed: (fault: Error) => void;
  timer: NodeJS.Timeout | null;
}

/** What the thread shares with the serving process. */
interface Surroundings {
  address: string;
  clock: Clock;
  kept: Kept;
  /** counts a fault. @param place where it was thrown; left out: somewhere in the thread */
  note: (thrown: unknown, place?: string) => void;
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
 * Answers in one thread on a connection of its own, begun with the first question and begun again after it ended. One
 * question at a time: what a person waits for goes before a piece of an export. Long work has a thread of its own.
 */
class ThreadedReader implements ReaderPort {
  readonly #lines: Record<Urgency, Waiting[]> = { person: [], export: [] };
  readonly #working = new Set<Worker>();
  #running: Waiting | null = null;
  #worker: Worker | null = null;
  #serial = 0;

  constructor(
    readonly program: string,
    readonly file: string,
    readonly around: Surroundings,
  ) {}

  ask<I, A>({ name }: Question<I, A>, input: I, urgency: Urgency = 'person'): Promise<A> {
    return this.#put({ name, input, written: false, tells: false }, urgency) as Promise<A>;
  }

  async say<I, A>({ name }: Question<I, A>, input: I): Promise<JsonText<A>> {
    return new JsonText<A>(
      (await this.#put({ name, input, written: true, tells: false }, 'person')) as string,
    );
  }

  work<I, A>({ name }: Question<I, A>, input: I, progress: Progress): Work<A> {
    const own = this.#begin();
    this.#working.add(own);
    let cancelled = false;
    const result = new Promise<A>((done, failed) => {
      own.on('message', (said: Said) => {
        if ('part' in said) return this.around.note(new Error(said.thrown), said.part);
        if ('done' in said) return progress(said.done, said.total);
        if ('answer' in said) done(said.answer as A);
        else failed(said.fault === null ? refusalIn(said) : new Error(said.fault));
        return void own.terminate();
      });
      own.on('error', failed);
      own.on('exit', () => {
        this.#working.delete(own);
        if (!cancelled) failed(unavailable('was cut off'));
      });
    });
    own.postMessage(
      this.#questionNow({ number: (this.#serial += 1), name, input, written: false, tells: true }),
    );
    return {
      result,
      cancel: () => {
        cancelled = true;
        void own.terminate();
      },
    };
  }

  close(): void {
    for (const line of Object.values(this.#lines))
      for (const w of line.splice(0)) w.failed(unavailable('comes too late: the server ends'));
    this.#giveUp('was cut off: the server ends');
    for (const own of this.#working) void own.terminate();
  }

  #questionNow(question: Waiting['question']): Asked {
    const { clock, kept } = this.around;
    return { ...question, now: clock.now(), real: clock.real(), stamp: kept.stamp };
  }

  #begin(): Worker {
    const begun = new Worker(this.program, {
      workerData: { file: this.file, address: this.around.address },
    });
    begun.unref();
    return begun;
  }

  #beginAnswering(): Worker {
    const begun = this.#begin();
    begun.on('message', (said: Said) => {
      if ('part' in said) return this.around.note(new Error(said.thrown), said.part);
      if (said.number !== this.#running?.question.number || 'done' in said) return;
      if ('fault' in said && said.fault !== null) this.around.note(new Error(said.fault));
      this.#settle((w) => {
        if ('answer' in said) w.done(said.answer);
        else w.failed(refusalIn(said));
      });
    });
    begun.on('error', (thrown) => {
      this.around.note(thrown);
      if (this.#worker === begun) this.#giveUp('failed');
    });
    begun.on('exit', () => {
      if (this.#worker === begun) this.#giveUp('was cut off');
    });
    return begun;
  }

  #settle(how: (w: Waiting) => void): void {
    const ended = this.#running;
    this.#running = null;
    if (!ended) return;
    if (ended.timer) clearTimeout(ended.timer);
    how(ended);
    this.#next();
  }

  #giveUp(why: string): void {
    const ended = this.#worker;
    this.#worker = null;
    void ended?.terminate();
    this.#settle((w) => w.failed(unavailable(why)));
  }

  #next(): void {
    if (this.#running) return;
    this.#running = this.#lines.person.shift() ?? this.#lines.export.shift() ?? null;
    if (!this.#running) return;
    this.#worker ??= this.#beginAnswering();
    this.#running.timer = setTimeout(() => this.#giveUp('takes too long'), patience).unref();
    this.#worker.postMessage(this.#questionNow(this.#running.question));
  }

  #put(asked: Pick<Asked, 'name' | 'input' | 'written' | 'tells'>, urgency: Urgency): Promise<unknown> {
    return new Promise((done, failed) => {
      const { person, export: exports } = this.#lines;
      if (person.length + exports.length >= mostWaiting)
        return failed(unavailable('is one of too many at once'));
      this.#lines[urgency].push({
        question: { number: (this.#serial += 1), ...asked },
        done,
        failed,
        timer: null,
      });
      return this.#next();
    });
  }
}

/**
 * A reader beside the serving thread.
 * @param program the thread's bundle @param file the data file
 */
export const threadedReader = (program: string, file: string, around: Surroundings): ReaderPort =>
  new ThreadedReader(program, file, around);

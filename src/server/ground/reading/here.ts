import type { App } from '../context';
import { JsonText, type Progress, type Question, type ReaderPort, type Work } from '../ports';
import { answer, type Reading } from './readings';

/** Reads on the calling thread, for a database in memory, which no other thread can read. */
class ReaderHere implements ReaderPort {
  constructor(readonly app: () => App) {}

  async ask<I, A>(question: Question<I, A>, input: I): Promise<A> {
    await Promise.resolve();
    return answer(this.app(), question as Reading<I, A>, input);
  }

  async say<I, A>(question: Question<I, A>, input: I): Promise<JsonText<A>> {
    return new JsonText<A>(JSON.stringify((await this.ask(question, input)) ?? null));
  }

  work<I, A>(question: Question<I, A>, input: I, progress: Progress): Work<A> {
    let cancelled = false;
    const result = new Promise<A>((done, failed) => {
      setImmediate(() => {
        if (cancelled) return;
        try {
          done(answer(this.app(), question as Reading<I, A>, input, progress));
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
  }

  close(): void {
    // nothing was begun
  }
}

/** The reader of an App whose database is in memory. */
export const readerHere = (app: () => App): ReaderPort => new ReaderHere(app);

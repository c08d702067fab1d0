import type { App } from '../context';
import type { Progress, Question } from '../ports';

/**
 * What is read beside the serving thread: synchronous, on a connection that cannot write, from an App that has no ports.
 * What only the serving process knows is handed over with the question.
 */
export interface Reading<I, A> extends Question<I, A> {
  read: (app: App, input: I, progress?: Progress) => A;
}

/** Any reading, where it does not matter what of. */
export type AnyReading = Reading<never, unknown>;

type Reads = Record<string, (app: App, input: never, progress?: Progress) => unknown>;
export type ReadingsOf<R extends Reads> = {
  [K in keyof R]: Reading<Parameters<R[K]>[1], ReturnType<R[K]>>;
};

/** The readings of one capability, each called by its key. */
export function readingsOf<R extends Reads>(reads: R): ReadingsOf<R> {
  return Object.fromEntries(
    Object.entries(reads).map(([name, read]) => [name, { name, read }]),
  ) as ReadingsOf<R>;
}

/** Answers one question from one moment of the data, however many statements it takes. */
export function answer<I, A>(app: App, { read }: Reading<I, A>, input: I, progress?: Progress): A {
  return app.clock.during(() => app.sqlite.transaction(() => read(app, input, progress)).deferred());
}

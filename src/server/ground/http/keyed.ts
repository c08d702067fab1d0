import { and, eq, lt } from 'drizzle-orm';
import type { Request } from 'express';
import type { Actor, App } from '../context';
import { JsonText } from '../ports';
import { answers } from '../tables/answers';
import { Problem, refuse } from './problem';

function keyOf(req: Request): string {
  const key = req.get('idempotency-key');
  if (!key || key.length < 8 || key.length > 100) {
    throw refuse(
      'Idempotency-Key',
      'This call needs an Idempotency-Key header of 8 to 100 characters, a new one for each act',
      '5f0c2a9e-81d4',
    );
  }
  return key;
}

/** What makes a call the same as an earlier one. */
export interface Keyed {
  key: string;
  actor: Actor;
  call: string;
  bodyHash: string;
}

/** @throws Problem `invalid` where the call has no key */
export function keyedBy(app: App, req: Request, actor: Actor, body: unknown): Keyed {
  return {
    key: keyOf(req),
    actor,
    call: `${req.method} ${req.path}`,
    bodyHash: app.seal.digest(JSON.stringify(body)),
  };
}

const whole = 200;
/** What was done is kept, the answer is still to be read. */
const unanswered = 202;

const rowOf = ({ key, actor, call }: Keyed) =>
  and(eq(answers.key, key), eq(answers.actor, actor.id), eq(answers.call, call));

function before(app: App, keyed: Keyed): typeof answers.$inferSelect | undefined {
  const row = app.db.select().from(answers).where(rowOf(keyed)).get();
  if (row && row.bodyHash !== keyed.bodyHash)
    throw new Problem('key-reused', 'This Idempotency-Key was used for another request; take a new one');
  return row;
}

/** Does the work and keeps what it returns with its key, in one transaction. */
function keeping<D>(app: App, { key, actor, call, bodyHash }: Keyed, status: number, work: () => D): D {
  const done = work();
  if (done instanceof Promise) throw new TypeError(`${call} takes a key, so its work must be synchronous`);
  app.db
    .insert(answers)
    .values({
      key,
      actor: actor.id,
      call,
      bodyHash,
      status,
      body: JSON.stringify(done ?? null),
      at: app.clock.real(),
    })
    .run();
  return done;
}

/** Runs the work once for a key: the answer is kept in the same transaction as what the work wrote. */
export function once(app: App, keyed: Keyed, work: () => unknown): unknown {
  return app.transaction(() => {
    const row = before(app, keyed);
    return row ? (JSON.parse(row.body) as unknown) : keeping(app, keyed, whole, work);
  });
}

/**
 * Runs the work once for a key, and reads the answer afterwards beside the serving thread. What was done is kept in the same transaction as what the work
 * wrote; the answer when it is there: where the process ends in between, the same call again reads it.
 */
export async function onceThenRead<D, R>(
  app: App,
  keyed: Keyed,
  work: () => D,
  read: (done: D) => Promise<JsonText<R>>,
): Promise<JsonText<R>> {
  const found = app.transaction(() => {
    const row = before(app, keyed);
    if (row?.status === whole) return { answer: new JsonText<R>(row.body) };
    return { answer: null, done: row ? (JSON.parse(row.body) as D) : keeping(app, keyed, unanswered, work) };
  });
  if (found.answer) return found.answer;
  const answer = await read(found.done);
  // lost in a power cut, it is read again
  app.repeatable(() =>
    app.db.update(answers).set({ status: whole, body: answer.text }).where(rowOf(keyed)).run(),
  );
  return answer;
}

/** Forgets answers that were kept before a moment of the machine's clock. */
export function forgetAnswers(app: App, before: number): void {
  app.db.delete(answers).where(lt(answers.at, before)).run();
}

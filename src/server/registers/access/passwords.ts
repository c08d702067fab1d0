import { hash as argon, hashSync, verify } from '@node-rs/argon2';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';
import { Problem, refuse } from '../../ground/http/problem';
import { atMost } from '../../ground/http/turns';

/** Hashing takes a processor for a while: one at a time, so that a burst of sign-ins leaves the other to everybody else. */
const oneByOne = atMost(
  1,
  200,
  () =>
    new Problem('too-many', 'Many people are signing in just now; try again in a minute', { retryAfter: 60 }),
);

/** argon2id with the package's defaults (19 MiB, 2 passes). */
export function hashPassword(password: string): Promise<string> {
  return oneByOne(() => argon(password));
}

/** The same where a transaction must not wait. */
export function hashPasswordSync(password: string): string {
  return hashSync(password);
}

let decoy: Promise<string> | undefined;

/** True if the password fits. Takes the same time where there is no such person, so that addresses cannot be guessed. */
export async function fits(stored: string | null | undefined, password: string): Promise<boolean> {
  if (!stored) {
    decoy ??= argon('nobody has this password');
    const nobody = await decoy;
    await oneByOne(() => verify(nobody, password));
    return false;
  }
  return oneByOne(() => verify(stored, password));
}

let checker: ZxcvbnFactory | undefined;

/** So much of a password is looked at: what follows makes a good one better, and looking takes time. */
const lookedAt = 64;
/** Of the package's 0 to 4: guessed in fewer than 10^8 tries is too easy. */
const goodEnough = 3;

/**
 * Refuses a password that is common, or built like common ones. How long it must be is the contract's.
 * @param about words that somebody who guesses would begin with: name, address, merchant @throws Problem `invalid`
 */
export function checkStrength(password: string, about: readonly string[], field = 'password'): void {
  checker ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  const words = about.flatMap((a) => [a, ...a.split(/[\s@.]+/)]).filter((w) => w.length > 2);
  const { score } = checker.check(password.slice(0, lookedAt), words);
  if (score < goodEnough)
    throw refuse(
      field,
      'Password is too easy to guess: it is a common one, or built from common words, names or keys beside each other',
      'four words that have nothing to do with each other',
    );
}

import { hash as argon, hashSync, verify } from '@node-rs/argon2';

/** argon2id with the package's defaults (19 MiB, 2 passes). */
export function hashPassword(password: string): Promise<string> {
  return argon(password);
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
    await verify(await decoy, password);
    return false;
  }
  return verify(stored, password);
}

const windowMs = 15 * 60_000;

/** Counts failures by a name (an account, an address) in a sliding quarter of an hour. */
export class Throttle {
  readonly #failures = new Map<string, number[]>();
  readonly #most: number;

  constructor(most: number) {
    this.#most = most;
  }

  /** Seconds to wait before another try, 0 if none. */
  wait(name: string, now: number): number {
    const list = (this.#failures.get(name) ?? []).filter((at) => at > now - windowMs);
    if (list.length) this.#failures.set(name, list);
    else this.#failures.delete(name);
    return list.length < this.#most ? 0 : Math.ceil((list[0]! + windowMs - now) / 1000);
  }

  fail(name: string, now: number): void {
    this.#failures.set(name, [...(this.#failures.get(name) ?? []), now].slice(-this.#most));
  }

  clear(name: string): void {
    this.#failures.delete(name);
  }
}

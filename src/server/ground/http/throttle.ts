const windowMs = 15 * 60_000;
/** Names that are kept at most: whoever makes names up cannot make this grow. */
const mostNames = 20_000;

/** Counts tries by a name (an account, an address, a device) in a sliding quarter of an hour. A try is counted before it is judged, and given back if it was good. */
export class Throttle {
  readonly #tries = new Map<string, number[]>();
  readonly #most: number;

  constructor(most: number) {
    this.#most = most;
  }

  /** Counts a try. @returns seconds to wait before another, 0 where this one may be made */
  take(name: string, now: number): number {
    const list = (this.#tries.get(name) ?? []).filter((at) => at > now - windowMs);
    if (list.length >= this.#most) return Math.ceil((list[0]! + windowMs - now) / 1000);
    this.#tries.delete(name);
    this.#tries.set(name, [...list, now]);
    if (this.#tries.size > mostNames) this.#drop();
    return 0;
  }

  /** The last try of a name was a good one: it does not count. */
  giveBack(name: string): void {
    this.#tries.get(name)?.pop();
  }

  clear(name: string): void {
    this.#tries.delete(name);
  }

  /** The names that were tried longest ago are forgotten. */
  #drop(): void {
    for (const name of this.#tries.keys()) {
      if (this.#tries.size <= mostNames / 2) return;
      this.#tries.delete(name);
    }
  }
}

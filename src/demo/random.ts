/** A small seeded generator (mulberry32): the same seed gives the same run of numbers everywhere. */
export class Seeded {
  #state: number;

  constructor(seed: number) {
    this.#state = seed >>> 0;
  }

  /** From 0 (inclusive) to 1 (exclusive). */
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0;
    let t = this.#state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** A whole number from least to most, both possible. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.next() * (most - least + 1));
  }

  chance(p: number): boolean {
    return this.next() < p;
  }

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.next() * list.length)]!;
  }

  /** One of the list, by weight. */
  weighted<T>(list: readonly T[], weight: (item: T) => number): T {
    let at = this.next() * list.reduce((sum, item) => sum + weight(item), 0);
    for (const item of list) {
      at -= weight(item);
      if (at < 0) return item;
    }
    return list.at(-1)!;
  }
}

import type { Id } from '../text/id';

/** A stored visit as far as rewards by the click ask. */
export interface Click {
  id: string;
  at: number;
  affiliate: Id<'affiliate'>;
  visitor: string | null;
  /** digest of the network address; null where none is known */
  address: string | null;
}

/** Why a click is recorded and paid nothing. `most` is how many of one network address a day pays. */
export type Unpaid = { code: 'same-visitor' } | { code: 'same-address'; most: number };

export interface JudgedClicks<T extends Click> {
  paid: T[];
  /** recorded, and paid nothing, with the reason */
  unpaid: { click: T; why: Unpaid }[];
}

/**
 * The clicks of a day on one product that a reward by the click pays: each visitor's first on an affiliate's link, and at most so many of one network
 * address, whosever links they were. Who comes back the same day is the same interest.
 * @param clicks on one product on one day, in order of time, opened as pages and not barred @param most of one address; null = no limit
 */
export function judgeClicks<T extends Click>(clicks: readonly T[], most: number | null): JudgedClicks<T> {
  const seen = new Set<string>();
  const byAddress = new Map<string, number>();
  const judged: JudgedClicks<T> = { paid: [], unpaid: [] };
  for (const click of clicks) {
    const { affiliate, visitor, address } = click;
    const before = address === null ? 0 : (byAddress.get(address) ?? 0);
    if (visitor !== null && seen.has(`${affiliate} ${visitor}`))
      judged.unpaid.push({ click, why: { code: 'same-visitor' } });
    else if (most !== null && before >= most)
      judged.unpaid.push({ click, why: { code: 'same-address', most } });
    else {
      judged.paid.push(click);
      if (address !== null) byAddress.set(address, before + 1);
    }
    if (visitor !== null) seen.add(`${affiliate} ${visitor}`);
  }
  return judged;
}

/** How many clicks were not paid, by reason, in the order the reasons came up. */
export function countUnpaid(unpaid: readonly { why: Unpaid }[]): { why: Unpaid; clicks: number }[] {
  const counts = new Map<Unpaid['code'], { why: Unpaid; clicks: number }>();
  for (const { why } of unpaid) {
    const known = counts.get(why.code);
    if (known) known.clicks += 1;
    else counts.set(why.code, { why, clicks: 1 });
  }
  return [...counts.values()];
}

/** Neighbours for which the same holds, in order: the clicks of a day under the same terms. */
export function runsOf<T>(items: readonly T[], keyOf: (item: T) => string): { key: string; items: T[] }[] {
  const runs: { key: string; items: T[] }[] = [];
  for (const item of items) {
    const key = keyOf(item);
    const last = runs.at(-1);
    if (last?.key === key) last.items.push(item);
    else runs.push({ key, items: [item] });
  }
  return runs;
}

/** A stored visit as far as rewards by the click ask. */
export interface Click {
  id: string;
  at: number;
  visitor: string | null;
}

/**
 * The clicks of a day on one product that count: each visitor's first. Who comes back the same day is the same interest; visits
 * without a visitor count one by one.
 * @param clicks of one affiliate on one product on one day, in order of time, without those that are barred
 */
export function countedClicks<T extends Click>(clicks: readonly T[]): T[] {
  const seen = new Set<string>();
  return clicks.filter(({ visitor }) => {
    if (visitor === null) return true;
    if (seen.has(visitor)) return false;
    seen.add(visitor);
    return true;
  });
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

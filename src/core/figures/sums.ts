/** What visits and orders come to; amounts in minor units of one currency. */
export interface Sums {
  clicks: number;
  orders: number;
  value: number;
  commission: number;
}

export const noSums: Sums = { clicks: 0, orders: 0, value: 0, commission: 0 };

export const addSums = (a: Sums, b: Partial<Sums>): Sums => ({
  clicks: a.clicks + (b.clicks ?? 0),
  orders: a.orders + (b.orders ?? 0),
  value: a.value + (b.value ?? 0),
  commission: a.commission + (b.commission ?? 0),
});

/** Sums by key, in the order in which keys come. @param begin keys that stand with nothing where nothing comes for them */
export function sumsByKey(
  begin: readonly string[],
  parts: Iterable<readonly [key: string, part: Partial<Sums>]>,
): Map<string, Sums> {
  const sums = new Map(begin.map((key) => [key, noSums]));
  for (const [key, part] of parts) sums.set(key, addSums(sums.get(key) ?? noSums, part));
  return sums;
}

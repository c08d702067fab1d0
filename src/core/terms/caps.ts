/** A rate as far as its cap matters. */
interface Capped {
  id: string;
  cap: number | null;
}

/** What earlier payments of an order have earned under each cap, by rate, minor units of base. */
export type Spent = ReadonlyMap<string, number>;

/** What of a rate's cap is left for a payment, minor units of base: it counts once for all payments of an order. Null where the rate has none. */
export const capLeft = ({ id, cap }: Capped, spent: Spent | undefined): number | null =>
  cap === null ? null : Math.max(0, cap - (spent?.get(id) ?? 0));

/** Adds to what was spent of caps. */
export function spend(spent: Map<string, number>, rate: string, amount: number): void {
  if (amount > 0) spent.set(rate, (spent.get(rate) ?? 0) + amount);
}

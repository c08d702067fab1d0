import { addCounts, figuresOf, noCounts, type Counts, type Figures } from './metrics';

/** The figures of the window of so many days that ends at each day; null while the window is not filled. */
export function sliding(days: readonly Counts[], window: number): (Figures | null)[] {
  return days.map((_, i) =>
    i + 1 < window ? null : figuresOf(days.slice(i + 1 - window, i + 1).reduce(addCounts, noCounts)),
  );
}

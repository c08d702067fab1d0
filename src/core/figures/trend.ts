import { addCounts, figuresOf, noCounts, type Counts, type Figures } from './measures';

/** The figures of the window of so many days that ends at each day; null while the window is not filled. */
export function sliding(days: readonly Counts[], window: number): (Figures | null)[] {
  return days.map((_, i) =>
    i + 1 < window ? null : figuresOf(days.slice(i + 1 - window, i + 1).reduce(addCounts, noCounts)),
  );
}

/** One figure at the end of a day: over the 7 and the 30 days up to it, and how high each is drawn. */
export interface TrendPoint {
  /** "2027-03-12" */
  day: string;
  /** in the unit of the figure; null where there is none, as a share of nothing */
  week: number | null;
  month: number | null;
  /** the same; a count a day, so that both windows are drawn on one scale */
  weekDrawn: number | null;
  monthDrawn: number | null;
}

/** All figures of the 7 and of the 30 days up to each day. */
export interface Windows {
  days: readonly string[];
  weeks: readonly (Figures | null)[];
  months: readonly (Figures | null)[];
}

/** @param days counted facts of each day, in order; the first 29 only fill the windows of what is shown */
export const windowsOf = (days: readonly (Counts & { day: string })[]): Windows => ({
  days: days.map(({ day }) => day),
  weeks: sliding(days, 7),
  months: sliding(days, 30),
});

/**
 * One figure over time.
 * @param shown how many of the last days come back
 * @param isCount whether the figure is a number of things, which grows with its window
 */
export function trendOf(
  { days, weeks, months }: Windows,
  { of: figure, shown, isCount }: { of: keyof Figures; shown: number; isCount: boolean },
): TrendPoint[] {
  const drawn = (value: number | null, window: number) =>
    value === null || !isCount ? value : value / window;
  return days
    .map((day, i) => {
      const week = weeks[i]?.[figure] ?? null;
      const month = months[i]?.[figure] ?? null;
      return { day, week, month, weekDrawn: drawn(week, 7), monthDrawn: drawn(month, 30) };
    })
    .slice(-shown);
}

/** The last point of every week, counted back from the last of all. */
export const weekly = (points: readonly TrendPoint[]): TrendPoint[] =>
  points.filter((_, i) => (points.length - 1 - i) % 7 === 0);

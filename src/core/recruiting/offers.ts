import { mulDiv } from '../money/rounding';

/** Orders and clicks from which an average is said in public: fewer would be chance. */
export const enough = { orders: 10, clicks: 100 } as const;

/** What 100 clicks earned, minor units; null where there is too little to say so. */
export function averageEarning(counts: { clicks: number; orders: number; granted: number }): number | null {
  return counts.orders >= enough.orders && counts.clicks >= enough.clicks
    ? mulDiv(counts.granted, 100, counts.clicks)
    : null;
}

/** The place of an own figure among those of others, the highest first: 1 of n. Null where there is no figure. */
export function placeAmong(
  own: number | null,
  others: readonly number[],
): { place: number; of: number } | null {
  return own === null ? null : { place: 1 + others.filter((o) => o > own).length, of: others.length + 1 };
}

/** An address part made of a headline: letters, digits and dashes. */
export function slugOf(text: string): string {
  return (
    text
      .normalize('NFKD')
      .replace(/[\u0300-\u036f]/g, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 60) || 'offer'
  );
}

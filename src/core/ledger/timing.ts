/** When a commission is paid: with the sale, or once its refund window has passed. */
export const timings = ['at-sale', 'after-hold'] as const;
export type Timing = (typeof timings)[number];

/** The two payment timings in words. */
export const timingWords: Record<Timing, string> = { 'at-sale': 'at sale', 'after-hold': 'after hold' };

/** Who clears what is held when its day has come. */
export const clearings = ['automatic', 'person'] as const;

/** The two payment timings in words. */
export const timingWords = { 'at-sale': 'at sale', 'after-hold': 'after hold' } as const;

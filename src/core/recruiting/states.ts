export const affiliateStates = ['applied', 'active', 'paused', 'ended', 'blocked'] as const;

export const applicationStates = ['waiting', 'asked', 'approved', 'declined', 'withdrawn'] as const;

export const timings = ['at-sale', 'after-hold'] as const;

export const entryStates = ['none', 'submitted', 'question', 'listed', 'refused'] as const;

export const prospectStates = ['never', 'invited', 'joined'] as const;

export type AffiliateState = (typeof affiliateStates)[number];
export type ApplicationState = (typeof applicationStates)[number];

/** When a commission is paid: with the sale, or once its refund window has passed. */
export type Timing = (typeof timings)[number];

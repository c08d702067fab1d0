/** Applied and not let in yet, earning, or not any more. */
export const affiliateStates = ['applied', 'active', 'paused', 'ended', 'blocked'] as const;

/** Where an application stands. */
export const applicationStates = ['waiting', 'asked', 'approved', 'declined', 'withdrawn'] as const;

/** Where an offer page stands in the registry's catalogue. */
export const entryStates = ['none', 'submitted', 'question', 'listed', 'refused'] as const;

/** How a partner of the registry stands with us. */
export const prospectStates = ['never', 'invited', 'joined'] as const;

export type AffiliateState = (typeof affiliateStates)[number];
export type ApplicationState = (typeof applicationStates)[number];

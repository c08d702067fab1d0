export const rateEvents = ['sale', 'renewal', 'lead', 'click'] as const;

export const columnKinds = ['everyone', 'card', 'group', 'tag', 'affiliate'] as const;

export const rowKinds = ['everything', 'kind', 'product', 'step'] as const;

export const payKinds = ['percent', 'flat-order', 'flat-unit'] as const;

export const shareBases = ['sale', 'commission'] as const;

export const setKinds = ['card', 'group', 'tag'] as const;

export const tagColours = ['copper', 'verdigris', 'madder', 'ochre', 'slate'] as const;

export type RateEvent = (typeof rateEvents)[number];
export type PayKind = (typeof payKinds)[number];
export type SetKind = (typeof setKinds)[number];

/** What a referral share is a percent of. */
export type ShareBase = (typeof shareBases)[number];

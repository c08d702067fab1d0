/** Whom a rate of the book is for. */
export const columnKinds = ['everyone', 'card', 'group', 'tag', 'affiliate'] as const;

/** What a rate of the book is on. */
export const rowKinds = ['everything', 'kind', 'product', 'step'] as const;

/** What a reward is. */
export const payKinds = ['percent', 'flat-order', 'flat-unit'] as const;

/** What a referral share is a percent of. */
export const shareBases = ['sale', 'commission'] as const;

/** What affiliates are put into: exactly one card, one group at most, any tags. */
export const setKinds = ['card', 'group', 'tag'] as const;

/** The colours that tell tags apart. */
export const tagColours = ['copper', 'verdigris', 'madder', 'ochre', 'slate'] as const;

export type PayKind = (typeof payKinds)[number];
export type SetKind = (typeof setKinds)[number];

export type ShareBase = (typeof shareBases)[number];

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

/** What a rate does: it is one of the ladder, or raises it. */
export const rateModes = ['base', 'up-to', 'plus'] as const;

/** What is paid after the last payment a rate names. */
export const afterwards = ['nothing', 'next'] as const;

/** The payments that a product’s own terms can be kept for. */
export const lockedEvents = ['sale', 'renewal'] as const;

/** What the book can be told beside a rate. */
export const switchOps = ['end', 'lock', 'pause'] as const;

/** Where a cell of the rate book has its rate from. */
export const cellSources = ['here', 'column', 'elsewhere', 'nothing'] as const;

/** What a change on the timeline is of: of terms, or one that is planned for material. */
export const changeKinds = [
  'rate',
  'uplift',
  'lock',
  'pause',
  'tag-order',
  'referral',
  'co-owner',
  'creative',
  'coupon',
] as const;

/** How far a change of terms is. */
export const changeStates = ['coming', 'running', 'done', 'undone'] as const;
export type ChangeState = (typeof changeStates)[number];

/** How far work in a thread of its own is. */
export const jobStates = ['running', 'done', 'cancelled', 'failed'] as const;

/** What adding somebody to a card, a group or a tag comes to. */
export const memberOutcomes = ['add', 'move', 'already', 'repeated', 'unknown'] as const;

/** What is done with those who are elsewhere already. */
export const elsewhere = ['move', 'keep'] as const;

/** A share of a sale that is none of its seller’s commission. */
export const shareKinds = ['referral', 'co-owner'] as const;
export type ShareKind = (typeof shareKinds)[number];

/** What a figure of a working is: part of a sum, a step between sums, a sum, or said beside. */
export const sumWeights = ['part', 'step', 'sum', 'aside'] as const;

/** What became of a rate that was considered. */
export const consideredOutcomes = ['wins', 'loses', 'does-not-apply'] as const;
export type ConsideredOutcome = (typeof consideredOutcomes)[number];

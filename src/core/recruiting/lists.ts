/** What becomes of an application that a person decides. */
export const decisions = ['approve', 'decline'] as const;

/** What a screening rule does: decides by itself, or leaves it to a person. */
export const ruleOutcomes = ['approve', 'decline', 'person'] as const;

/** What somebody who applies is told at once. */
export const joinOutcomes = ['received', 'already-waiting', 'already-approved', 'added', 'let-in'] as const;

/** What a person of the staff may make of an affiliate. */
export const settableStates = ['active', 'paused', 'ended', 'blocked'] as const;

/** Whom the roster can be narrowed to beside what everybody has. */
export const rosterOnly = [
  'promoters',
  'bounced',
  'unaccepted',
  'no-details',
  'no-clicks',
  'trusted',
] as const;
export const rosterSorts = ['name', 'newest'] as const;

/** What can be done to many affiliates at once. */
export const bulkKinds = [
  'group',
  'card',
  'tag-on',
  'tag-off',
  'pause',
  'resume',
  'looked-after',
  'kind',
] as const;

/** What a line of a list of affiliates comes to. */
export const importOutcomes = ['new', 'change', 'same', 'wrong'] as const;

/** Where an invitation stands. */
export const inviteStates = [
  'waiting',
  'sent',
  'opened',
  'accepted',
  'declined',
  'expired',
  'withdrawn',
] as const;
export type InviteState = (typeof inviteStates)[number];

/** What inviting a partner comes to; all but the first invite nobody. */
export const inviteOutcomes = ['invited', 'joined', 'recent', 'open', 'unknown', 'over'] as const;

/** What a template of words is for. */
export const templateUses = ['message', 'invite'] as const;

/** A letter can be declined by its readers, a notice goes to all. */
export const letterKinds = ['letter', 'notice'] as const;

/** How far a message is. */
export const messageStates = ['waiting', 'sent', 'bounced'] as const;

/** News for affiliates, or a note on one product. */
export const noticeKinds = ['news', 'note'] as const;

/** Who speaks in the exchange about a catalogue entry. */
export const entrySpeakers = ['reviewer', 'merchant'] as const;

/** A version of the policy is written, then stands. */
export const policyStates = ['draft', 'published'] as const;

/** What a part of a text is against the version before. */
export const differenceMarks = ['same', 'added', 'removed'] as const;

export const heads = { card: 'Rate cards', group: 'Groups', tag: 'Tags' } as const;

export const words = { card: 'rate card', group: 'group', tag: 'tag' } as const;

/** Who can read the names: said where they are typed. */
export const readBy = {
  card: 'Affiliates read the name and the description where they choose a card.',
  group: 'Affiliates of the group read its name and description.',
  tag: 'Only you read it: affiliates never see tags.',
} as const;

export const about = {
  card: 'Everyone is on exactly one. Rung 4 of the ladder.',
  group: 'An affiliate is in one at most. Rung 3 of the ladder; a paused group is skipped.',
  tag: 'An affiliate can have many. Rung 2 of the ladder; of two that apply the upper decides.',
} as const;

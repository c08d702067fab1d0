/** What somebody of the staff may do, from everything to looking on. */
export const roles = ['owner', 'manager', 'finance', 'viewer'] as const;
export type Role = (typeof roles)[number];

/** Who acts: a person of the staff, or an affiliate in the portal. */
export const actorKinds = ['staff', 'affiliate'] as const;

/** What a page is answered that asks who is there. */
export const sessionStates = ['set-up', 'signed-out', 'signed-in'] as const;

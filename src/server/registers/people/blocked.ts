import type { AffiliateRecord } from './record';

/** True where an affiliate was blocked at a moment already: what was sold before it earns, however late it is reported. */
export const wasBlocked = (
  { state, blockedAt }: Pick<AffiliateRecord, 'state' | 'blockedAt'>,
  at: number,
): boolean => state === 'blocked' && (blockedAt === null || at >= blockedAt);

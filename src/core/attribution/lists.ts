/** Why a visit cannot earn: kept with it when it is made, or found when an order asks for it. */
export const barredCodes = [
  'automated',
  'affiliate-applied',
  'affiliate-paused',
  'affiliate-ended',
  'affiliate-blocked',
  'product-retired',
] as const;

export type Barred = (typeof barredCodes)[number];

/** By what an affiliate is credited. */
export const creditWays = ['visit', 'visitor', 'subscription', 'clicks'] as const;

export type CreditedBy = (typeof creditWays)[number];

/** The signed calls of the tracking contract, by what each reports, and where a shop sends it. */
export const callPaths = {
  order: '/api/track/v1/orders',
  refund: '/api/track/v1/refunds',
  renewal: '/api/track/v1/renewals',
  lead: '/api/track/v1/leads',
  quote: '/api/track/v1/quotes',
} as const;

export type TrackedCall = keyof typeof callPaths;

/** How a sale is reported: signed by the shop, or by a picture in the buyer’s page. */
export const reportWays = ['server', 'picture'] as const;
export type ReportWay = (typeof reportWays)[number];

/** What a report is answered with. */
export const reportOutcomes = [
  'recorded',
  'unconfirmed',
  'already-recorded',
  'contradicts',
  'refused',
  'not-signed',
] as const;
export type ReportOutcome = (typeof reportOutcomes)[number];

/** What becomes of a sale that is known by its picture alone. */
export const picturedStates = ['open', 'reported', 'confirmed', 'set-aside'] as const;

/** Money given back by the shop, or taken back by the buyer’s bank. */
export const refundKinds = ['refund', 'chargeback'] as const;

/** What a signed report is answered with that is taken: for the first time, or once more. */
export const acceptedOutcomes = ['recorded', 'already-recorded'] as const satisfies readonly ReportOutcome[];

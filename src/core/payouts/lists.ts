/** The states of a payout run. */
export const runStates = [
  'draft',
  'approving',
  'approved',
  'reopening',
  'sending',
  'sent',
  'settled',
  'discarded',
] as const;

/** How far a payment of a run is. */
export const paymentStates = ['in-run', 'sent', 'settled', 'failed', 'returned'] as const;

/** What a payment's state is called everywhere: at the desk, in the portal, in files and mails. */
export const paymentLabels: Record<(typeof paymentStates)[number] | 'proposed', string> = {
  proposed: 'proposed',
  'in-run': 'approved',
  sent: 'sent',
  settled: 'paid',
  failed: 'failed',
  returned: 'returned',
};

/** A state of a payout run; which may follow which: `plan.ts`. */
export type RunState = (typeof runStates)[number];

/** How far a payment is, a draft’s that is only proposed among them. */
export const shownPaymentStates = ['proposed', ...paymentStates] as const;

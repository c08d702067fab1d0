const events: Record<string, string> = {
  granted: 'Granted, held',
  'granted-at-sale': 'Granted at sale',
  cleared: 'Cleared',
  'taken-into-run': 'Taken into a run',
  'taken-out-of-run': 'Taken out of a run',
  paid: 'Paid',
  'payment-failed': 'Payment failed',
  'payment-returned': 'Payment returned',
  'reversed-before-payment': 'Reversed before payment',
  'reversed-after-payment': 'Reversed after payment',
  declined: 'Declined',
  correction: 'Corrected',
  'given-up': 'Given up',
};

/** An event of the journal for people. */
export function eventWords(event: string): string {
  return events[event] ?? event;
}

export const eventNames = Object.keys(events);

const accounts: Record<string, string> = {
  expense: 'Commission expense',
  held: 'Held',
  cleared: 'Cleared',
  'in-run': 'In a run',
  bank: 'Bank',
  'write-off': 'Written off',
};

export function accountWords(account: string): string {
  return accounts[account] ?? account;
}

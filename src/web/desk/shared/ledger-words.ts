import type { Account, EntryEvent } from '../../../core/ledger/entry';

const events: Record<EntryEvent, string> = {
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
  'corrected-by-report': 'Corrected by the signed report',
  'given-up': 'Given up',
};

/** An event of the journal for people. */
export function eventWords(event: EntryEvent): string {
  return events[event];
}

/** Every event, in the order in which they are offered. */
export const eventNames = Object.keys(events) as EntryEvent[];

const accounts: Record<Account, string> = {
  expense: 'Commission expense',
  held: 'Held',
  cleared: 'Cleared',
  'in-run': 'In a run',
  bank: 'Bank',
  'write-off': 'Written off',
};

/** An account of the journal for people. */
export function accountWords(account: Account): string {
  return accounts[account];
}

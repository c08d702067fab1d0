import { describeKept, type Kept } from '../text/kept';

/** What a status means for a payment line. Codes of ISO 20022 (ExternalPaymentTransactionStatus1Code). */
export type LineOutcome = 'settled' | 'failed' | 'under-way';

const outcomes: Record<string, LineOutcome> = {
  ACSC: 'settled',
  ACCC: 'settled',
  RJCT: 'failed',
  CANC: 'failed',
  ACTC: 'under-way',
  ACCP: 'under-way',
  ACSP: 'under-way',
  ACWC: 'under-way',
  PDNG: 'under-way',
  RCVD: 'under-way',
};

/** The outcome of a status code; null for a code that is not known. */
export function outcomeOf(code: string): LineOutcome | null {
  return Object.hasOwn(outcomes, code) ? outcomes[code]! : null;
}

const reasons: Record<string, string> = {
  AC01: 'the account number is wrong',
  AC04: 'the account is closed',
  AC06: 'the account is blocked',
  AM04: 'not enough funds',
  BE01: 'the name does not match the account',
  MS03: 'the bank gives no reason',
  FF01: 'the file is not valid',
  RC01: 'the bank identifier is wrong',
  DUPL: 'the payment is a repeat',
};

/**
 * Why a payment stands as it does: what the bank said of it (ExternalStatusReason1Code; null where it gives none), or the reference by which a
 * person settled it.
 */
export type PaymentReason =
  { code: 'by-bank'; status: string | null } | { code: 'by-hand'; reference: string };

function describeStatus(status: string | null): string {
  if (!status) return 'the bank gives no reason';
  return reasons[status] ? `${reasons[status]} (${status})` : `reason ${status}`;
}

/** Why a payment stands as it does, in words. */
export function describePayment(reason: Kept<PaymentReason>): string {
  return describeKept(reason, (known) =>
    known.code === 'by-bank' ? describeStatus(known.status) : `settled by hand, reference ${known.reference}`,
  );
}

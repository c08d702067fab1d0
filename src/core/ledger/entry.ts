import { BeyondAmounts } from '../money/rounding';
import type { Id } from '../text/id';

/** The accounts of the journal. All but expense, bank and write-off are kept per affiliate. */
export const accounts = ['expense', 'held', 'cleared', 'in-run', 'bank', 'write-off'] as const;
export type Account = (typeof accounts)[number];

/** What happened, one row of the table of entries each. */
export const entryEvents = [
  'granted',
  'granted-at-sale',
  'cleared',
  'taken-into-run',
  'paid',
  'payment-failed',
  'payment-returned',
  'taken-out-of-run',
  'reversed-before-payment',
  'reversed-after-payment',
  'declined',
  'correction',
  'corrected-by-report',
  'given-up',
] as const;
export type EntryEvent = (typeof entryEvents)[number];

/** One side of an entry: debit positive, credit negative, minor units of base. */
export interface EntryLine {
  account: Account;
  affiliate: Id<'affiliate'> | null;
  commission: Id<'commission'> | null;
  amount: number;
}

/** Whose money an entry moves: the affiliate, and the commission it belongs to. */
export interface Owner {
  affiliate: Id<'affiliate'>;
  commission: Id<'commission'> | null;
}

const perAffiliate: Record<Account, boolean> = {
  expense: false,
  held: true,
  cleared: true,
  'in-run': true,
  bank: false,
  'write-off': false,
};

/**
 * Moves an amount from one account (credited) to another (debited). A negative amount moves it the other way round.
 * @param amount minor units of base
 * @returns two lines that sum to zero, or none for zero
 */
export function move(amount: number, debit: Account, credit: Account, owner: Owner): EntryLine[] {
  if (!Number.isSafeInteger(amount))
    throw new BeyondAmounts(`${amount} is not a whole number of minor units within ±2^53`);
  if (amount === 0) return [];
  const line = (account: Account, signed: number): EntryLine => ({
    account,
    affiliate: perAffiliate[account] ? owner.affiliate : null,
    commission: owner.commission,
    amount: signed,
  });
  return [line(debit, amount), line(credit, -amount)];
}

/** What a commission has on each account, as amounts owed to the affiliate (credit positive). */
export interface Standing {
  held: number;
  cleared: number;
  inRun: number;
  /** gone to the bank for this commission, net of returns */
  paid: number;
}

export const nothing: Standing = { held: 0, cleared: 0, inRun: 0, paid: 0 };

const simple = {
  granted: ['expense', 'held'],
  'granted-at-sale': ['expense', 'cleared'],
  cleared: ['held', 'cleared'],
  'taken-into-run': ['cleared', 'in-run'],
  'taken-out-of-run': ['in-run', 'cleared'],
  paid: ['in-run', 'bank'],
  'payment-failed': ['in-run', 'cleared'],
  'payment-returned': ['bank', 'cleared'],
} as const satisfies Partial<Record<EntryEvent, readonly [Account, Account]>>;

export type SimpleEvent = keyof typeof simple;

/** The lines of an event that moves one amount between two fixed accounts. */
export function entryFor(event: SimpleEvent, amount: number, owner: Owner): EntryLine[] {
  const [debit, credit] = simple[event];
  return move(amount, debit, credit, owner);
}

/**
 * The entries that take an amount back from a commission after a refund or a decline: out of what is held first,
 * the rest out of the cleared balance, which may fall below zero and is netted in the next run.
 * @param amount minor units of base, not negative
 */
export function reverse(
  amount: number,
  standing: Standing,
  owner: Owner,
): { event: EntryEvent; lines: EntryLine[] }[] {
  if (amount < 0) throw new RangeError(`Only a positive amount can be reversed, not ${amount}`);
  const fromHeld = Math.min(amount, Math.max(0, standing.held));
  const fromCleared = Math.min(amount - fromHeld, Math.max(0, standing.cleared));
  const before = [
    ...move(fromHeld, 'held', 'expense', owner),
    ...move(fromCleared, 'cleared', 'expense', owner),
  ];
  const after = move(amount - fromHeld - fromCleared, 'cleared', 'expense', owner);
  return [
    ...(before.length ? [{ event: 'reversed-before-payment' as const, lines: before }] : []),
    ...(after.length ? [{ event: 'reversed-after-payment' as const, lines: after }] : []),
  ];
}

/**
 * The entry that corrects a commission by a difference: a raise goes where the commission is (held, else cleared),
 * a cut is taken like a reversal but named a correction.
 */
export function correct(difference: number, standing: Standing, owner: Owner): EntryLine[] {
  if (difference >= 0) return move(difference, 'expense', standing.held > 0 ? 'held' : 'cleared', owner);
  const fromHeld = Math.min(-difference, Math.max(0, standing.held));
  return [
    ...move(fromHeld, 'held', 'expense', owner),
    ...move(-difference - fromHeld, 'cleared', 'expense', owner),
  ];
}

/** Gives up so much of what an affiliate's cleared balance is below zero. @param amount minor units; negative: takes back what was given up */
export function giveUp(amount: number, owner: Owner): EntryLine[] {
  return move(amount, 'write-off', 'cleared', owner);
}

/** The standing after some lines, of the given commission's point of view. */
export function standingAfter(standing: Standing, lines: readonly EntryLine[]): Standing {
  const next = { ...standing };
  for (const { account, amount } of lines) {
    if (account === 'held') next.held -= amount;
    else if (account === 'cleared') next.cleared -= amount;
    else if (account === 'in-run') next.inRun -= amount;
    else if (account === 'bank') next.paid -= amount;
  }
  return next;
}

/** True if debits and credits are equal and there is something to post. */
export function balances(lines: readonly EntryLine[]): boolean {
  return lines.length >= 2 && lines.reduce((sum, l) => sum + l.amount, 0) === 0;
}

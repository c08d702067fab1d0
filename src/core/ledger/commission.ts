import { addZonedDays } from '../calendar/zone';
import type { Standing } from './entry';
import type { Timing } from './timing';

/** What somebody earns by: a commission of their own, or a share of another’s sale. */
export const commissionKinds = ['commission', 'referral', 'co-owner'] as const;

/** The states of a commission, derived from the journal. */
export const commissionStates = ['held', 'cleared', 'in-run', 'paid', 'declined', 'reversed'] as const;
export type CommissionState = (typeof commissionStates)[number];

/**
 * A commission's state from what it has on each account.
 * In a run outranks the rest; what has been paid and then taken back shows as reversed until the balance is netted.
 */
export function stateOf(standing: Standing, declined: boolean): CommissionState {
  if (standing.inRun !== 0) return 'in-run';
  if (standing.held > 0) return 'held';
  if (standing.cleared > 0) return 'cleared';
  if (standing.cleared < 0) return 'reversed';
  if (standing.paid > 0) return 'paid';
  return declined ? 'declined' : 'reversed';
}

/**
 * The day from which a commission may be paid.
 * After hold: moment of sale + refund window + buffer, at the same wall-clock time in the programme's zone.
 * At sale: the moment of sale.
 * @param soldAt UTC milliseconds @returns UTC milliseconds
 */
export function clearingMoment(
  soldAt: number,
  {
    timing,
    refundDays,
    bufferDays,
    zone,
  }: { timing: Timing; refundDays: number; bufferDays: number; zone: string },
): number {
  return timing === 'at-sale' ? soldAt : addZonedDays(soldAt, refundDays + bufferDays, zone);
}

/**
 * Exposure: commissions paid on sales that can still be refunded, minus what the affiliate's balance would cover.
 * @param paidRefundable minor units paid on sales inside their refund window @param balance held + cleared
 */
export function exposure(paidRefundable: number, balance: number): number {
  return Math.max(0, paidRefundable - Math.max(0, balance));
}

/** What decides how much a refund takes back, minor units of base. */
export interface BeforeRefund {
  /** held + cleared + in run + paid, as it stands */
  standing: number;
  /** corrections by people so far, and what of a negative balance was given up */
  adjusted: number;
  givenUp: number;
  declined: boolean;
  /** what the order's lines lose by the refund, and what the rates give on the value that is left */
  reversed: number;
  linesLeft: number;
  /** what is left of the sale's value beside what the rates give on it: corrections have no more room than that */
  room: number;
  /** nothing of the order is left */
  nothingLeft: boolean;
}

/** What is to be left of a commission after a refund: what the rates give on the value left, as a person has corrected it. */
const leftAfter = ({ nothingLeft, linesLeft, adjusted, room }: BeforeRefund): number =>
  nothingLeft ? 0 : Math.max(0, linesLeft + Math.min(adjusted, Math.max(0, room)));

/**
 * What a refund takes back of a commission, minor units of base: what its lines lose; with everything refunded, also what
 * a person had added; never more than is left. What was declined is gone already.
 */
export function takenBack(before: BeforeRefund): number {
  const { standing, givenUp, declined, reversed } = before;
  if (declined) return Math.min(reversed, Math.max(0, standing));
  return Math.max(0, standing - givenUp - leftAfter(before));
}

/** What of a person’s corrections stays after a refund, minor units of base. */
export function adjustedAfter(before: BeforeRefund): number {
  return before.declined ? before.adjusted : leftAfter(before) - before.linesLeft;
}

/** A commission before its order was reported with other values, minor units of base. */
export interface BeforeRegrant {
  granted: number;
  /** held + cleared + in run + paid, as it stands */
  standing: number;
  /** corrections by people so far */
  adjusted: number;
  /** what was declined; null = it was not */
  declinedAmount: number | null;
  /** what the other commission and shares of the order stand at, and what the order is worth now */
  others: number;
  worth: number;
}

/**
 * What a commission becomes when its order is reported with other values. Corrections by people stay as far as commission
 * and shares still fit the order's worth. What was declined stays declined: it grows and shrinks with what was granted.
 * @param granted the new amount, minor units of base @returns what is corrected of its standing, and what is to be kept
 */
export function regranted(
  { granted: old, standing, adjusted, declinedAmount, others, worth }: BeforeRegrant,
  granted: number,
): { corrected: number; adjusted: number; declinedAmount: number } {
  const difference = granted - old;
  const beyond = Math.min(Math.max(0, adjusted), Math.max(0, standing + difference + others - worth));
  if (declinedAmount === null)
    return { corrected: difference - beyond, adjusted: adjusted - beyond, declinedAmount: 0 };
  // what was paid before it was declined can be less than the new amount leaves
  const declined = Math.max(0, declinedAmount + difference);
  return { corrected: difference + declinedAmount - declined, adjusted, declinedAmount: declined };
}

/**
 * Which commissions are brought up, and by how much, to write a negative balance off: in the order given, until the
 * balance as a whole is at zero. What other commissions will cover is not given up.
 * @param balance held and cleared of all commissions, minor units of base @param below each one's cleared amount below zero
 */
export function writeOffs<T extends { cleared: number }>(
  balance: number,
  below: readonly T[],
): { of: T; amount: number }[] {
  let rest = Math.max(0, -balance);
  return below.flatMap((share) => {
    const amount = Math.min(rest, Math.max(0, -share.cleared));
    rest -= amount;
    return amount > 0 ? [{ of: share, amount }] : [];
  });
}

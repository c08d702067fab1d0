import { addZonedDays } from '../calendar/zone';
import type { Standing } from './entry';

/** The states of a commission, derived from the journal. */
export const commissionStates = ['held', 'cleared', 'in-run', 'paid', 'declined', 'reversed'] as const;
export type CommissionState = (typeof commissionStates)[number];

/** At sale: may be paid at once. After hold: from the clearing date. */
export const timings = ['at-sale', 'after-hold'] as const;
export type Timing = (typeof timings)[number];

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
export function clearingMoment(soldAt: number, timing: Timing, refundDays: number, bufferDays: number, zone: string): number {
  return timing === 'at-sale' ? soldAt : addZonedDays(soldAt, refundDays + bufferDays, zone);
}

/**
 * Exposure: commissions paid on sales that can still be refunded, minus what the affiliate's balance would cover.
 * @param paidRefundable minor units paid on sales inside their refund window @param balance held + cleared
 */
export function exposure(paidRefundable: number, balance: number): number {
  return Math.max(0, paidRefundable - Math.max(0, balance));
}

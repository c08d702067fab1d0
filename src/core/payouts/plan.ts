import type { AffiliateState } from '../recruiting/states';
import type { Id } from '../text/id';
import type { RunState } from './lists';

/** A part of what is paid, minor units of base. */
interface Item {
  amount: number;
}

export interface PayoutItem extends Item {
  commission: Id<'commission'>;
}

/** What a payee brings to a run: an item per commission with a cleared balance, positive or negative. */
export interface PayeeBalance<I extends Item = PayoutItem> {
  affiliate: Id<'affiliate'>;
  name: string;
  state: AffiliateState;
  /** complete and valid bank details */
  payable: boolean;
  /** has not accepted a policy that payment waits for */
  unaccepted?: boolean;
  items: readonly I[];
}

export interface ProposedPayment<I extends Item = PayoutItem> {
  affiliate: Id<'affiliate'>;
  name: string;
  /** minor units, positive */
  amount: number;
  items: readonly I[];
}

export interface LeftOut {
  affiliate: Id<'affiliate'>;
  name: string;
  amount: number;
  reason: 'negative' | 'below-minimum' | 'no-details' | 'policy' | 'blocked' | 'nothing';
}

/** The sum of some amounts of one currency, minor units. */
export function sumOf(parts: readonly { amount: number }[]): number {
  return parts.reduce((sum, part) => sum + part.amount, 0);
}

export interface RunPlan<I extends Item = Item> {
  payments: ProposedPayment<I>[];
  leftOut: LeftOut[];
  total: number;
}

/**
 * Proposes the payments of a run: each payee's cleared items netted; left out, with a reason, who cannot or need not be paid.
 * Every payee given appears exactly once.
 * @param minimum smallest payment, minor units of base
 */
export function planRun<I extends Item>(payees: readonly PayeeBalance<I>[], minimum: number): RunPlan<I> {
  const plan: RunPlan<I> = { payments: [], leftOut: [], total: 0 };
  for (const payee of payees) {
    const amount = sumOf(payee.items);
    const out = (reason: LeftOut['reason']) =>
      plan.leftOut.push({ affiliate: payee.affiliate, name: payee.name, amount, reason });
    if (payee.state === 'blocked') out('blocked');
    else if (amount < 0) out('negative');
    else if (amount === 0) out('nothing');
    else if (amount < minimum) out('below-minimum');
    else if (!payee.payable) out('no-details');
    else if (payee.unaccepted) out('policy');
    else {
      plan.payments.push({ affiliate: payee.affiliate, name: payee.name, amount, items: payee.items });
      plan.total += amount;
    }
  }
  return plan;
}

/** Why somebody is not in a run: as its plan says, or because a person said so. */
export type OutReason = LeftOut['reason'] | 'by-hand';
export type Out = Omit<LeftOut, 'reason'> & { reason: OutReason };

/** What somebody can do something about first; last who is only waiting for more. */
export const outReasons = [
  'by-hand',
  'no-details',
  'policy',
  'blocked',
  'negative',
  'nothing',
  'below-minimum',
] as const satisfies readonly OutReason[];

/** Those left out by their reasons, in the order of `outReasons`, each with how many and the sum in minor units of base; reasons that nobody has are not in it. */
export function byReason(all: readonly Out[]): { reason: OutReason; rows: Out[]; sum: number }[] {
  const rows = new Map<OutReason, Out[]>(outReasons.map((reason) => [reason, []]));
  for (const out of all) rows.get(out.reason)!.push(out);
  return [...rows]
    .filter(([, some]) => some.length > 0)
    .map(([reason, some]) => ({ reason, rows: some, sum: sumOf(some) }));
}

/** Why a payee is left out, in words. @param say an amount with its currency */
export function whyLeftOut(
  { reason, amount }: Pick<Out, 'reason' | 'amount'>,
  minimum: number,
  say: (amount: number) => string,
): string {
  switch (reason) {
    case 'by-hand':
      return 'left out by a person';
    case 'blocked':
      return 'the affiliate is blocked';
    case 'negative':
      return `the balance is ${say(amount)}, to be netted against coming commissions`;
    case 'nothing':
      return 'commissions and reversals cancel out';
    case 'below-minimum':
      return `${say(amount)} is below the minimum of ${say(minimum)}`;
    case 'no-details':
      return 'no valid payout details';
    case 'policy':
      return 'the policy in force is not accepted';
  }
}

/**
 * The states of a payout run and where each may go. Three of them are passed through: what a step does to thousands of payments is done by pieces, and
 * until the last of them the run is on its way to the next state.
 */
export const runSteps = {
  draft: ['approving', 'discarded'],
  approving: ['approved', 'reopening'],
  approved: ['sending', 'reopening'],
  reopening: ['draft'],
  sending: ['sent'],
  sent: ['settled'],
  settled: [],
  discarded: [],
} as const satisfies Record<RunState, readonly RunState[]>;

/** The states that a run only passes through. */
export const passing = ['approving', 'reopening', 'sending'] as const satisfies readonly RunState[];

/** How a state is said of a run. */
export const runStateWords: Record<RunState, string> = {
  draft: 'draft',
  approving: 'being approved',
  approved: 'approved',
  reopening: 'being taken back',
  sending: 'being sent',
  sent: 'sent',
  settled: 'settled',
  discarded: 'discarded',
};

/** True if a run may go from one state to the other. */
export function mayGo(from: RunState, to: RunState): boolean {
  return (runSteps[from] as readonly RunState[]).includes(to);
}

import { Problem } from '../../../src/server/ground/http/problem';
import { correct, decline, giveUp } from './amending';
import { payRun, readStatus, reopen, returnPayment } from './paying';
import { changeTerms, order, passDays, refund, renew, subscribe } from './sales';
import type { Played, Step, World } from './world';

/** What succeeded, by step: a history of refusals alone would hold every invariant. */
export const succeeded: Partial<Record<Step['kind'], number>> = {};

const plays: Record<Step['kind'], (played: Played) => void> = {
  order: order,
  subscribe: subscribe,
  renewal: renew,
  terms: changeTerms,
  refund: refund,
  days: passDays,
  run: payRun,
  reopen: reopen,
  status: readStatus,
  return: returnPayment,
  correct: correct,
  'give-up': giveUp,
  decline: decline,
};

/** Carries out one step; what the domain refuses is refused, anything else that throws is a fault. */
export function play(world: World, step: Step): void {
  const { app } = world.t;
  plays[step.kind]({
    world,
    step,
    inOne: (work) => {
      try {
        app.transaction(work);
        succeeded[step.kind] = (succeeded[step.kind] ?? 0) + 1;
      } catch (fault) {
        if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
      }
    },
    all: (rows) => rows[step.n % Math.max(1, rows.length)],
  });
}

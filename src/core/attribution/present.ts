import type { KeptCredit } from './credit';
import { describeCredit, describeVisit, type NameOf } from './reason';

/** Who was credited and what else was looked at, in words and with names. */
export function presentCredit(credit: KeptCredit, nameOf: NameOf) {
  return {
    who: credit.affiliate === null ? null : nameOf(credit.affiliate),
    reason: describeCredit(credit.reason, nameOf),
    considered: credit.considered.map(({ visit, affiliate, at, outcome }) => ({
      visit,
      who: nameOf(affiliate),
      at,
      outcome: describeVisit(outcome),
    })),
  };
}

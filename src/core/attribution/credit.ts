import { millisecondsInDay } from '../calendar/zone';
import type { Id } from '../text/id';
import type { Kept } from '../text/kept';
import type { Barred, CreditedBy } from './lists';
import type { CreditReason, VisitOutcome } from './reason';

/** A stored click on a tracking link. */
export interface Visit {
  id: Id<'visit'>;
  affiliate: Id<'affiliate'>;
  product: string | null;
  at: number;
  /** why the visit cannot earn; null if it can */
  barred: Barred | null;
}

/** A visit that was looked at for an order. */
export interface ConsideredVisit<O = VisitOutcome> {
  visit: string;
  affiliate: Id<'affiliate'>;
  at: number;
  outcome: O;
}

/** Who is credited for an order, by what, and what else was looked at. */
export interface Credit {
  affiliate: Id<'affiliate'> | null;
  visit: Id<'visit'> | null;
  by: CreditedBy | null;
  reason: CreditReason;
  considered: ConsideredVisit[];
}

/** The same as it is stored. */
export interface KeptCredit extends Omit<Credit, 'reason' | 'considered'> {
  reason: Kept<CreditReason>;
  considered: ConsideredVisit<Kept<VisitOutcome>>[];
}

export interface CreditInput {
  placedAt: number;
  windowDays: number;
  /** the visit that the report names; null if the report names none or an unknown one */
  named: Visit | null;
  /** true if the report names a visit that is not known here */
  namedUnknown: boolean;
  /** the visitor's stored visits, any order */
  stored: readonly Visit[];
}

/**
 * Decides who is credited: the visit the report names, else the visitor's last visit inside the window, else nobody.
 * A named visit that is stored later than the order was placed is taken as age zero: the shop can only
 * know the id because the visit came first, so its clock is behind.
 */
export function creditFor(input: CreditInput): Credit {
  const window = input.windowDays * millisecondsInDay;
  const ageOf = (visit: Visit) => input.placedAt - visit.at;
  const faultOf = (visit: Visit): VisitOutcome | null => {
    if (visit.barred) return { code: 'barred', by: visit.barred };
    const over = ageOf(visit) - window;
    return over > 0 ? { code: 'outside', days: input.windowDays, over } : null;
  };
  const considered: ConsideredVisit[] = [];
  const note = (visit: Visit, outcome: VisitOutcome) =>
    considered.push({ visit: visit.id, affiliate: visit.affiliate, at: visit.at, outcome });

  if (input.named) {
    const fault = faultOf(input.named);
    note(input.named, fault ?? { code: 'reported' });
    if (!fault) {
      const age = Math.max(0, ageOf(input.named));
      return credited(input.named, { by: 'visit', considered, reason: { code: 'visit', age } });
    }
  }
  const before = input.stored
    .filter((v) => v.id !== input.named?.id && v.at <= input.placedAt)
    .sort((a, b) => b.at - a.at || (a.id < b.id ? 1 : -1));
  let found: Visit | null = null;
  for (const visit of before) {
    const fault = faultOf(visit);
    if (!fault && !found) found = visit;
    note(visit, fault ?? { code: visit === found ? 'last' : 'earlier' });
  }
  if (!found)
    return { affiliate: null, visit: null, by: null, considered, reason: whyNobody(input, considered) };
  return credited(found, {
    by: 'visitor',
    considered,
    reason: { code: 'last-visit', age: ageOf(found) },
  });
}

function credited(visit: Visit, how: Pick<Credit, 'by' | 'considered' | 'reason'>): Credit {
  return { affiliate: visit.affiliate, visit: visit.id, ...how };
}

function whyNobody(input: CreditInput, considered: readonly ConsideredVisit[]): CreditReason {
  const last = considered[0];
  if (last) return { code: 'not-counted', affiliate: last.affiliate, why: last.outcome };
  return { code: input.namedUnknown ? 'visit-unknown' : 'no-visit' };
}

import { describeAge } from '../calendar/format';
import { millisecondsInDay } from '../calendar/zone';

/** A stored click on a tracking link. */
export interface Visit {
  id: string;
  affiliate: string;
  product: string | null;
  at: number;
  /** null if the visit can earn; else why it cannot ("affiliate paused", "looks automated") */
  barred: string | null;
}

export type CreditedBy = 'visit' | 'visitor' | 'subscription' | 'clicks';

/** Who is credited for an order, by what, and what else was looked at. */
export interface Credit {
  affiliate: string | null;
  visit: string | null;
  by: CreditedBy | null;
  reason: string;
  considered: { visit: string; affiliate: string; at: number; outcome: string }[];
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
  /** the affiliate's name, for the reason */
  nameOf: (affiliate: string) => string;
}

/**
 * Decides who is credited: the visit the report names, else the visitor's last visit inside the window, else nobody.
 * A named visit that is stored later than the order was placed is taken as age zero: the shop can only
 * know the id because the visit came first, so its clock is behind.
 */
export function creditFor(input: CreditInput): Credit {
  const window = input.windowDays * millisecondsInDay;
  const ageOf = (visit: Visit) => input.placedAt - visit.at;
  const judge = (visit: Visit): string | null => {
    if (visit.barred) return visit.barred;
    if (ageOf(visit) > window)
      return `outside the window of ${input.windowDays} days by ${describeAge(ageOf(visit) - window)}`;
    return null;
  };
  const rows: Credit['considered'] = [];
  const note = (visit: Visit, outcome: string) =>
    rows.push({ visit: visit.id, affiliate: visit.affiliate, at: visit.at, outcome });

  if (input.named) {
    const fault = judge(input.named);
    note(input.named, fault ?? 'credited: the visit that the shop reported');
    if (!fault)
      return credited(
        input.named,
        'visit',
        rows,
        `visit ${describeAge(Math.max(0, ageOf(input.named)))} before the order`,
      );
  }
  const before = input.stored
    .filter((v) => v.id !== input.named?.id && v.at <= input.placedAt)
    .sort((a, b) => b.at - a.at || (a.id < b.id ? 1 : -1));
  let found: Visit | null = null;
  for (const visit of before) {
    const fault = judge(visit);
    if (!fault && !found) found = visit;
    note(
      visit,
      fault ?? (visit === found ? 'credited: the last visit inside the window' : 'an earlier visit'),
    );
  }
  if (found)
    return credited(
      found,
      'visitor',
      rows,
      `the visitor’s last visit, ${describeAge(ageOf(found))} before the order`,
    );
  return { affiliate: null, visit: null, by: null, considered: rows, reason: nobody(input, rows) };
}

function credited(visit: Visit, by: CreditedBy, considered: Credit['considered'], reason: string): Credit {
  return { affiliate: visit.affiliate, visit: visit.id, by, considered, reason };
}

function nobody(input: CreditInput, rows: Credit['considered']): string {
  const last = rows[0];
  if (last)
    return `nobody is credited: the visit of ${input.nameOf(last.affiliate)} is not counted, ${last.outcome}`;
  if (input.namedUnknown) return 'nobody is credited: the report names a visit that is not known here';
  return 'nobody is credited: the report carries no visit and none is stored for the visitor';
}

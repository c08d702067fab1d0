import { commissionStates, type CommissionState } from './commission';

/** What was earned in one state, minor units of base: as it was granted, and what is left of it. */
export interface EarnedIn {
  state: CommissionState;
  count: number;
  granted: number;
  left: number;
}

/** The states in the order in which money goes through them, and their sum. */
export function totalled(rows: readonly EarnedIn[]): {
  states: EarnedIn[];
  total: Omit<EarnedIn, 'state'>;
} {
  const states = commissionStates.flatMap((state) => rows.filter((row) => row.state === state));
  const sum = (key: 'count' | 'granted' | 'left') => rows.reduce((all, row) => all + row[key], 0);
  return { states, total: { count: sum('count'), granted: sum('granted'), left: sum('left') } };
}

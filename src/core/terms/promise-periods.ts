import { promiseOf, ratesOf, type PromiseQuestion, type Stretch } from './promise';

/** Payments of a subscription or of instalments, and what orders pay at each of them. */
export interface PromisedPayments {
  first: number;
  /** null = all that follow */
  last: number | null;
  stretches: readonly Stretch[];
}

/** What the payments after the first pay: those that pay the same are together. @param last the last payment there is, null = none */
export function promiseOfRenewals(
  question: Omit<PromiseQuestion, 'payment'>,
  last: number | null,
): PromisedPayments[] {
  const starts = ratesOf(question).flatMap(({ payments }) =>
    payments === null ? [] : [payments.first, ...(payments.last === null ? [] : [payments.last + 1])],
  );
  const known = [...new Set([2, ...starts])]
    .filter((n) => n >= 2 && (last === null || n <= last))
    .sort((a, b) => a - b);
  const groups: PromisedPayments[] = [];
  for (const first of known) {
    const stretches = promiseOf({ ...question, payment: first });
    const before = groups.at(-1);
    if (before && JSON.stringify(before.stretches) === JSON.stringify(stretches)) continue;
    if (before) before.last = first - 1;
    groups.push({ first, last, stretches });
  }
  return groups;
}

/**
 * Until when what is promised holds, as far as it is known: the first end of a rate after which something else is promised.
 * Null where none is.
 */
export function promisedUntil<T>(
  question: Omit<PromiseQuestion, 'payment'>,
  promisedAt: (at: number) => T,
): { until: number; then: T } | null {
  const now = JSON.stringify(promisedAt(question.at));
  const ends = ratesOf(question).flatMap(({ until }) =>
    until !== null && until > question.at ? [until] : [],
  );
  for (const until of [...new Set(ends)].sort((a, b) => a - b)) {
    const then = promisedAt(until);
    if (JSON.stringify(then) !== now) return { until, then };
  }
  return null;
}

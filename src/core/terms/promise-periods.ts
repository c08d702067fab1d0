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
 * The first end of a rate after which something else is promised, and what that is. Null where none is known.
 * @param now what is promised at the moment of the question
 */
export function promisedUntil<T>(
  question: Omit<PromiseQuestion, 'payment'>,
  now: T,
  promisedAt: (at: number) => T,
): { until: number; then: T } | null {
  const ends = ratesOf(question).flatMap(({ until }) =>
    until !== null && until > question.at ? [until] : [],
  );
  const text = JSON.stringify(now);
  for (const until of [...new Set(ends)].sort((a, b) => a - b)) {
    const then = promisedAt(until);
    if (JSON.stringify(then) !== text) return { until, then };
  }
  return null;
}

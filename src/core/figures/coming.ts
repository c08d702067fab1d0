import { addDays, dayOf, millisecondsInDay, startOfDay, type Day } from '../calendar/zone';
import { exponentOf } from '../money/currency';
import { mulDiv } from '../money/rounding';

/** What becomes of earnings, in the order of time: paid out, on its way, in the next payout, waiting for its refund window, not sold yet. */
export const comingKinds = ['paid', 'in-run', 'cleared', 'held', 'expected'] as const;
export type ComingKind = (typeof comingKinds)[number];

/** One column of what was paid and what comes; amounts in minor units of base. */
export interface Coming {
  kind: ComingKind;
  /** when it was paid, or the beginning of the week in which it clears; null for what is in the next payout */
  at: number | null;
  amount: number;
  /** what clears in later weeks stands with it */
  isRest: boolean;
}

export interface Earned {
  /** payments made, newest first */
  paid: readonly { at: number; amount: number }[];
  inRun: number;
  cleared: number;
  held: readonly { clearsAt: number; amount: number }[];
  /** what was sold in the last four weeks, and how long it takes to clear on the average, milliseconds */
  recent: { amount: number; orders: number; lag: number };
}

export const recentWeeks = 4;
const paidShown = 2;
const heldShown = 4;
const expectedShown = 3;
/** Fewer orders in the last weeks say nothing about the next. */
const fewOrders = 5;
const daysInWeek = 7;

/** Monday of the week that a day is in (ISO 8601). */
function mondayOf(day: Day): Day {
  const weekday = (new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % daysInWeek;
  return addDays(day, -weekday);
}

/** What waits, by the Monday of the week in which it clears. */
function heldByWeek(held: Earned['held'], zone: string): [Day, number][] {
  const weeks = new Map<Day, number>();
  for (const { clearsAt, amount } of held) {
    const week = mondayOf(dayOf(clearsAt, zone));
    weeks.set(week, (weeks.get(week) ?? 0) + amount);
  }
  return [...weeks].filter(([, amount]) => amount !== 0).sort(([a], [b]) => (a < b ? -1 : 1));
}

/** The weeks that are drawn, the last of them with all that clears later. */
function drawn(weeks: readonly [Day, number][], zone: string): Coming[] {
  const rest = weeks.slice(heldShown - 1).reduce((sum, [, amount]) => sum + amount, 0);
  return weeks.slice(0, heldShown).map(([week, amount], i) => ({
    kind: 'held',
    at: startOfDay(week, zone),
    amount: i === heldShown - 1 ? rest : amount,
    isRest: i === heldShown - 1 && weeks.length > heldShown,
  }));
}

/** About so much: an expectation is said in whole units of the currency. */
function about(amount: number, currency: string): number {
  const unit = 10 ** exponentOf(currency);
  return mulDiv(amount, 1, recentWeeks * unit) * unit;
}

interface Ahead {
  /** the last week in which something that was sold clears */
  lastHeld: Day | undefined;
  now: number;
  zone: string;
  currency: string;
}

/** What the next weeks bring if they go as the last four did; nothing where those were too few orders to tell. */
function expected(
  { amount, orders, lag }: Earned['recent'],
  { lastHeld, now, zone, currency }: Ahead,
): Coming[] {
  const weekly = about(amount, currency);
  if (orders < fewOrders || weekly <= 0) return [];
  const soonest = addDays(mondayOf(dayOf(now + lag, zone)), daysInWeek);
  const afterHeld = lastHeld ? addDays(lastHeld, daysInWeek) : soonest;
  const first = afterHeld > soonest ? afterHeld : soonest;
  return Array.from({ length: expectedShown }, (_, i) => ({
    kind: 'expected',
    at: startOfDay(addDays(first, i * daysInWeek), zone),
    amount: weekly,
    isRest: false,
  }));
}

/**
 * What an affiliate was paid lately, what comes to it and what it may expect, in the order of time. Nothing stands twice: the sum of
 * `in-run`, `cleared` and `held` is what is owed.
 * @param now UTC milliseconds @param base of the programme: its currency, and its zone, whose weeks begin on Monday
 */
export function comingOf(
  { paid, inRun, cleared, held, recent }: Earned,
  now: number,
  { zone, currency }: { zone: string; currency: string },
): Coming[] {
  const weeks = heldByWeek(held, zone);
  const single = (kind: ComingKind, amount: number): Coming[] =>
    amount === 0 ? [] : [{ kind, at: null, amount, isRest: false }];
  return [
    ...paid
      .slice(0, paidShown)
      .reverse()
      .map(({ at, amount }): Coming => ({ kind: 'paid', at, amount, isRest: false })),
    ...single('in-run', inRun),
    ...single('cleared', cleared),
    ...drawn(weeks, zone),
    ...expected(recent, { lastHeld: weeks.at(-1)?.[0], now, zone, currency }),
  ];
}

/** When the last of what waits clears; null where nothing waits. */
export const lastClearing = (held: Earned['held']): number | null =>
  held.length ? Math.max(...held.map((h) => h.clearsAt)) : null;

/** The moment from which the last four weeks count. */
export const recentSince = (now: number): number => now - recentWeeks * daysInWeek * millisecondsInDay;

import { formatMoney } from '../money/amount';
import { formatPercent } from '../money/percent';

/** The rungs of the ladder of precedence, first wins. */
export const rungs = ['personal', 'tag', 'group', 'card', 'product', 'programme'] as const;
export type Rung = (typeof rungs)[number];

/** What a rate pays for. */
export type Event = 'sale' | 'renewal' | 'lead';

/** What a rate covers, from wide to narrow. */
export type What =
  | { type: 'everything' }
  | { type: 'kind'; kind: string }
  | { type: 'product'; product: string }
  | { type: 'step'; step: string };

/** What a rate pays. Amounts are minor units of the base currency. */
export type Reward =
  | { type: 'percent'; ppm: number }
  | { type: 'flat-order'; amount: number }
  | { type: 'flat-unit'; amount: number };

/** One line of terms: who earns what, for what, when. */
export interface Rate {
  id: string;
  rung: Rung;
  /** id of the affiliate, tag, group or card; null on the rungs that are for everyone */
  who: string | null;
  what: What;
  event: Event;
  reward: Reward;
  /** UTC milliseconds, inclusive */
  from: number;
  /** UTC milliseconds, exclusive; null = open */
  until: number | null;
  /** what people call it, for the working */
  label: string;
}

/** What decides an affiliate's rates, as of the order's moment. */
export interface AffiliateTerms {
  affiliate: string;
  card: string | null;
  group: { id: string; paused: boolean } | null;
  /** in the order that the merchant gave them */
  tags: readonly string[];
}

/** The thing a line sells, as far as rates care. */
export interface Sold {
  product: string;
  kind: string;
  step?: string | null;
  /** the product's lock on this event: rungs 1–4 are skipped */
  locked?: boolean;
}

const widths = { step: 0, product: 1, kind: 2, everything: 3 } as const;

/** 0 = narrowest. */
export function width(what: What): number {
  return widths[what.type];
}

/** A reward for people: "12.5 %", "€6.00 an order". */
export function describeReward(reward: Reward, currency: string): string {
  switch (reward.type) {
    case 'percent': return formatPercent(reward.ppm);
    case 'flat-order': return `${formatMoney({ amount: reward.amount, currency })} an order`;
    case 'flat-unit': return `${formatMoney({ amount: reward.amount, currency })} a unit`;
  }
}

/** True if the rate is in force at the moment: from is inclusive, until exclusive. */
export function inForce(rate: Rate, at: number): boolean {
  return rate.from <= at && (rate.until === null || at < rate.until);
}

function sameWhat(a: What, b: What): boolean {
  if (a.type !== b.type) return false;
  if (a.type === 'kind' && b.type === 'kind') return a.kind === b.kind;
  if (a.type === 'product' && b.type === 'product') return a.product === b.product;
  if (a.type === 'step' && b.type === 'step') return a.step === b.step;
  return true;
}

/**
 * The rate that would tie with `draft`: same rung, same who, same what, same event, same start, overlapping.
 * A save that finds one is refused, so that no order's winner is ever left to chance.
 */
export function tieWith(draft: Rate, others: readonly Rate[]): Rate | null {
  return others.find((other) =>
    other.id !== draft.id && other.rung === draft.rung && other.who === draft.who && other.event === draft.event
    && sameWhat(other.what, draft.what) && other.from === draft.from
    && (other.until === null || other.until > draft.from) && (draft.until === null || draft.until > other.from)) ?? null;
}

import { exponentOf } from './currency';
import { mulDiv, safely } from './rounding';

/** An amount: whole minor units (cents, yen, fils) of an ISO 4217 currency. */
export interface Money {
  amount: number;
  currency: string;
}

/** Why a typed amount or percentage was not taken; `example` is one that would be. */
export interface Refusal {
  ok: false;
  reason: string;
  example: string;
}
export type Parsed = { ok: true; value: number } | Refusal;

/** The largest amount a person may type, in minor units: ten thousand million of a two-digit currency. */
export const largestAmount = 1_000_000_000_000;

const isInReach = (value: number) => Number.isSafeInteger(value) && value <= largestAmount;

/**
 * Reads a decimal string ("129.00", "129", "5000" for JPY) as minor units.
 * @param text digits with an optional point; `sign` allows a leading minus
 * @returns the minor units, or the reason and an example
 */
export function parseAmount(text: string, currency: string, options: { sign?: boolean } = {}): Parsed {
  const digits = exponentOf(currency);
  const example = digits === 0 ? '1290' : `129.${'0'.repeat(digits)}`;
  const match = /^(-|−)?(\d+)(?:\.(\d+))?$/.exec(text.trim());
  if (!match)
    return { ok: false, reason: `“${clip(text)}” is not an amount; write digits with a point`, example };
  const [, minus, whole, fraction = ''] = match;
  if (minus && !options.sign) return { ok: false, reason: 'an amount cannot be negative here', example };
  if (fraction.length > digits) {
    const allowed = digits === 0 ? 'no decimals' : `at most ${digits} decimals`;
    return {
      ok: false,
      reason: `${currency} has ${allowed}, “${clip(text)}” has ${fraction.length}`,
      example,
    };
  }
  const value = Number(whole + fraction.padEnd(digits, '0'));
  if (!isInReach(value))
    return {
      ok: false,
      reason: `at most ${toDecimal(largestAmount, currency)} ${currency} can be entered`,
      example,
    };
  return { ok: true, value: minus ? -value || 0 : value };
}

/**
 * Minor units as a decimal string with exactly the currency's digits: 12900 EUR → "129.00".
 * @throws BeyondAmounts for a figure that is no exact amount
 */
export function toDecimal(amount: number, currency: string): string {
  safely(amount, `A figure in ${currency}`);
  const digits = exponentOf(currency);
  const sign = amount < 0 ? '-' : '';
  const text = String(Math.abs(amount)).padStart(digits + 1, '0');
  return digits === 0 ? sign + text : `${sign}${text.slice(0, -digits)}.${text.slice(-digits)}`;
}

/** The sum of amounts of one currency. @throws RangeError for none, or for different currencies */
export function sumOf(amounts: readonly Money[]): Money {
  const currency = amounts[0]?.currency;
  if (currency === undefined) throw new RangeError('No amounts have no currency to be summed in');
  return {
    currency,
    amount: amounts.reduce((sum, m) => {
      if (m.currency !== currency) throw new RangeError(`${m.currency} cannot be added to ${currency}`);
      return sum + m.amount;
    }, 0),
  };
}

const symbols: Record<string, string> = { EUR: '€', USD: 'US$', GBP: '£', JPY: 'JP¥' };

/**
 * An amount for people: currency in front, thousands parted, a true minus: −€1,204.18.
 */
export function formatMoney({ amount, currency }: Money): string {
  const [whole = '0', fraction] = toDecimal(Math.abs(amount), currency).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ',');
  const mark = symbols[currency] ?? `${currency} `;
  return `${amount < 0 ? '−' : ''}${mark}${grouped}${fraction === undefined ? '' : `.${fraction}`}`;
}

/**
 * Splits an amount in proportion to weights without losing or making a unit:
 * largest remainder, ties to the earlier part. 100 by [1, 1, 1] → [34, 33, 33].
 * All-zero weights share evenly.
 * @throws RangeError for no weights or a negative weight
 */
export function split(amount: number, weights: readonly number[]): number[] {
  if (weights.length === 0) throw new RangeError('An amount cannot be split into no parts');
  if (weights.some((w) => w < 0 || !Number.isSafeInteger(w)))
    throw new RangeError('Weights must be whole and not negative');
  const total = weights.reduce((a, b) => a + b, 0);
  const used = total === 0 ? weights.map(() => 1) : weights;
  const sum = BigInt(total === 0 ? weights.length : total);
  const magnitude = BigInt(Math.abs(amount));
  const parts = used.map((weight, index) => {
    const exact = magnitude * BigInt(weight);
    return { index, floor: exact / sum, rest: exact % sum };
  });
  let left = magnitude - parts.reduce((a, p) => a + p.floor, 0n);
  for (const part of [...parts].sort((a, b) =>
    a.rest === b.rest ? a.index - b.index : a.rest > b.rest ? -1 : 1,
  )) {
    if (left === 0n) break;
    part.floor += 1n;
    left -= 1n;
  }
  return parts.map((p) => (amount < 0 ? -Number(p.floor) || 0 : Number(p.floor)));
}

/**
 * Converts into the base currency.
 * @param rateMicros how much of the foreign currency one unit of base buys, × 1,000,000 (160 JPY → 160000000)
 * @returns minor units of base, rounded half away from zero
 */
export function convertToBase(amount: number, currency: string, base: string, rateMicros: number): number {
  if (currency === base) return amount;
  const up = 10 ** exponentOf(base);
  const down = 10 ** exponentOf(currency);
  return mulDiv(amount, up * 1_000_000, down * rateMicros);
}

/**
 * The other way: an amount in minor units of base as minor units of another currency, rounded half away from zero.
 * @param rateMicros how much of the other currency one unit of base buys, × 1,000,000
 */
export function convertFromBase(amount: number, currency: string, base: string, rateMicros: number): number {
  if (currency === base) return amount;
  return mulDiv(amount, 10 ** exponentOf(currency) * rateMicros, 10 ** exponentOf(base) * 1_000_000);
}

function clip(text: string): string {
  return text.length > 24 ? `${text.slice(0, 24)}…` : text;
}

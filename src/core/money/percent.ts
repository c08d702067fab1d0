import type { Parsed } from './amount';
import { mulDiv } from './rounding';

/** One hundred percent, in parts per million. */
export const wholePpm = 1_000_000;

/**
 * A percentage of an amount, rounded once, half away from zero. 12.5 % of 1.00 → 0.13.
 * @param amount minor units @param ppm parts per million
 */
export function percentOf(amount: number, ppm: number): number {
  return mulDiv(amount, ppm, wholePpm);
}

/**
 * Reads a percentage with up to four decimals ("12.5", "12.5 %") as parts per million.
 * Zero to one hundred percent. @param beyond why it cannot be more, of what the percentage is of: a commission where nothing is said
 */
export function parsePercent(text: string, beyond = 'more than 100 % of a sale cannot be paid'): Parsed {
  const example = '12.5';
  const match = /^(\d+)(?:\.(\d+))?\s*%?$/.exec(text.trim());
  if (!match) return { ok: false, reason: 'a percentage is digits with a point, not negative', example };
  const [, units = '0', fraction = ''] = match;
  if (fraction.length > 4)
    return { ok: false, reason: `at most four decimals of a percent, not ${fraction.length}`, example };
  const value = Number(units) * 10_000 + Number(fraction.padEnd(4, '0'));
  if (value > wholePpm) return { ok: false, reason: beyond, example };
  return { ok: true, value };
}

/** Parts per million for people: 125000 → "12.5 %". */
export function formatPercent(ppm: number): string {
  return `${percentDigits(ppm)} %`;
}

/** Parts per million as the digits a person types: 125000 → "12.5". */
export function percentDigits(ppm: number): string {
  const sign = ppm < 0 ? '−' : '';
  const text = String(Math.abs(ppm)).padStart(5, '0');
  const fraction = text.slice(-4).replace(/0+$/, '');
  return sign + text.slice(0, -4) + (fraction ? `.${fraction}` : '');
}

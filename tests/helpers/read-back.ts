import { parseAmount } from '../../src/core/money/amount';
import { parsePercent, percentOf } from '../../src/core/money/percent';

const amount = (said: string) =>
  (parseAmount(said.replace('€', '').replaceAll(',', ''), 'EUR') as { value: number }).value;

interface Asked {
  /** of the order, minor units */
  value: number;
  units?: number;
  /** 2 = the first renewal */
  payment?: number;
  /** true for a lead or a click, which have no value that a reward could exceed */
  isFree?: boolean;
}

/** The part of words about renewals that is about one payment. */
function ofPayment(text: string, payment: number): string {
  for (const group of text.split('; ')) {
    if (group === 'then nothing') return 'nothing';
    const [, first, last, words] = /^(?:from )?payments? (\d+)(?:–(\d+))?: (.*)$/.exec(group) ?? [];
    if (words === undefined) return text;
    const most = group.startsWith('from ') ? Infinity : Number(last ?? first);
    if (payment >= Number(first) && payment <= most) return words;
  }
  return text;
}

/** What one part of a sum pays: a percentage, an amount an order, one a unit. */
function partOf(part: string, { value, units = 1 }: Asked): number {
  const share = /^([\d.]+) %$/.exec(part);
  if (share) return percentOf(value, (parsePercent(share[1]!) as { value: number }).value);
  const [, said, each, most] = /^(€[\d.,]+) an? (\w+)(?: \(at most (€[\d.,]+)\))?$/.exec(part)!;
  const sum = amount(said!) * (each === 'unit' || each === 'click' ? units : 1);
  return most ? Math.min(sum, amount(most)) : sum;
}

/** What is paid after one more part of the words: a limit to what was, or what pays from here on. */
function paidAfter(said: string, before: number, asked: Asked): number {
  if (said.startsWith('at most ')) return Math.min(before, amount(/€[\d.,]+/.exec(said)![0]));
  if (/^(nothing|no commission)/.test(said)) return 0;
  // what is promised in another currency is no matter here
  if (!/^[€\d]/.test(said)) return before;
  return said.split(' + ').reduce((sum, part) => sum + partOf(part, asked), 0);
}

/** What words about a rate say that an order pays, minor units: read without what stands behind them. */
export function readBack(text: string, asked: Asked): number {
  const { value, payment = 1, isFree = false } = asked;
  if (/^(—|no rate applies|nobody|not for you)/.test(text)) return 0;
  const words = ofPayment(text.replace(/;? until .*$/, ''), payment);
  let paid = 0;
  for (const token of words.split(/, (?=from |at most |[A-Z]{2,3}[$€¥]|[£¥])/)) {
    const from = /^from (€[\d.,]+) (.*)$/.exec(token);
    if (from && amount(from[1]!) > value) break;
    paid = paidAfter((from ? from[2]! : token).replace(/ \(one unit\)$/, ''), paid, asked);
  }
  return isFree ? paid : Math.min(value, paid);
}

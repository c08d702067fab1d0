import { describe, expect, it } from 'vitest';
import { rateExamples } from '../../../tests/helpers/order-examples/rates';
import { R10, renewal } from '../../../tests/helpers/order-examples/row';
import { upliftExamples } from '../../../tests/helpers/order-examples/uplifts';
import { resolved, say, sayLine, sayTerms } from '../../../tests/helpers/terms';
import { toDecimal } from '../money/amount';

const rows = [...rateExamples, ...upliftExamples];

describe('what an order comes to', () => {
  it.each(rows)('%s', (...[, rates, terms, lines, expected, more = {}]) => {
    const working = resolved({
      rates: rates.map(say),
      terms: sayTerms(terms),
      lines: lines.map((l) => sayLine(l, more.currency)),
      order: more,
    });
    expect(working.lines.map((l) => toDecimal(l.amount, 'EUR')).join(' ')).toBe(expected);
    expect(working.total).toBe(working.lines.reduce((sum, l) => sum + l.amount, 0));
  });
  it('has every example of the domain and at least sixty more', () => {
    expect(rows.filter(([name]) => !/^R\d/.test(name)).length).toBeGreaterThanOrEqual(60);
  });
  it('R10: the zero has its reason', () => {
    expect(
      resolved({ rates: R10.map(say), lines: [sayLine('S 24.00')], order: renewal(7) }).lines[0]!.reason,
    ).toEqual({ code: 'used-up' });
  });
});

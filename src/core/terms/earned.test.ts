import fc from 'fast-check';
import { expect, it } from 'vitest';
import { anyLine, anyRates, anyTerms, anyUplift, orderOf } from '../../../tests/helpers/ladders';
import { plain, say, sayLine } from '../../../tests/helpers/terms';
import { buildBook } from './book';
import { amountOnRest, amountsOnRest, type EarningLine } from './earned';
import { resolveOrder } from './resolve';

it('R12: a flat reward shrinks with the value left', () => {
  expect(amountOnRest({ reward: { type: 'flat-order', amount: 600 }, base: 3000, amount: 600 }, 2000)).toBe(
    400,
  );
});
it('R13: refunds in parts sum exactly', () => {
  expect(
    [67, 34, 0].map((left) =>
      amountOnRest({ reward: { type: 'percent', ppm: 125_000 }, base: 100, amount: 13 }, left),
    ),
  ).toEqual([8, 4, 0]);
});
it('a cap is applied again to what is left', () => {
  // 10 % of 100.00 and 100.00, at most 12.00; one line comes back whole: 10.00 is left, which the cap allows
  const lines = resolveOrder(
    buildBook([say('programme: 10 % | cap 12.00')]),
    plain,
    orderOf([sayLine('A 100.00'), sayLine('B 100.00')], 0),
  );
  expect(lines.map((l) => l.amount)).toEqual([600, 600]);
  expect(amountsOnRest(lines, [10_000, 0])).toEqual([1000, 0]);
  expect(amountsOnRest(lines, [10_000, 5_000])).toEqual([800, 400]);
});
it('the band and the uplift of the sale stay, whatever is left', () => {
  const [line] = resolveOrder(
    buildBook([say('personal: from 60.00 10 %'), say('uplift: plus 1.00 flat')]),
    plain,
    orderOf([sayLine('A 100.00')], 0),
  );
  expect(line!.amount).toBe(1100);
  expect(amountOnRest(line!, 5000)).toBe(550);
});
const earnings = (rates: string[], lines: string[]) =>
  resolveOrder(
    buildBook(rates.map(say)),
    plain,
    orderOf(
      lines.map((l) => sayLine(l)),
      0,
    ),
  );
it('a line that an uplift raised still counts in the cap of the rate that it won', () => {
  // 10 % of 100.00 twice, at most 12.00; an uplift raises B alone. B comes back: A must not take the whole cap, there is nothing to take
  const lines = earnings(['programme: 10 % | cap 12.00', 'uplift on B: up to 8 %'], ['A 100.00', 'B 100.00']);
  expect(lines.map((l) => l.amount)).toEqual([600, 800]);
  expect(amountsOnRest(lines, [10_000, 0])).toEqual([1000, 0]);
  expect(amountsOnRest(lines, [10_000, 10_000])).toEqual([600, 800]);
  expect(amountsOnRest(lines, [10_000, 5_000])).toEqual([800, 400]);
});
it('an uplift never lowers what is left: the larger of what the ladder and the uplift leave', () => {
  // 10 % capped at 5.00, up to 8 %: of 100.00 8.00; of what is left, 30.00, the ladder gives 3.00 and the uplift would give 2.40
  const lines = earnings(['programme: 10 % | cap 5.00', 'uplift: up to 8 %'], ['A 100.00']);
  expect(lines[0]!.amount).toBe(800);
  expect(amountOnRest(lines[0]!, 3000)).toBe(300);
});
it('an uplift’s cap is applied again over the lines it raised', () => {
  const lines = earnings(['programme: 10 %', 'uplift: plus 50 % | cap 1.00'], ['A 100.00', 'B 300.00']);
  expect(lines.map((l) => l.amount)).toEqual([1025, 3075]);
  expect(amountsOnRest(lines, [10_000, 0])).toEqual([1100, 0]);
  expect(amountsOnRest(lines, [100, 0])).toEqual([60, 0]);
});
it('partial refunds in any order sum to the commission', () => {
  fc.assert(
    fc.property(
      fc.record({
        rates: anyRates,
        uplifts: fc.array(anyUplift, { maxLength: 3 }),
        cap: fc.option(fc.integer({ min: 1, max: 900 }), { nil: null }),
        terms: anyTerms,
        lines: fc.array(anyLine, { minLength: 1, maxLength: 4 }),
        cuts: fc.array(fc.tuple(fc.nat(3), fc.nat(100)), { maxLength: 8 }),
      }),
      ({ rates, uplifts, cap, terms, lines, cuts }) => {
        const sold: EarningLine[] = resolveOrder(
          buildBook([...rates.map((r) => ({ ...r, cap })), ...uplifts]),
          terms,
          orderOf(lines, 10),
        );
        const lefts = sold.map((l) => l.base);
        const whole = sold.reduce((s, l) => s + l.amount, 0);
        let standing = whole;
        let reversed = 0;
        const step = () => {
          const now = amountsOnRest(sold, lefts);
          now.forEach((amount, i) => {
            expect(amount).toBeGreaterThanOrEqual(0);
            expect(amount).toBeLessThanOrEqual(Math.max(lefts[i]!, 0));
          });
          const sum = now.reduce((a, b) => a + b, 0);
          reversed += standing - sum;
          standing = sum;
        };
        for (const [i, share] of cuts)
          if (i < lefts.length) {
            lefts[i]! -= Math.floor((lefts[i]! * share) / 100);
            step();
          }
        lefts.fill(0);
        step();
        expect([standing, reversed]).toEqual([0, whole]);
      },
    ),
    { numRuns: 1500 },
  );
});

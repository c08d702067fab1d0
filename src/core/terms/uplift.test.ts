import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { say } from '../../../tests/helpers/terms';
import { split } from '../money/amount';
import type { Rate } from './rate';
import { addedBy, addedWithin, bestRaises, splitWithin, type Raisable, type Raiser } from './uplift';

const upTo = (ppm: number, flat = 0): Raiser => ({ mode: 'up-to', ppm, flat });
const plus = (ppm: number, flat = 0): Raiser => ({ mode: 'plus', ppm, flat });

/** A line of 100.00 on which the ladder gives 10 %. */
const tenth = { base: 10_000, amount: 1_000, ppm: 100_000 };

describe('what an uplift adds to a line', () => {
  it('up to a percentage adds what is missing to it', () => {
    expect(addedBy(upTo(150_000), tenth, 10_000)).toBe(500);
  });
  it('up to less than the ladder gives adds nothing, and takes nothing', () => {
    expect(addedBy(upTo(50_000), tenth, 10_000)).toBe(0);
  });
  it('up to a flat amount counts it instead of a percentage', () => {
    expect(addedBy(upTo(0, 1_200), tenth, 10_000)).toBe(200);
    expect(addedBy(upTo(0, 900), tenth, 10_000)).toBe(0);
  });
  it('a percentage on top of one is added to it and rounded once', () => {
    // 2.5 % and 2.5 % of 0.99 are 0.02475 each: 0.02 and 0.02 rounded apart, 0.05 together
    const line = { base: 99, amount: 2, ppm: 25_000 };
    expect(addedBy(plus(25_000), line, 99)).toBe(3);
  });
  it('a percentage on top of a flat amount is rounded by itself', () => {
    expect(addedBy(plus(25_000), { base: 99, amount: 2, ppm: null }, 99)).toBe(2);
  });
  it('a flat amount goes on top of whatever is there', () => {
    expect(addedBy(plus(0, 250), tenth, 10_000)).toBe(250);
  });
  it('nothing exceeds the most that the line can earn', () => {
    expect(addedBy(plus(0, 50_000), tenth, 10_000)).toBe(9_000);
    expect(addedBy(upTo(2_000_000), tenth, 10_000)).toBe(9_000);
  });
  it('a line that earns more than its limit already is left as it is', () => {
    expect(addedBy(plus(100_000), { base: 100, amount: 150, ppm: null }, 100)).toBe(0);
  });
});

const lines = fc.array(fc.record({ value: fc.nat(100_000), most: fc.nat(100_000) }), {
  minLength: 1,
  maxLength: 8,
});

describe('splitting where no part may take more than it has', () => {
  it('is the plain split where each part has enough', () => {
    expect(splitWithin(1_000, [70, 30], [10_000, 10_000])).toEqual(split(1_000, [70, 30]));
  });
  it('what one part leaves goes to the others by value', () => {
    expect(splitWithin(1_000, [50, 25, 25], [100, 10_000, 10_000])).toEqual([100, 450, 450]);
  });
  it('goes on until nobody is full any more', () => {
    expect(splitWithin(1_000, [80, 10, 10], [100, 200, 10_000])).toEqual([100, 200, 700]);
  });
  it('what nobody has room for is left', () => {
    expect(splitWithin(1_000, [1, 1], [300, 400])).toEqual([300, 400]);
  });
  it('of nothing, everybody gets nothing', () => {
    expect(splitWithin(0, [3, 4], [10, 10])).toEqual([0, 0]);
  });
  it('loses nothing and gives nobody more than there is room for', () => {
    fc.assert(
      fc.property(lines, fc.nat(400_000), (drawn, amount) => {
        const most = drawn.map((d) => d.most);
        const parts = splitWithin(
          amount,
          drawn.map((d) => d.value),
          most,
        );
        const room = most.reduce((a, b) => a + b, 0);
        expect(parts.reduce((a, b) => a + b, 0)).toBe(Math.min(amount, room));
        parts.forEach((part, i) => {
          expect(part).toBeGreaterThanOrEqual(0);
          expect(part).toBeLessThanOrEqual(most[i]!);
        });
      }),
      { numRuns: 500 },
    );
  });
});

describe('what the lines of one uplift get within its cap', () => {
  it('all of it where there is no cap, or it is not reached', () => {
    expect(addedWithin(null, [1, 1], [500, 700])).toEqual({ parts: [500, 700], cut: false });
    expect(addedWithin(1_200, [1, 1], [500, 700])).toEqual({ parts: [500, 700], cut: false });
  });
  it('the cap by value where it is less, never more than the uplift adds to a line', () => {
    expect(addedWithin(600, [100, 200], [500, 700])).toEqual({ parts: [200, 400], cut: true });
    expect(addedWithin(900, [200, 100], [500, 700])).toEqual({ parts: [500, 400], cut: true });
  });
});

const line = (product: string, base: number, more: Partial<Raisable['line']> = {}): Raisable => ({
  line: {
    product: `prd_${product}`,
    kind: '',
    step: null,
    approved: true,
    locked: false,
    quantity: 1,
    ...more,
  },
  base,
  amount: base / 10,
  ppm: 100_000,
});
const raised = (uplifts: readonly Rate[], rows: readonly Raisable[]) =>
  bestRaises(uplifts, rows, {
    flatOf: (pay, units = 1) => pay.amount * units,
    limitOf: (base) => base,
    capOf: ({ cap }) => cap,
  }).map((best) => best && [best.amount, best.rate.label]);

describe('the best uplift of each line', () => {
  it('of two, the one that gives more; where none raises it, none', () => {
    const two = [say('uplift on A: up to 15 %'), say('uplift card makers on A: up to 20 %')];
    expect(raised(two, [line('A', 10_000), line('B', 10_000)])).toEqual([
      [2_000, 'uplift card makers on A'],
      null,
    ]);
  });
  it('of two that give the same, the one that was looked at first', () => {
    const two = [say('uplift card makers: up to 15 %'), say('uplift: up to 15 %')];
    expect(raised(two, [line('A', 10_000)])).toEqual([[1_500, 'uplift card makers']]);
  });
  it('a flat one counts once an order, split by value over what it covers', () => {
    expect(raised([say('uplift: plus 6.00 flat')], [line('A', 10_000), line('B', 20_000)])).toEqual([
      [1_200, 'uplift'],
      [2_400, 'uplift'],
    ]);
  });
  it('a flat one a unit counts as often as there are units', () => {
    const rows = [line('A', 10_000, { quantity: 3 }), line('B', 10_000)];
    expect(raised([say('uplift: plus 1.00 flat a unit')], rows)).toEqual([
      [1_300, 'uplift'],
      [1_100, 'uplift'],
    ]);
  });
  it('a line of a product that is locked or not approved is not raised, and takes no share of a flat one', () => {
    const rows = [
      line('A', 10_000),
      line('B', 10_000, { locked: true }),
      line('C', 10_000, { approved: false }),
    ];
    expect(raised([say('uplift: plus 6.00 flat')], rows)).toEqual([[1_600, 'uplift'], null, null]);
  });
  it('its cap holds over the lines that it raised, and leaves out those that another raises more', () => {
    const two = [say('uplift: plus 10 % | cap 6.00'), say('uplift on B: plus 30 %')];
    // alone the capped one would give 2.00 and 4.00; B earns more by the other, so that A has the cap for itself
    expect(raised(two, [line('A', 10_000), line('B', 20_000)])).toEqual([
      [1_600, 'uplift'],
      [8_000, 'uplift on B'],
    ]);
  });
  it('without uplifts, nothing is raised', () => {
    expect(raised([], [line('A', 10_000)])).toEqual([null]);
  });
});

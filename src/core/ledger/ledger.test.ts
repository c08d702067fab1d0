import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  adjustedAfter,
  clearingMoment,
  exposure,
  regranted,
  stateOf,
  takenBack,
  writeOffs,
} from './commission';
import {
  balances,
  correct,
  entryFor,
  giveUp,
  move,
  nothing,
  reverse,
  standingAfter,
  type EntryLine,
  type Owner,
  type SimpleEvent,
} from './entry';

const owner: Owner = { affiliate: 'aff_1', commission: 'com_1' };
const show = (lines: EntryLine[]) =>
  lines.map((l) => `${l.account}${l.affiliate ? '*' : ''} ${l.amount}`).join(', ');

describe('the table of entries', () => {
  it.each([
    ['granted', 'expense 500, held* -500'],
    ['granted-at-sale', 'expense 500, cleared* -500'],
    ['cleared', 'held* 500, cleared* -500'],
    ['taken-into-run', 'cleared* 500, in-run* -500'],
    ['taken-out-of-run', 'in-run* 500, cleared* -500'],
    ['paid', 'in-run* 500, bank -500'],
    ['payment-failed', 'in-run* 500, cleared* -500'],
    ['payment-returned', 'bank 500, cleared* -500'],
  ] as [SimpleEvent, string][])('%s', (event, expected) => {
    expect(show(entryFor(event, 500, owner))).toBe(expected);
  });
  it('reverses before payment out of held, then cleared; after payment below zero', () => {
    const oddIn = (standing: Partial<typeof nothing>) =>
      reverse(500, { ...nothing, ...standing }, owner).map((e) => `${e.event}: ${show(e.lines)}`);
    expect(oddIn({ held: 500 })).toEqual(['reversed-before-payment: held* 500, expense -500']);
    expect(oddIn({ held: 200, cleared: 300 })).toEqual([
      'reversed-before-payment: held* 200, expense -200, cleared* 300, expense -300',
    ]);
    expect(oddIn({ paid: 500 })).toEqual(['reversed-after-payment: cleared* 500, expense -500']);
    expect(reverse(0, nothing, owner)).toEqual([]);
    expect(() => reverse(-1, nothing, owner)).toThrow(/positive/);
  });
  it('corrects where the commission is', () => {
    expect(show(correct(70, { ...nothing, held: 500 }, owner))).toBe('expense 70, held* -70');
    expect(show(correct(70, { ...nothing, paid: 500 }, owner))).toBe('expense 70, cleared* -70');
    expect(show(correct(-70, { ...nothing, held: 50 }, owner))).toBe(
      'held* 50, expense -50, cleared* 20, expense -20',
    );
  });
  it('gives up a negative balance', () => {
    expect(show(giveUp(300, owner))).toBe('write-off 300, cleared* -300');
  });
  it('refuses parts of a cent and moves nothing for zero', () => {
    expect(() => move(1.5, 'held', 'cleared', owner)).toThrow(/whole number/);
    expect(move(0, 'held', 'cleared', owner)).toEqual([]);
    expect(balances([])).toBe(false);
  });
});

describe('state, clearing and exposure', () => {
  it.each([
    [{ held: 5 }, 'held'],
    [{ cleared: 5 }, 'cleared'],
    [{ inRun: 5 }, 'in-run'],
    [{ paid: 5 }, 'paid'],
    [{ paid: 5, cleared: -5 }, 'reversed'],
    [{}, 'reversed'],
  ] as const)('%j is %s', (standing, state) => {
    expect(stateOf({ ...nothing, ...standing }, false)).toBe(state);
  });
  it('a declined commission with nothing left is declined', () => {
    expect(stateOf(nothing, true)).toBe('declined');
  });
  it('clears at the sale’s hour, so many days later in the zone', () => {
    const soldAt = Date.parse('2027-03-12T10:00:00Z');
    expect(
      new Date(
        clearingMoment(soldAt, {
          timing: 'after-hold',
          refundDays: 14,
          bufferDays: 3,
          zone: 'Europe/Lisbon',
        }),
      ).toISOString(),
    ).toBe('2027-03-29T09:00:00.000Z');
    expect(
      clearingMoment(soldAt, { timing: 'at-sale', refundDays: 14, bufferDays: 3, zone: 'Europe/Lisbon' }),
    ).toBe(soldAt);
  });
  it('exposure is what the balance would not cover', () => {
    expect([exposure(1000, 300), exposure(1000, -300), exposure(100, 300)]).toEqual([700, 1000, 0]);
  });
});

describe('refunds of corrected, declined and written-off commissions', () => {
  const before = {
    standing: 1000,
    adjusted: 0,
    givenUp: 0,
    declined: false,
    reversed: 400,
    linesLeft: 600,
    room: 5400,
    nothingLeft: false,
  };
  it.each([
    ['plain: what the lines lose', {}, 400, 0],
    ['corrected upwards: the correction stays', { standing: 1200, adjusted: 200 }, 400, 200],
    [
      'corrected downwards below what is left: nothing below nothing',
      { standing: 100, adjusted: -900 },
      100,
      -600,
    ],
    [
      'the whole: what was added goes too',
      { standing: 1200, adjusted: 200, reversed: 1000, linesLeft: 0, nothingLeft: true },
      1200,
      0,
    ],
    [
      'corrected upwards beyond what is left of the sale: the correction gives way',
      { standing: 1200, adjusted: 200, room: 50 },
      550,
      50,
    ],
    ['no room at all: what the rates give stays', { standing: 1200, adjusted: 200, room: 0 }, 600, 0],
    ['declined: gone already', { standing: 0, declined: true }, 0, 0],
    ['after a write-off: what was given up stays given up', { standing: 1300, givenUp: 300 }, 400, 0],
  ] as [string, Partial<typeof before>, number, number][])('%s', (_, more, taken, adjusted) => {
    expect(takenBack({ ...before, ...more })).toBe(taken);
    expect(adjustedAfter({ ...before, ...more })).toBe(adjusted);
  });
});

describe('write-offs', () => {
  it('writes off no more than the balance is below zero', () => {
    const below = [{ cleared: -3000 }, { cleared: -500 }];
    expect(writeOffs(-2000, below).map((w) => w.amount)).toEqual([2000]);
    expect(writeOffs(-3200, below).map((w) => w.amount)).toEqual([3000, 200]);
    expect(writeOffs(0, below)).toEqual([]);
    expect(writeOffs(100, below)).toEqual([]);
  });
  it('whatever the balance, brings it to exactly zero and lifts nothing above it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -5000, max: -1 }), { maxLength: 8 }),
        fc.nat(20_000),
        (list, others) => {
          const below = list.map((cleared) => ({ cleared }));
          const balance = list.reduce((a, b) => a + b, 0) + others;
          const written = writeOffs(balance, below);
          expect(written.reduce((sum, w) => sum + w.amount, 0)).toBe(Math.max(0, -balance));
          expect(written.every((w) => w.amount > 0 && w.of.cleared + w.amount <= 0)).toBe(true);
        },
      ),
    );
  });
});

describe('any life of a commission', () => {
  const steps = fc.array(
    fc.record({
      kind: fc.constantFrom('clear', 'take', 'pay', 'fail', 'refund', 'return', 'correct'),
      size: fc.integer({ min: 1, max: 400 }),
    }),
    { maxLength: 25 },
  );
  it('balances at each step, and what is owed is what was granted less what was taken back and paid', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1000 }), fc.boolean(), steps, (granted, atSale, list) => {
        let standing = standingAfter(
          nothing,
          entryFor(atSale ? 'granted-at-sale' : 'granted', granted, owner),
        );
        let net = granted;
        const apply = (lines: EntryLine[]) => {
          if (!lines.length) return;
          expect(balances(lines)).toBe(true);
          net += lines.filter((l) => l.account === 'expense').reduce((s, l) => s + l.amount, 0);
          standing = standingAfter(standing, lines);
        };
        const acts: Record<(typeof list)[number]['kind'], (size: number) => void> = {
          clear: () => apply(entryFor('cleared', standing.held, owner)),
          take: () => standing.inRun === 0 && apply(entryFor('taken-into-run', standing.cleared, owner)),
          pay: () => apply(entryFor('paid', standing.inRun, owner)),
          fail: () => apply(entryFor('payment-failed', standing.inRun, owner)),
          return: () => standing.paid > 0 && apply(entryFor('payment-returned', standing.paid, owner)),
          refund: (size) => {
            for (const e of reverse(Math.min(size, Math.max(0, net)), standing, owner)) apply(e.lines);
          },
          correct: (size) => apply(correct(size - 200, standing, owner)),
        };
        for (const { kind, size } of list) {
          acts[kind](size);
          expect(standing.held + standing.cleared + standing.inRun + standing.paid).toBe(net);
          expect(standing.held).toBeGreaterThanOrEqual(0);
        }
      }),
      { numRuns: 500 },
    );
  });
});

describe('a commission whose order is reported with other values', () => {
  const before = {
    granted: 2_388,
    standing: 2_388,
    adjusted: 0,
    declinedAmount: null,
    others: 0,
    worth: 50_000,
  };
  it.each([
    ['more than before', {}, 4_776, { corrected: 2_388, adjusted: 0 }],
    ['less than before', {}, 600, { corrected: -1_788, adjusted: 0 }],
    ['nothing', {}, 0, { corrected: -2_388, adjusted: 0 }],
    [
      'a correction that still fits',
      { standing: 3_388, adjusted: 1_000 },
      600,
      { corrected: -1_788, adjusted: 1_000 },
    ],
    [
      'a correction that has less room',
      { standing: 12_388, adjusted: 10_000, worth: 5_000 },
      600,
      { corrected: -7_388, adjusted: 4_400 },
    ],
    [
      'a correction beside a share',
      { standing: 12_388, adjusted: 10_000, worth: 5_000, others: 1_000 },
      600,
      { corrected: -8_388, adjusted: 3_400 },
    ],
    [
      'a correction downwards',
      { standing: 2_000, adjusted: -388 },
      4_776,
      { corrected: 2_388, adjusted: -388 },
    ],
    [
      'what was declined',
      { standing: 0, declinedAmount: 2_388 },
      4_776,
      { corrected: 0, declinedAmount: 4_776 },
    ],
    [
      'what was declined after a part was paid',
      { standing: 2_000, declinedAmount: 388 },
      600,
      { corrected: -1_400, declinedAmount: 0 },
    ],
  ])('%s', (_, more, granted, after) => {
    expect(regranted({ ...before, ...more }, granted)).toMatchObject(after);
  });
});

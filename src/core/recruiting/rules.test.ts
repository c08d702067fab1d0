import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Id } from '../text/id';
import {
  applies,
  decidedBy,
  faultsOfRule,
  sentenceOf,
  type Conditions,
  type RuleOutcome,
  type ScreeningFacts,
  type ScreeningRule,
} from './rules';

const facts: ScreeningFacts = {
  cleared: 60,
  refundPpm: 50_000,
  standing: 55,
  tenureDays: 400,
  country: 'PT',
  note: true,
  alike: 0,
  product: 'prd_wheel',
};
const hold: RuleOutcome = { do: 'approve', timing: 'after-hold' };
const rule = (
  id: Id<'rule'>,
  conditions: Conditions,
  outcome: RuleOutcome = hold,
  on = true,
): ScreeningRule => ({
  id,
  conditions,
  outcome,
  on,
});

it.each([
  [{ clearedLeast: 60 }, true],
  [{ clearedLeast: 61 }, false],
  [{ refundsMost: 50_000 }, true],
  [{ refundsMost: 49_999 }, false],
  [{ standingLeast: 55 }, true],
  [{ standingLeast: 56 }, false],
  [{ tenureLeast: 400 }, true],
  [{ tenureLeast: 401 }, false],
  [{ countryIn: ['PT', 'ES'] }, true],
  [{ countryIn: ['ES'] }, false],
  [{ countryNotIn: ['CY'] }, true],
  [{ countryNotIn: ['PT'] }, false],
  [{ note: true }, true],
  [{ note: false }, false],
  [{ original: true }, true],
  [{ original: false }, false],
  [{ products: ['prd_wheel'] }, true],
  [{ products: ['prd_kiln'] }, false],
  [{}, true],
  [{ clearedLeast: 1, countryIn: ['ES'] }, false],
] as [Conditions, boolean][])('%j applies: %s', (conditions, expected) => {
  expect(applies(conditions, facts)).toBe(expected);
});
it('asks in vain for what nobody knows', () => {
  const newcomer = { ...facts, standing: null, tenureDays: null, product: null, note: false };
  expect(
    [{ standingLeast: 0 }, { tenureLeast: 0 }, { products: ['prd_wheel' as const] }, { original: true }].map(
      (c) => applies(c, newcomer),
    ),
  ).toEqual([false, false, false, false]);
  expect(applies({ original: false }, newcomer)).toBe(true);
});
it('decides only while it is on, the first that applies', () => {
  const rules = [
    rule('rul_off', {}, hold, false),
    rule('rul_strict', { clearedLeast: 1000 }),
    rule('rul_second', { clearedLeast: 50 }),
    rule('rul_third', {}, { do: 'person' }),
  ];
  expect(decidedBy(rules, facts)?.id).toBe('rul_second');
  expect(decidedBy(rules, { ...facts, cleared: 0 })?.id).toBe('rul_third');
  expect(decidedBy([], facts)).toBeNull();
});
it('asking for more never lets in more', () => {
  fc.assert(
    fc.property(fc.nat(100), fc.nat(200_000), fc.nat(100), fc.nat(100), (cleared, refundPpm, least, more) => {
      const known = { ...facts, cleared, refundPpm };
      if (applies({ clearedLeast: least + more, refundsMost: 100_000 }, known))
        expect(applies({ clearedLeast: least }, known)).toBe(true);
    }),
  );
});
it('reads as a sentence', () => {
  expect(
    sentenceOf(
      rule('rul_a', { clearedLeast: 50, refundsMost: 80_000, original: true, countryNotIn: ['CY'] }),
      (id) => id,
    ),
  ).toBe(
    'Where cleared sales are at least 50, and the refund rate is at most 8 %, and the country is not CY, and the note is like no other: approve, after hold',
  );
  expect(
    sentenceOf(
      rule('rul_b', { products: ['prd_1', 'prd_2'] }, { do: 'decline', reason: 'Full' }),
      (id) => ({ prd_1: 'Wheel', prd_2: 'Kiln' })[id]!,
    ),
  ).toBe('Where the application is for Wheel or Kiln: decline: Full');
  expect(sentenceOf(rule('rul_c', {}, { do: 'person' }), (id) => id)).toBe(
    'In every case: leave it to a person',
  );
});
it.each([
  [{ countryIn: ['PT', 'CY'], countryNotIn: ['CY'] }, hold, 'countryNotIn'],
  [{ note: false, original: true }, hold, 'original'],
  [{}, hold, 'conditions'],
  [{ note: true }, hold, 'note'],
  [{ clearedLeast: 9 }, { do: 'approve', timing: 'at-sale' }, 'clearedLeast'],
  [{ country: 'x', note: false }, { do: 'decline', reason: ' ' }, 'reason'],
] as [Conditions, RuleOutcome, string][])('%j, %j cannot stand', (conditions, outcome, field) => {
  expect(faultsOfRule(rule('rul_x', conditions, outcome)).map((f) => f.field)).toContain(field);
});
it('what is sound has no fault', () => {
  expect(faultsOfRule(rule('rul_x', { clearedLeast: 50 }, { do: 'approve', timing: 'at-sale' }))).toEqual([]);
  expect(faultsOfRule(rule('rul_x', {}, { do: 'person' }))).toEqual([]);
});

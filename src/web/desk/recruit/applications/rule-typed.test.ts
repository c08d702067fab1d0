import { describe, expect, it } from 'vitest';
import { Refused } from '../../../kit/api';
import type { Rule } from './rule';
import { bodyOf, faultsByField, typedOf } from './rule-typed';

const rule: Rule = {
  id: 'rul_1',
  sentence: 'If the refund rate is at most 8 %, approve.',
  on: true,
  decided: 3,
  version: 4,
  conditions: { clearedLeast: 50, refundsMost: '8', countryIn: ['PT', 'ES'], note: true, original: false },
  outcome: { do: 'approve', timing: 'at-sale' },
};

describe('a screening rule as the form holds it', () => {
  it('comes back as it was, whatever it says', () => {
    expect(bodyOf(typedOf(rule))).toEqual({ conditions: rule.conditions, outcome: rule.outcome });
    const declining: Rule = { ...rule, conditions: {}, outcome: { do: 'decline', reason: 'No site' } };
    expect(bodyOf(typedOf(declining))).toEqual({ conditions: {}, outcome: declining.outcome });
    const left: Rule = { ...rule, outcome: { do: 'person' } };
    expect(bodyOf(typedOf(left)).outcome).toEqual({ do: 'person' });
  });

  it('sends nothing of what is empty, and reads countries however they are written', () => {
    const typed = { ...typedOf(null), countryIn: 'pt; es  fr', refundsMost: ' ', standingLeast: '60' };
    expect(bodyOf(typed).conditions).toEqual({ countryIn: ['PT', 'ES', 'FR'], standingLeast: 60 });
  });

  it('a new one approves after hold and is off', () => {
    expect(typedOf(null)).toMatchObject({ then: 'after-hold', on: false, products: [] });
  });
});

describe('faults of a refused rule', () => {
  const refused = (errors: { pointer: string; detail: string }[]) =>
    new Refused({
      type: '',
      code: 'invalid',
      title: 'Refused',
      status: 422,
      detail: 'It is refused.',
      errors,
    });

  it('stand at their fields, whichever part of the body they are in', () => {
    const faults = faultsByField(
      refused([
        { pointer: '/conditions/countryIn/2', detail: 'XX is no country' },
        { pointer: '/outcome/reason', detail: 'The reason is empty' },
      ]),
    );
    expect(faults).toEqual({ countryIn: 'XX is no country', reason: 'The reason is empty' });
  });

  it('say what is said of the whole where no field is named, and that nothing is lost where no answer came', () => {
    expect(faultsByField(refused([]))).toEqual({ '': 'It is refused.' });
    expect(faultsByField(new TypeError('gone'))['']).toContain('kept');
  });
});

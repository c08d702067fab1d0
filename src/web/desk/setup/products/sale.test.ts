import { describe, expect, it } from 'vitest';
import { decidedBy, payOf, round } from './sale';

describe('a reward as it is typed', () => {
  it('is a flat amount, a percent, or the programme’s own percent where the product has none', () => {
    expect(payOf('flat', '6.00', '8', 'EUR')).toEqual({ type: 'flat-order', amount: 600 });
    expect(payOf('percent', '12.5', '8', 'EUR')).toEqual({ type: 'percent', ppm: 125_000 });
    expect(payOf('none', '', '8', 'EUR')).toEqual({ type: 'percent', ppm: 80_000 });
  });

  it('is nothing while it cannot be read', () => {
    expect(payOf('flat', '6,x', '8', 'EUR')).toBeNull();
    expect(payOf('percent', '', '8', 'EUR')).toBeNull();
    expect(payOf('none', '', '', 'EUR')).toBeNull();
  });
});

describe('what decides for a chosen affiliate while a rate is typed', () => {
  type Answer = Parameters<typeof decidedBy>[0];
  type Rung = Answer['lines'][number]['rungs'][number];
  const rung = (name: string, outcome: Rung['rows'][number]['outcome']): Rung => ({
    rung: name,
    rows: [{ text: '', why: '', outcome }],
  });
  const answer = (...rungs: Rung[]): Answer => ({
    total: { amount: 1500, currency: 'EUR' },
    lines: [{ product: 'Wheel', reason: null, locked: false, rungs, sums: [] }],
  });
  const typed = { type: 'percent', ppm: 120_000 } as const;

  it('is the typed rate where the product’s or the programme’s own decided', () => {
    for (const own of ['Product', 'Programme'])
      expect(decidedBy(answer(rung('Card', 'loses'), rung(own, 'wins')), typed)).toEqual({
        pay: typed,
        rung: own,
        typed: true,
      });
  });

  it('is what the saved book says where a narrower one decided, or an uplift raised it', () => {
    expect(decidedBy(answer(rung('Card', 'wins')), typed)).toEqual({
      pay: { type: 'flat-order', amount: 1500 },
      rung: 'Card',
      typed: false,
    });
    expect(decidedBy(answer(rung('Product', 'wins'), rung('Uplift', 'wins')), typed)).toMatchObject({
      pay: { type: 'flat-order', amount: 1500 },
      typed: false,
    });
    expect(decidedBy(answer(), typed).rung).toBe('none');
  });
});

it('a share is said in whole thousandths', () => {
  expect(round(51_234)).toBe(round(51_000));
});

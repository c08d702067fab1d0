import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mayBecome, productSteps, proposeCode, readiness, type ProductState } from './readiness';

const whole = {
  name: 'Table-top wheel kit',
  description: 'A wheel, a splash pan and a bat.',
  price: 19_900,
  salesPage: 'https://shop.quernstone.example/p/WHEEL-1',
  hasCommission: true,
};
const missing = (facts: Parameters<typeof readiness>[0]) =>
  readiness(facts)
    .filter((r) => !r.ready)
    .map((r) => r.field);

describe('what a product needs to go live', () => {
  it('is nothing more where all is there', () => {
    expect(missing(whole)).toEqual([]);
  });
  it('is named in the order in which it is done', () => {
    expect(missing({ name: ' ', description: '', price: null, salesPage: '', hasCommission: false })).toEqual(
      ['name', 'description', 'price', 'salesPage', 'reward'],
    );
  });
  it('is a price above zero, but for what is free', () => {
    expect(missing({ ...whole, price: 0 })).toEqual(['price']);
    expect(missing({ ...whole, price: null, kind: 'free' })).toEqual([]);
  });
  it('is the file, where buyers get one', () => {
    expect(missing({ ...whole, needsFile: true })).toEqual(['delivery']);
    expect(missing({ ...whole, needsFile: true, hasFile: true })).toEqual([]);
  });
});

describe('the states of a product', () => {
  const states = Object.keys(productSteps) as ProductState[];
  it('a retired one comes back paused, never live at once, and nothing becomes a draft again', () => {
    expect(states.filter((to) => mayBecome('retired', to))).toEqual(['paused']);
    expect(states.some((from) => mayBecome(from, 'draft'))).toBe(false);
  });
  it('none becomes what it is', () => {
    expect(states.some((state) => mayBecome(state, state))).toBe(false);
  });
});

describe('a code that is proposed', () => {
  it.each([
    ['Table-top wheel kit', 'TABLE-TOP-WHEEL'],
    ['Glaze', 'GLAZE'],
    ['Café crème, 2 kg', 'CAFE-CREME-2-KG'],
    ['  --  ', ''],
    ['陶芸', ''],
    ['Aquamarineglazepowder', 'AQUAMARINEGLAZEP'],
  ])('%s → %s', (name, code) => {
    expect(proposeCode(name)).toBe(code);
  });
  it('has capitals, digits and single dashes, at most sixteen, and none at its ends', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 60 }), (name) => {
        expect(proposeCode(name)).toMatch(/^([A-Z0-9]+(-[A-Z0-9]+)*)?$/);
        expect(proposeCode(name).length).toBeLessThanOrEqual(16);
      }),
    );
  });
});

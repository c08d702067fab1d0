import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faultsOfFunnel, inARow, valuePer100, type FunnelStep } from './funnel';

const step = (code: string, onYes: string | null = null, onNo: string | null = null): FunnelStep => ({
  code,
  product: `P-${code}`,
  onYes,
  onNo,
});
const said = (first: string | null, ...steps: FunnelStep[]) =>
  faultsOfFunnel(first, steps).map((f) => f.detail);

describe('what a funnel brings', () => {
  it('of a hundred openings, with what followed them', () => {
    expect(
      valuePer100(50, [
        { value: 500_000, commission: 60_000 },
        { value: 32_000, commission: 5_000 },
      ]),
    ).toEqual({ value: 1_064_000, commission: 130_000, left: 934_000 });
    expect(valuePer100(0, [])).toBeNull();
  });
});

describe('a funnel', () => {
  it('may branch and come together again', () => {
    expect(said('a', step('a', 'b', 'c'), step('b', 'd', 'd'), step('c', 'd', null), step('d'))).toEqual([]);
    expect(said(null)).toEqual([]);
  });
  it('may not lead back', () => {
    expect(said('a', step('a', 'b'), step('b', 'c'), step('c', null, 'a'))).toEqual([
      'Buyers would go round in a circle: a → b → c → a',
    ]);
    expect(said('a', step('a', 'a'))).toEqual(['Buyers would go round in a circle: a → a']);
  });
  it('leads only to steps it has, each of which can be reached', () => {
    expect(said('x', step('a'))).toEqual(['The opening leads to x, which is no step of this funnel']);
    expect(said('a', step('a', 'x'))).toEqual(['On yes, a leads to x, which is no step of this funnel']);
    expect(said('a', step('a'), step('b'))).toEqual(['No way leads to b']);
    expect(said('a', step('a'), step('a'))).toContain('Two steps have the same code');
  });
  it('steps in a row are a whole funnel', () => {
    const row = inARow([
      { code: 'a', product: 'A' },
      { code: 'b', product: 'B' },
    ]);
    expect(row.map((s) => [s.onYes, s.onNo])).toEqual([
      ['b', 'b'],
      [null, null],
    ]);
    expect(faultsOfFunnel('a', row)).toEqual([]);
  });
  it('without faults, every walk comes to an end', () => {
    const code = fc.constantFrom('a', 'b', 'c', 'd', 'e');
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.record({ code, onYes: fc.option(code, { nil: null }), onNo: fc.option(code, { nil: null }) }),
          { selector: (s) => s.code },
        ),
        fc.option(code, { nil: null }),
        fc.array(fc.boolean(), { minLength: 20, maxLength: 20 }),
        (raw, first, answers) => {
          const steps = raw.map((s) => step(s.code, s.onYes, s.onNo));
          fc.pre(faultsOfFunnel(first, steps).length === 0);
          let at: string | null = first;
          let walked = 0;
          for (; at !== null; walked += 1) {
            const s = steps.find((x) => x.code === at)!;
            at = answers[walked] ? s.onYes : s.onNo;
          }
          expect(walked).toBeLessThanOrEqual(steps.length);
        },
      ),
      // so many without faults: of what is drawn, one in twenty has none
      { numRuns: 400 },
    );
  });
});

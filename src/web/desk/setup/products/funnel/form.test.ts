import { describe, expect, it } from 'vitest';
import { moved, proposedCode, type Step } from './form';

const step = (code: string): Step => ({ code, product: `prd_${code}`, price: '', onYes: null, onNo: null });

describe('the steps of a funnel while they are typed', () => {
  it('get a code of their product that no other step has', () => {
    expect(proposedCode('KILN-1', [])).toBe('kiln-1-1');
    expect(proposedCode('KILN-1', [step('kiln-1-1'), step('kiln-1-2')])).toBe('kiln-1-3');
    expect(proposedCode(undefined, [])).toBe('step-1');
  });

  it('are put elsewhere, and nothing is lost on the way', () => {
    const steps = [step('a'), step('b'), step('c')];
    const codes = (list: Step[]) => list.map((s) => s.code).join('');
    expect(codes(moved(steps, 0, 2))).toBe('bca');
    expect(codes(moved(steps, 2, -1))).toBe('acb');
    expect(codes(moved(steps, 1, 0))).toBe('abc');
    expect(codes(steps)).toBe('abc');
  });
});

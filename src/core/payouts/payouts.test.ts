import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PayeeBalance } from './plan';
import { mayGo, planRun, whyLeftOut } from './plan';
import { describeReason, outcomeOf } from './status';

const say = (n: number) => `€${(n / 100).toFixed(2)}`;
const payee = (affiliate: string, amounts: number[], more: Partial<PayeeBalance> = {}): PayeeBalance =>
  ({ affiliate, name: affiliate, state: 'active', payable: true, items: amounts.map((amount, i) => ({ commission: `c${i}`, amount })), ...more });

describe('planning a run', () => {
  it('nets each payee and leaves out with a reason', () => {
    const plan = planRun([
      payee('ann', [1000, -250]), payee('bob', [300]), payee('cem', [-100]), payee('dee', [2000], { payable: false }),
      payee('eva', [2000], { state: 'blocked' }), payee('fin', [100, -100]), payee('gil', [5000], { state: 'ended' }),
    ], 500);
    expect(plan.payments.map((p) => [p.affiliate, p.amount])).toEqual([['ann', 750], ['gil', 5000]]);
    expect(plan.leftOut.map((p) => [p.affiliate, p.reason])).toEqual([['bob', 'below-minimum'], ['cem', 'negative'], ['dee', 'no-details'], ['eva', 'blocked'], ['fin', 'nothing']]);
    expect(whyLeftOut(plan.leftOut[0]!, 500, say)).toBe('€3.00 is below the minimum of €5.00');
    expect(plan.total).toBe(5750);
  });
  it('names every payee exactly once and pays no more than the balances', () => {
    const any = fc.array(fc.record({ amounts: fc.array(fc.integer({ min: -5000, max: 5000 }), { maxLength: 6 }), payable: fc.boolean(), state: fc.constantFrom('active', 'blocked', 'paused') }), { maxLength: 30 });
    fc.assert(fc.property(any, fc.nat(3000), (rows, minimum) => {
      const payees = rows.map((r, i) => payee(`a${i}`, r.amounts, { payable: r.payable, state: r.state as 'active' }));
      const plan = planRun(payees, minimum);
      expect([...plan.payments, ...plan.leftOut].map((p) => p.affiliate).sort()).toEqual(payees.map((p) => p.affiliate).sort());
      expect(plan.payments.every((p) => p.amount > 0 && p.amount >= minimum && p.amount === p.items.reduce((s, i) => s + i.amount, 0))).toBe(true);
      expect(plan.total).toBe(plan.payments.reduce((s, p) => s + p.amount, 0));
    }));
  });
  it('a run only goes forward, and back only before it is sent', () => {
    expect(mayGo('draft', 'approved')).toBe(true);
    expect(mayGo('approved', 'draft')).toBe(true);
    expect(mayGo('sent', 'draft')).toBe(false);
    expect(mayGo('draft', 'sent')).toBe(false);
    expect(mayGo('settled', 'sent')).toBe(false);
  });
});

describe('status codes', () => {
  it('settles, fails or waits', () => {
    expect(['ACSC', 'RJCT', 'ACSP', 'XXXX', 'toString'].map(outcomeOf)).toEqual(['settled', 'failed', 'under-way', null, null]);
  });
  it('says reasons in words', () => {
    expect(describeReason('AC04')).toBe('the account is closed (AC04)');
    expect(describeReason('ZZ99')).toBe('reason ZZ99');
    expect(describeReason(null)).toBe('the bank gives no reason');
  });
});

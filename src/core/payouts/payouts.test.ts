import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Id } from '../text/id';
import type { RunState } from './lists';
import {
  byReason,
  mayGo,
  passing,
  planRun,
  runSteps,
  whyLeftOut,
  type OutReason,
  type PayeeBalance,
} from './plan';
import { describePayment, outcomeOf } from './status';

const say = (n: number) => `€${(n / 100).toFixed(2)}`;
const payee = (
  affiliate: Id<'affiliate'>,
  amounts: number[],
  more: Partial<PayeeBalance> = {},
): PayeeBalance => ({
  affiliate,
  name: affiliate,
  state: 'active',
  payable: true,
  items: amounts.map((amount, i) => ({ commission: `com_${i}`, amount })),
  ...more,
});

it('planning a run: nets each payee and leaves out with a reason', () => {
  const plan = planRun(
    [
      payee('aff_ann', [1000, -250]),
      payee('aff_bob', [300]),
      payee('aff_cem', [-100]),
      payee('aff_dee', [2000], { payable: false }),
      payee('aff_eva', [2000], { state: 'blocked' }),
      payee('aff_fin', [100, -100]),
      payee('aff_gil', [5000], { state: 'ended' }),
    ],
    500,
  );
  expect(plan.payments.map((p) => [p.affiliate, p.amount])).toEqual([
    ['aff_ann', 750],
    ['aff_gil', 5000],
  ]);
  expect(plan.leftOut.map((p) => [p.affiliate, p.reason])).toEqual([
    ['aff_bob', 'below-minimum'],
    ['aff_cem', 'negative'],
    ['aff_dee', 'no-details'],
    ['aff_eva', 'blocked'],
    ['aff_fin', 'nothing'],
  ]);
  expect(whyLeftOut(plan.leftOut[0]!, 500, say)).toBe('€3.00 is below the minimum of €5.00');
  expect(plan.total).toBe(5750);
});
it('planning a run: names every payee exactly once and pays no more than the balances', () => {
  const any = fc.array(
    fc.record({
      amounts: fc.array(fc.integer({ min: -5000, max: 5000 }), { maxLength: 6 }),
      payable: fc.boolean(),
      state: fc.constantFrom('active', 'blocked', 'paused'),
    }),
    { maxLength: 30 },
  );
  fc.assert(
    fc.property(any, fc.nat(3000), (rows, minimum) => {
      const payees = rows.map((r, i) =>
        payee(`aff_${i}`, r.amounts, { payable: r.payable, state: r.state as 'active' }),
      );
      const plan = planRun(payees, minimum);
      expect([...plan.payments, ...plan.leftOut].map((p) => p.affiliate).sort()).toEqual(
        payees.map((p) => p.affiliate).sort(),
      );
      expect(
        plan.payments.every(
          (p) =>
            p.amount > 0 && p.amount >= minimum && p.amount === p.items.reduce((s, i) => s + i.amount, 0),
        ),
      ).toBe(true);
      expect(plan.total).toBe(plan.payments.reduce((s, p) => s + p.amount, 0));
    }),
  );
});
it('planning a run: a run only goes forward, and back only before it is sent', () => {
  const reached = (from: RunState, seen = new Set<RunState>()): Set<RunState> => {
    for (const to of Object.keys(runSteps) as RunState[])
      if (mayGo(from, to) && !seen.has(to)) reached(to, seen.add(to));
    return seen;
  };
  expect(reached('draft').size).toBe(8);
  for (const late of ['sending', 'sent', 'settled'] as const)
    expect(
      [...reached(late)].some((s) => s === 'draft' || s === 'reopening' || s === 'approved'),
      late,
    ).toBe(false);
  expect([
    mayGo('draft', 'approved'),
    mayGo('approved', 'sent'),
    mayGo('approved', 'draft'),
    mayGo('approving', 'sending'),
  ]).toEqual([false, false, false, false]);
  // what is only passed through leads somewhere, and to one state unless it is stopped
  expect(passing.map((s) => runSteps[s].filter((to) => to !== 'reopening'))).toEqual([
    ['approved'],
    ['draft'],
    ['sent'],
  ]);
});

describe('who is left out', () => {
  it('by reason: what somebody can do something about first, with how many and the sum', () => {
    const out = (affiliate: Id<'affiliate'>, amount: number, reason: OutReason) => ({
      affiliate,
      name: affiliate,
      amount,
      reason,
    });
    const found = byReason([
      out('aff_ann', 300, 'below-minimum'),
      out('aff_bob', -100, 'negative'),
      out('aff_cem', 2000, 'no-details'),
      out('aff_dee', 150, 'below-minimum'),
      out('aff_eva', 0, 'by-hand'),
    ]);
    expect(found.map((r) => [r.reason, r.rows.map((o) => o.affiliate), r.sum])).toEqual([
      ['by-hand', ['aff_eva'], 0],
      ['no-details', ['aff_cem'], 2000],
      ['negative', ['aff_bob'], -100],
      ['below-minimum', ['aff_ann', 'aff_dee'], 450],
    ]);
    expect(byReason([])).toEqual([]);
  });
  it('with who is paid makes the whole cleared balance, each once', () => {
    const anybody = fc.record({
      amounts: fc.array(fc.integer({ min: -900, max: 900 }), { minLength: 1, maxLength: 4 }),
      payable: fc.boolean(),
      unaccepted: fc.boolean(),
      state: fc.constantFrom('active' as const, 'blocked' as const, 'ended' as const),
    });
    fc.assert(
      fc.property(
        fc.array(anybody, { maxLength: 12 }),
        fc.integer({ min: 1, max: 600 }),
        (people, minimum) => {
          const payees = people.map(({ amounts, ...more }, i) => payee(`aff_${i}`, amounts, more));
          const plan = planRun(payees, minimum);
          const reasons = byReason(plan.leftOut);
          const all = payees.reduce((sum, p) => sum + p.items.reduce((s, i) => s + i.amount, 0), 0);
          expect(plan.total + reasons.reduce((sum, r) => sum + r.sum, 0)).toBe(all);
          expect(
            [...plan.payments, ...reasons.flatMap((r) => r.rows)].map((p) => p.affiliate).sort(),
          ).toEqual(payees.map((p) => p.affiliate).sort());
        },
      ),
    );
  });
});

describe('status codes', () => {
  it('settles, fails or waits', () => {
    expect(['ACSC', 'RJCT', 'ACSP', 'XXXX', 'toString'].map(outcomeOf)).toEqual([
      'settled',
      'failed',
      'under-way',
      null,
      null,
    ]);
  });
  it('says reasons in words', () => {
    const words = (status: string | null) => describePayment({ code: 'by-bank', status });
    expect(words('AC04')).toBe('the account is closed (AC04)');
    expect(words('ZZ99')).toBe('reason ZZ99');
    expect(words(null)).toBe('the bank gives no reason');
    expect(describePayment({ code: 'by-hand', reference: 'B-7' })).toBe('settled by hand, reference B-7');
    expect(describePayment('settled by hand, reference B-6')).toBe('settled by hand, reference B-6');
  });
});

it('says of each reason why somebody is left out', () => {
  const why = (reason: OutReason, amount = 5) => whyLeftOut({ reason, amount }, 500, say);
  expect([
    ...[why('by-hand'), why('blocked'), why('negative', -1250), why('nothing', 0)],
    ...[why('below-minimum', 300), why('no-details'), why('policy')],
  ]).toEqual([
    'left out by a person',
    'the affiliate is blocked',
    `the balance is ${say(-1250)}, to be netted against coming commissions`,
    'commissions and reversals cancel out',
    '€3.00 is below the minimum of €5.00',
    'no valid payout details',
    'the policy in force is not accepted',
  ]);
});

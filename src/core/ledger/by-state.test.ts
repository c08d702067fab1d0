import fc from 'fast-check';
import { expect, it } from 'vitest';
import { totalled } from './by-state';
import { commissionStates } from './commission';

it('states stand in the order in which money goes through them, with their sum', () => {
  const paid = { state: 'paid', count: 2, granted: 5000, left: 5000 } as const;
  const held = { state: 'held', count: 1, granted: 1200, left: 1100 } as const;
  const reversed = { state: 'reversed', count: 1, granted: 900, left: -300 } as const;
  expect(totalled([reversed, paid, held])).toEqual({
    states: [held, paid, reversed],
    total: { count: 4, granted: 7100, left: 5800 },
  });
  expect(totalled([])).toEqual({ states: [], total: { count: 0, granted: 0, left: 0 } });
});

it('nothing is lost between the states and the sum', () => {
  const row = fc.record({
    state: fc.constantFrom(...commissionStates),
    count: fc.nat(1000),
    granted: fc.nat(1_000_000),
    left: fc.integer({ min: -1_000_000, max: 1_000_000 }),
  });
  fc.assert(
    fc.property(fc.uniqueArray(row, { selector: (r) => r.state }), (rows) => {
      const { states, total } = totalled(rows);
      expect(states).toHaveLength(rows.length);
      expect(states.reduce((sum, r) => sum + r.left, 0)).toBe(total.left);
      expect(states.reduce((sum, r) => sum + r.granted, 0)).toBe(total.granted);
    }),
  );
});

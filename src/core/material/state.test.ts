import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fieldsAt } from './planned';
import { creativeState, type Dated, type Promoted } from './state';

const sold: Promoted = { isOnSale: true, launchAt: null };
const base: Dated = { active: true, from: null, until: null, products: [sold] };

describe('the state of a creative at moment 100', () => {
  it.each<[string, Partial<Dated>, string]>([
    ['nothing said', {}, 'on'],
    ['begins now', { from: 100 }, 'on'],
    ['begins in a moment', { from: 101 }, 'scheduled'],
    ['ends now: the end is exclusive', { until: 100 }, 'ended'],
    ['ends in a moment', { until: 101 }, 'on'],
    ['switched off', { active: false }, 'off'],
    ['switched off before it begins', { active: false, from: 200 }, 'off'],
    ['over, whatever its switch says', { active: false, until: 50 }, 'ended'],
    ['its product is paused', { products: [{ ...sold, isOnSale: false }] }, 'waiting'],
    ['its product is launched later', { products: [{ ...sold, launchAt: 101 }] }, 'waiting'],
    ['its product is launched now', { products: [{ ...sold, launchAt: 100 }] }, 'on'],
    ['one of two products can be bought', { products: [{ ...sold, isOnSale: false }, sold] }, 'on'],
    ['for the whole programme', { products: [] }, 'on'],
  ])('%s', (_, more, expected) => {
    expect(creativeState({ ...base, ...more }, 100)).toBe(expected);
  });
});

/** The same, said once more in the order in which a person would think of it. */
function naive({ active, from, until, products }: Dated, at: number): string {
  const isOver = until !== null && at >= until;
  const hasBegun = from === null || at >= from;
  const canBeBought =
    products.length === 0 || products.filter((p) => p.isOnSale && (p.launchAt ?? -Infinity) <= at).length > 0;
  if (isOver) return 'ended';
  if (!active) return 'off';
  if (!hasBegun) return 'scheduled';
  return canBeBought ? 'on' : 'waiting';
}

const moment = fc.integer({ min: 0, max: 20 });
const dated: fc.Arbitrary<Dated> = fc.record({
  active: fc.boolean(),
  from: fc.option(moment, { nil: null }),
  until: fc.option(moment, { nil: null }),
  products: fc.array(fc.record({ isOnSale: fc.boolean(), launchAt: fc.option(moment, { nil: null }) }), {
    maxLength: 3,
  }),
});
const change = fc.oneof(
  fc.record({ at: moment, field: fc.constant('active'), value: fc.boolean() }),
  fc.record({
    at: moment,
    field: fc.constantFrom('from', 'until'),
    value: fc.option(moment, { nil: null }),
  }),
);

it('over random dates and planned changes the state is that of a replay, minute by minute', () => {
  const seen = new Map<string, number>();
  fc.assert(
    fc.property(dated, fc.array(change, { maxLength: 6 }), (fields, changes) => {
      const planned = changes.map((c, i) => ({ ...c, id: `pln_${i}` }));
      let now: Dated = fields;
      for (let at = 0; at <= 21; at += 1) {
        // as a clock would: what is due at this minute, in the order it was planned in
        for (const c of planned.filter((p) => p.at === at)) now = { ...now, [c.field]: c.value };
        const state = creativeState(fieldsAt(fields, planned, at), at);
        expect(state).toBe(naive(now, at));
        seen.set(state, (seen.get(state) ?? 0) + 1);
      }
    }),
    { numRuns: 300 },
  );
  expect([...seen.keys()].sort()).toEqual(['ended', 'off', 'on', 'scheduled', 'waiting']);
});

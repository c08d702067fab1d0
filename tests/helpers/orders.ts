import fc from 'fast-check';
import { tieWith } from '../../src/core/terms/conflict';
import { type OrderLine, type OrderToResolve } from '../../src/core/terms/order';
import type { AffiliateTerms, Pay, Rate, Reward, What } from '../../src/core/terms/rate';
import type { Id } from '../../src/core/text/id';
import { rate } from './terms';

/** Random programmes and orders: every kind of reward, caps on rates and on uplifts, bands, several lines, another currency. */
const percent = fc
  .oneof(
    fc.integer({ min: 0, max: 100 }).map((p) => p * 10_000),
    fc.integer({ min: 0, max: 1_000_000 }),
  )
  .map((ppm): Pay => ({ type: 'percent', ppm }));
const flat = fc
  .tuple(fc.integer({ min: 1, max: 2500 }), fc.constantFrom('flat-order', 'flat-unit'), fc.boolean())
  .map(([amount, type, also]): Pay => ({
    type: type as 'flat-order',
    amount,
    ...(also ? { also: { JPY: amount * 2 } } : {}),
  }));
const pay = fc.oneof({ weight: 3, arbitrary: percent }, { weight: 2, arbitrary: flat });
const bands = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 9000 }), pay), { minLength: 1, maxLength: 3 })
  .map((list): Reward => ({
    type: 'bands',
    bands: [...new Map(list)].sort((a, b) => a[0] - b[0]).map(([from, pay]) => ({ from, pay: pay })),
  }));
const cap = fc.option(fc.integer({ min: 1, max: 2000 }), { nil: null });
const what: fc.Arbitrary<What> = fc.constantFrom<What>(
  { type: 'everything' },
  { type: 'kind', kind: 'one-off' },
  { type: 'product', product: 'prd_A' },
  { type: 'product', product: 'prd_B' },
  { type: 'step', step: 's1' },
);
const special: fc.Arbitrary<readonly [string, Id<'affiliate' | 'set'>]> = fc.constantFrom(
  ...([
    ['personal', 'aff_own'],
    ['tag', 'set_t1'],
    ['group', 'set_G'],
    ['card', 'set_makers'],
  ] as const),
);

const baseRate = fc
  .record({
    special,
    everyone: fc.boolean(),
    what,
    reward: fc.oneof({ weight: 4, arbitrary: pay }, { weight: 1, arbitrary: bands }),
    cap,
    from: fc.integer({ min: 0, max: 3 }),
  })
  .map(({ special: [rung, who], everyone, what: covered, reward, cap: most, from }): Rate => {
    if (!everyone) return rate(rung as 'group', who, { what: covered, reward, more: { cap: most, from } });
    return rate(covered.type === 'product' || covered.type === 'step' ? 'product' : 'programme', null, {
      what: covered,
      reward,
      more: {
        cap: most,
        from,
      },
    });
  });
export const anyUplifts = fc.array(
  fc
    .record({
      special,
      everyone: fc.boolean(),
      what,
      mode: fc.constantFrom('up-to' as const, 'plus' as const),
      reward: pay,
      cap,
    })
    .map(({ special: [rung, who], everyone, what: covered, mode, reward, cap: most }): Rate =>
      rate(everyone ? 'programme' : (rung as 'group'), everyone ? null : who, {
        what: covered,
        reward,
        more: {
          mode,
          cap: most,
          label: 'Spring',
        },
      }),
    ),
  { maxLength: 3 },
);
/** Only sets that could be saved: no ties. */
export const anyLadder = fc
  .array(baseRate, { maxLength: 6 })
  .map((list) => list.reduce<Rate[]>((kept, r) => (tieWith(r, kept) ? kept : [...kept, r]), []));
export const someTerms: fc.Arbitrary<AffiliateTerms> = fc.record({
  affiliate: fc.constant('aff_own' as const),
  card: fc.constantFrom(null, 'set_makers' as const),
  tags: fc.constantFrom<Id<'set'>[]>([], ['set_t1']),
  group: fc.constantFrom(
    null,
    { id: 'set_G' as const, paused: false },
    { id: 'set_G' as const, paused: true },
  ),
});
const line = fc
  .record({
    product: fc.constantFrom('prd_A', 'prd_B', 'prd_C'),
    amount: fc.integer({ min: 0, max: 20_000 }),
    quantity: fc.integer({ min: 1, max: 3 }),
    discount: fc.nat(100),
    locked: fc.integer({ min: 0, max: 9 }),
    approved: fc.integer({ min: 0, max: 9 }),
    step: fc.constantFrom(undefined, 's1'),
  })
  .map((l): OrderLine => ({
    product: l.product,
    kind: 'one-off',
    name: l.product,
    quantity: l.quantity,
    amount: l.amount,
    discount: Math.floor((l.amount * l.discount) / 400),
    approved: l.approved > 0,
    locked: l.locked === 0,
    ...(l.step ? { step: l.step } : {}),
  }));
export const anyOrder: fc.Arbitrary<OrderToResolve> = fc
  .record({
    lines: fc.array(line, { minLength: 1, maxLength: 4 }),
    yen: fc.integer({ min: 0, max: 5 }),
    payment: fc.constantFrom(1, 1, 1, 2),
  })
  .map(({ lines, yen, payment }) => ({
    event: 'sale',
    at: 10,
    payment,
    base: 'EUR',
    lines,
    ...(yen === 0
      ? { currency: 'JPY', rateMicros: 160_250_000 }
      : { currency: 'EUR', rateMicros: 1_000_000 }),
  }));
/** Refunds of an order: a line and how much of what is left of it, in hundredths. */
export const anyRefunds = fc.array(fc.tuple(fc.nat(3), fc.oneof(fc.nat(100), fc.constant(100))), {
  maxLength: 8,
});

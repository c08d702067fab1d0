import fc from 'fast-check';
import { expect, it } from 'vitest';
import { coverageOf, gapsOf, type Counted } from './coverage';
import { creativeKinds } from './lists';
import { usualSizes } from './sizes';

it('a product has what is for it, and nothing of what is for the programme', () => {
  const [wheel, kiln, programme] = coverageOf(
    ['prd_wheel', 'prd_kiln', 'programme'],
    [
      { product: 'prd_wheel', kind: 'banner', width: 300, height: 250, count: 2 },
      { product: 'prd_wheel', kind: 'banner', width: 120, height: 600, count: 1 },
      { product: 'prd_wheel', kind: 'email', width: null, height: null, count: 3 },
      { product: 'programme', kind: 'text-link', width: null, height: null, count: 1 },
    ],
  );
  expect(wheel).toMatchObject({ total: 6, kinds: { banner: 3, email: 3, html: 0 } });
  expect(wheel!.sizes[0]).toEqual({ size: { width: 300, height: 250 }, count: 2 });
  expect(gapsOf(wheel!)).toHaveLength(usualSizes.length - 1 + 3);
  expect(gapsOf(wheel!)).not.toContain('300×250');
  expect([kiln!.total, gapsOf(kiln!).length]).toEqual([0, usualSizes.length + 4]);
  expect(programme!.kinds['text-link']).toBe(1);
});

const counted: fc.Arbitrary<Counted> = fc.record({
  product: fc.constantFrom('a', 'b', 'programme'),
  kind: fc.constantFrom(...creativeKinds),
  width: fc.constantFrom(null, 300, 728, 7),
  height: fc.constantFrom(null, 250, 90, 7),
  count: fc.integer({ min: 1, max: 9 }),
});

it('every creative is counted once in the total of its product, and once in its kind', () => {
  fc.assert(
    fc.property(fc.array(counted, { maxLength: 30 }), (rows) => {
      for (const { product, total, kinds } of coverageOf(['a', 'b', 'programme'], rows)) {
        const own = rows.filter((r) => r.product === product).reduce((n, r) => n + r.count, 0);
        expect(total).toBe(own);
        expect(Object.values(kinds).reduce((n, count) => n + count, 0)).toBe(own);
      }
    }),
  );
});

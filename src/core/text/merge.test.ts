import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { overtaken } from './merge';

describe('what others saved while a form was open', () => {
  it('is taken where only they changed it, and named with both where both did', () => {
    const before = { name: 'A', price: '10', hosts: ['a'], note: 'x' };
    expect(
      overtaken(
        before,
        { name: 'B', price: '12', hosts: ['a', 'b'], note: 'x', more: 1 },
        { name: 'A', price: '13', hosts: ['a', 'b'], note: 'y' },
      ),
    ).toEqual([
      { field: 'name', before: 'A', theirs: 'B', mine: 'A', taken: true },
      { field: 'price', before: '10', theirs: '12', mine: '13', taken: false },
    ]);
  });
  it('nothing that only one of the two changed is ever lost', () => {
    const record = fc.record({
      a: fc.constantFrom('1', '2', '3'),
      b: fc.constantFrom(1, 2, null),
      c: fc.array(fc.constantFrom('x', 'y'), { maxLength: 2 }),
    });
    fc.assert(
      fc.property(record, record, record, (before, theirs, mine) => {
        const found = overtaken(before, theirs, mine);
        const merged: Record<string, unknown> = {
          ...mine,
          ...Object.fromEntries(found.filter((f) => f.taken).map((f) => [f.field, f.theirs])),
        };
        for (const field of Object.keys(before) as (keyof typeof before)[]) {
          const is = (x: unknown, y: unknown) => JSON.stringify(x) === JSON.stringify(y);
          if (is(before[field], mine[field])) expect(merged[field]).toEqual(theirs[field]);
          else expect(merged[field]).toEqual(mine[field]);
          if (
            !is(before[field], mine[field]) &&
            !is(before[field], theirs[field]) &&
            !is(mine[field], theirs[field])
          )
            expect(found.map((f) => f.field)).toContain(field);
        }
      }),
    );
  });
});

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { contradictions, fieldsAt, inTurn, withBefore, type Planned } from './planned';

let number = 0;
const plan = (at: number, field: string, value: unknown): Planned => ({
  id: `pln_${String((number += 1)).padStart(6, '0')}`,
  ...{ at, field, value },
});
const open = { from: null, until: null };
const codes = (dates: { from: number | null; until: number | null }, ...planned: Planned[]) =>
  contradictions(dates, planned).map(({ code }) => code);

it('changes happen by their moments, those of one moment as they were planned', () => {
  const [late, first, second] = [plan(9, 'name', 'c'), plan(5, 'name', 'a'), plan(5, 'name', 'b')];
  expect(inTurn([late, second, first])).toEqual([first, second, late]);
  expect(fieldsAt({ name: 'now' }, [late, second, first], 5)).toEqual({ name: 'b' });
  expect(fieldsAt({ name: 'now' }, [late, second, first], 4)).toEqual({ name: 'now' });
  expect(withBefore({ name: 'now' }, [late, second, first]).map((p) => p.before)).toEqual(['now', 'a', 'b']);
});

it('two of one field at one moment cannot both be meant, of two fields they can', () => {
  expect(codes(open, plan(5, 'name', 'a'), plan(5, 'name', 'b'))).toEqual(['same-moment']);
  expect(codes(open, plan(5, 'name', 'a'), plan(5, 'active', false), plan(6, 'name', 'b'))).toEqual([]);
});

it('nothing changes after the end, but the end itself may move, and what is behind it with it', () => {
  expect(codes({ from: null, until: 10 }, plan(9, 'name', 'a'))).toEqual([]);
  expect(codes({ from: null, until: 10 }, plan(10, 'name', 'a'))).toEqual(['after-end']);
  expect(codes({ from: null, until: 10 }, plan(12, 'until', 30), plan(20, 'name', 'a'))).toEqual([]);
  expect(codes({ from: null, until: 10 }, plan(12, 'until', null), plan(20, 'name', 'a'))).toEqual([]);
  const [moved, later] = [plan(5, 'until', 15), plan(20, 'name', 'a')];
  expect(contradictions({ from: null, until: 30 }, [moved, later])).toEqual([
    { code: 'after-end', first: moved, second: later, end: 15 },
  ]);
});

it('changes of one moment are judged by their result', () => {
  // a new end with a new audience, after the old end
  expect(codes({ from: null, until: 10 }, plan(12, 'audience', 'a'), plan(12, 'until', 30))).toEqual([]);
  expect(codes({ from: null, until: 10 }, plan(12, 'audience', 'a'), plan(12, 'until', 11))).toEqual([
    'after-end',
  ]);
  // a new start and end, both after the old end
  expect(codes({ from: 1, until: 10 }, plan(5, 'from', 20), plan(5, 'until', 30))).toEqual([]);
  expect(codes({ from: 1, until: 10 }, plan(5, 'until', 20), plan(5, 'from', 30))).toEqual([
    'end-before-start',
  ]);
});

it('an end before the start names the change that set the other of them', () => {
  const [start, end] = [plan(5, 'from', 40), plan(6, 'until', 30)];
  expect(contradictions(open, [start, end])).toEqual([
    { code: 'end-before-start', first: start, second: end, from: 40, until: 30 },
  ]);
  expect(codes({ from: 20, until: null }, plan(5, 'until', 20))).toEqual(['end-before-start']);
});

it('whatever is planned in whatever order: what contradicts, and what it comes to, is the same', () => {
  const one = fc.record({
    at: fc.integer({ min: 1, max: 9 }),
    field: fc.constantFrom('name', 'from', 'until'),
    value: fc.oneof(fc.constant(null), fc.integer({ min: 1, max: 9 })),
  });
  fc.assert(
    fc.property(fc.array(one, { maxLength: 7 }), fc.infiniteStream(fc.nat(100)), (ones, random) => {
      const planned = ones.map(({ at, field, value }) => plan(at, field, value));
      const mixed = planned
        .map((p) => ({ p, key: random.next().value as number }))
        .sort((a, b) => a.key - b.key)
        .map(({ p }) => p);
      expect(contradictions(open, mixed)).toEqual(contradictions(open, planned));
      const last = withBefore(open, mixed).at(-1);
      const all = fieldsAt<Record<string, unknown>>({ ...open }, mixed, 9);
      if (last) expect(all[last.field]).toEqual(last.value);
    }),
    { seed: 20270312 },
  );
});

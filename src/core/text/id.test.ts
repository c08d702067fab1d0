import { expect, expectTypeOf, it } from 'vitest';
import { isId, prefixes, type Id, type IdKind } from './id';

it('an id is told from those of other kinds by its prefix alone', () => {
  const kinds = Object.keys(prefixes) as IdKind[];
  for (const kind of kinds) {
    const id = `${prefixes[kind]}_01j8z`;
    expect(kinds.filter((other) => isId(id, other))).toEqual([kind]);
  }
});
it.each(['', 'aff', 'affx', 'AFF_01j8z', ' aff_01j8z', 'xaff_01j8z', '../aff_01j8z'])(
  '“%s” is no affiliate’s id',
  (text) => expect(isId(text, 'affiliate')).toBe(false),
);
it('one of several kinds is asked for at once', () => {
  expect(['aff_1', 'set_1', 'prd_1'].map((id) => isId(id, 'affiliate', 'set'))).toEqual([true, true, false]);
});
it('types: an id is a text, but no id of another kind and no text is one', () => {
  expectTypeOf<Id<'product'>>().toExtend<string>();
  expectTypeOf<Id<'product'>>().not.toExtend<Id<'affiliate'>>();
  expectTypeOf<Id<'product'>>().toExtend<Id<'product' | 'set'>>();
  expectTypeOf<Id<'product' | 'set'>>().not.toExtend<Id<'product'>>();
  expectTypeOf<string>().not.toExtend<Id<IdKind>>();
});

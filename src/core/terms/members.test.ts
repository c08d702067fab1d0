import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Id } from '../text/id';
import { buildRoll, isLocked, isPaused, nobody, termsAt, type Membership, type Memberships } from './members';

const at = 100;
const member = (
  kind: Membership['of'],
  id: Id<'set'>,
  from: number,
  until: number | null = null,
): Membership => ({
  affiliate: 'aff_ann',
  of: kind,
  id,
  from,
  until,
});
const termsOf = (parts: Partial<Memberships>, moment = at) =>
  termsAt(buildRoll({ ...nobody, ...parts }), 'aff_ann', moment);

describe('who belongs where, as of a moment', () => {
  it('is the standard card and nothing else for somebody nobody has put anywhere', () => {
    expect(termsOf({ defaultCard: 'set_standard' })).toEqual({
      affiliate: 'aff_ann',
      card: 'set_standard',
      group: null,
      tags: [],
    });
  });
  it('is the card that was given last, and the standard one when it has ended', () => {
    const members = [member('card', 'set_makers', 10), member('card', 'set_media', 50, 120)];
    const cards = [9, 10, 49, 50, 119, 120].map(
      (m) => termsOf({ members, defaultCard: 'set_standard' }, m).card,
    );
    expect(cards).toEqual([
      'set_standard',
      'set_makers',
      'set_makers',
      'set_media',
      'set_media',
      'set_makers',
    ]);
    expect(termsOf({ members: [members[1]!], defaultCard: 'set_standard' }, 120).card).toBe('set_standard');
  });
  it('is at most one group, with whether it is paused', () => {
    const members = [member('group', 'set_circle', 0)];
    const pauses = [{ group: 'set_circle' as const, from: 80, until: 110 }];
    expect([79, 80, 109, 110].map((m) => termsOf({ members, pauses }, m).group)).toEqual([
      { id: 'set_circle', paused: false },
      { id: 'set_circle', paused: true },
      { id: 'set_circle', paused: true },
      { id: 'set_circle', paused: false },
    ]);
  });
  it('is every tag once, in the order of the moment; those without a place in it come last, by their id', () => {
    const members = (['set_c', 'set_a', 'set_b', 'set_a'] as const).map((id) => member('tag', id, 0));
    expect(termsOf({ members }).tags).toEqual(['set_a', 'set_b', 'set_c']);
    const tagOrders: Memberships['tagOrders'] = [
      { from: 0, tags: ['set_c', 'set_b'] },
      { from: 50, tags: ['set_b'] },
    ];
    expect(termsOf({ members, tagOrders }, 49).tags).toEqual(['set_c', 'set_b', 'set_a']);
    expect(termsOf({ members, tagOrders }, 50).tags).toEqual(['set_b', 'set_a', 'set_c']);
  });
  it('is nobody else’s', () => {
    const roll = buildRoll({ ...nobody, members: [member('group', 'set_circle', 0)] });
    expect(termsAt(roll, 'aff_bob', at).group).toBeNull();
  });
});

describe('locks and pauses', () => {
  const roll = buildRoll({
    ...nobody,
    locks: [{ product: 'prd_wheel', event: 'sale', from: 10, until: 20 }],
    pauses: [
      { group: 'set_circle', from: 10, until: 20 },
      { group: 'set_circle', from: 30, until: null },
    ],
  });
  it('a product is locked for the payment that was said, while it was', () => {
    expect([9, 10, 19, 20].map((m) => isLocked(roll, 'prd_wheel', 'sale', m))).toEqual([
      false,
      true,
      true,
      false,
    ]);
    expect(isLocked(roll, 'prd_wheel', 'renewal', 15)).toBe(false);
    expect(isLocked(roll, 'prd_wheel', 'lead', 15)).toBe(false);
    expect(isLocked(roll, 'kiln', 'sale', 15)).toBe(false);
  });
  it('a group can be paused more than once', () => {
    expect([5, 15, 25, 35].map((m) => isPaused(roll, 'set_circle', m))).toEqual([false, true, false, true]);
    expect(isPaused(roll, 'other', 15)).toBe(false);
  });
});

it('the index answers as looking through all memberships does', () => {
  const moment = fc.integer({ min: 0, max: 30 });
  const anyMember = fc.record({
    affiliate: fc.constantFrom('aff_ann' as const, 'aff_bob' as const),
    of: fc.constantFrom('card' as const, 'group' as const, 'tag' as const),
    id: fc.constantFrom('set_x' as const, 'set_y' as const, 'set_z' as const),
    from: moment,
    until: fc.option(moment, { nil: null }),
  });
  fc.assert(
    fc.property(fc.array(anyMember, { maxLength: 12 }), moment, (members, when) => {
      const running = members.filter(
        (m) => m.affiliate === 'aff_ann' && m.from <= when && (m.until === null || when < m.until),
      );
      const last = (kind: Membership['of']) =>
        running
          .filter((m) => m.of === kind)
          .reduce<Membership | null>((found, m) => (found && m.from < found.from ? found : m), null)?.id ??
        null;
      const found = termsAt(buildRoll({ ...nobody, members }), 'aff_ann', when);
      expect(found.card).toBe(last('card'));
      expect(found.group?.id ?? null).toBe(last('group'));
      expect(found.tags).toEqual([...new Set(running.filter((m) => m.of === 'tag').map((m) => m.id))].sort());
    }),
    { numRuns: 2000 },
  );
});

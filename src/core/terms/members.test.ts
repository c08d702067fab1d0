import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildRoll, isLocked, isPaused, nobody, termsAt, type Membership, type Memberships } from './members';

const at = 100;
const member = (
  kind: Membership['of'],
  id: string,
  from: number,
  until: number | null = null,
): Membership => ({
  affiliate: 'ann',
  of: kind,
  id,
  from,
  until,
});
const termsOf = (parts: Partial<Memberships>, moment = at) =>
  termsAt(buildRoll({ ...nobody, ...parts }), 'ann', moment);

describe('who belongs where, as of a moment', () => {
  it('is the standard card and nothing else for somebody nobody has put anywhere', () => {
    expect(termsOf({ defaultCard: 'standard' })).toEqual({
      affiliate: 'ann',
      card: 'standard',
      group: null,
      tags: [],
    });
  });
  it('is the card that was given last, and the standard one when it has ended', () => {
    const members = [member('card', 'makers', 10), member('card', 'media', 50, 120)];
    const cards = [9, 10, 49, 50, 119, 120].map((m) => termsOf({ members, defaultCard: 'standard' }, m).card);
    expect(cards).toEqual(['standard', 'makers', 'makers', 'media', 'media', 'makers']);
    expect(termsOf({ members: [members[1]!], defaultCard: 'standard' }, 120).card).toBe('standard');
  });
  it('is at most one group, with whether it is paused', () => {
    const members = [member('group', 'circle', 0)];
    const pauses = [{ group: 'circle', from: 80, until: 110 }];
    expect([79, 80, 109, 110].map((m) => termsOf({ members, pauses }, m).group)).toEqual([
      { id: 'circle', paused: false },
      { id: 'circle', paused: true },
      { id: 'circle', paused: true },
      { id: 'circle', paused: false },
    ]);
  });
  it('is every tag once, in the order of the moment; those without a place in it come last, by their id', () => {
    const members = ['c', 'a', 'b', 'a'].map((id) => member('tag', id, 0));
    expect(termsOf({ members }).tags).toEqual(['a', 'b', 'c']);
    const tagOrders = [
      { from: 0, tags: ['c', 'b'] },
      { from: 50, tags: ['b'] },
    ];
    expect(termsOf({ members, tagOrders }, 49).tags).toEqual(['c', 'b', 'a']);
    expect(termsOf({ members, tagOrders }, 50).tags).toEqual(['b', 'a', 'c']);
  });
  it('is nobody else’s', () => {
    const roll = buildRoll({ ...nobody, members: [member('group', 'circle', 0)] });
    expect(termsAt(roll, 'bob', at).group).toBeNull();
  });
});

describe('locks and pauses', () => {
  const roll = buildRoll({
    ...nobody,
    locks: [{ product: 'wheel', event: 'sale', from: 10, until: 20 }],
    pauses: [
      { group: 'circle', from: 10, until: 20 },
      { group: 'circle', from: 30, until: null },
    ],
  });
  it('a product is locked for the payment that was said, while it was', () => {
    expect([9, 10, 19, 20].map((m) => isLocked(roll, 'wheel', 'sale', m))).toEqual([
      false,
      true,
      true,
      false,
    ]);
    expect(isLocked(roll, 'wheel', 'renewal', 15)).toBe(false);
    expect(isLocked(roll, 'wheel', 'lead', 15)).toBe(false);
    expect(isLocked(roll, 'kiln', 'sale', 15)).toBe(false);
  });
  it('a group can be paused more than once', () => {
    expect([5, 15, 25, 35].map((m) => isPaused(roll, 'circle', m))).toEqual([false, true, false, true]);
    expect(isPaused(roll, 'other', 15)).toBe(false);
  });
});

it('the index answers as looking through all memberships does', () => {
  const moment = fc.integer({ min: 0, max: 30 });
  const anyMember = fc.record({
    affiliate: fc.constantFrom('ann', 'bob'),
    of: fc.constantFrom('card' as const, 'group' as const, 'tag' as const),
    id: fc.constantFrom('x', 'y', 'z'),
    from: moment,
    until: fc.option(moment, { nil: null }),
  });
  fc.assert(
    fc.property(fc.array(anyMember, { maxLength: 12 }), moment, (members, when) => {
      const running = members.filter(
        (m) => m.affiliate === 'ann' && m.from <= when && (m.until === null || when < m.until),
      );
      const last = (kind: Membership['of']) =>
        running
          .filter((m) => m.of === kind)
          .reduce<Membership | null>((found, m) => (found && m.from < found.from ? found : m), null)?.id ??
        null;
      const found = termsAt(buildRoll({ ...nobody, members }), 'ann', when);
      expect(found.card).toBe(last('card'));
      expect(found.group?.id ?? null).toBe(last('group'));
      expect(found.tags).toEqual([...new Set(running.filter((m) => m.of === 'tag').map((m) => m.id))].sort());
    }),
    { numRuns: 2000 },
  );
});

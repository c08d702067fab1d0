import fc from 'fast-check';
import { expect, it } from 'vitest';
import { audienceIn, isReached, keysOfAudience, type Audience, type Member } from './audience';
import type { AudienceKind } from './lists';

const member: Member = {
  id: 'aff_loam',
  group: 'set_studio',
  tags: ['set_early', 'set_video'],
  segments: ['seg_film'],
};

it.each<[Audience, boolean]>([
  [{ kind: 'everybody' }, true],
  [{ kind: 'group', set: 'set_studio' }, true],
  [{ kind: 'group', set: 'set_stalls' }, false],
  [{ kind: 'tag', set: 'set_video' }, true],
  [{ kind: 'tag', set: 'set_coupons' }, false],
  [{ kind: 'segment', segment: 'seg_film' }, true],
  [{ kind: 'segment', segment: 'seg_idle' }, false],
  [{ kind: 'named', affiliates: ['aff_kiln', 'aff_loam'] }, true],
  [{ kind: 'named', affiliates: ['aff_kiln'] }, false],
])('%j reaches it: %s', (audience, expected) => {
  expect(isReached(audience, member)).toBe(expected);
});

it('who is named twice has one key', () => {
  expect(keysOfAudience({ kind: 'named', affiliates: ['aff_a', 'aff_b', 'aff_a'] })).toEqual([
    'aff_a',
    'aff_b',
  ]);
});

const one = fc.integer({ min: 0, max: 4 });
const sets = one.map((n) => `set_${n}` as const);
const audience: fc.Arbitrary<Audience> = fc.oneof(
  fc.constant({ kind: 'everybody' } as const),
  fc.record({ kind: fc.constantFrom('group' as const, 'tag' as const), set: sets }),
  fc.record({ kind: fc.constant('segment' as const), segment: one.map((n) => `seg_${n}` as const) }),
  fc.record({
    kind: fc.constant('named' as const),
    affiliates: fc.array(
      one.map((n) => `aff_${n}` as const),
      { minLength: 1, maxLength: 3 },
    ),
  }),
);
const somebody: fc.Arbitrary<Member> = fc.record({
  id: one.map((n) => `aff_${n}` as const),
  group: fc.option(sets, { nil: null }),
  tags: fc.array(sets, { maxLength: 3 }),
  segments: fc.array(
    one.map((n) => `seg_${n}` as const),
    { maxLength: 2 },
  ),
});

it('an audience reaches whom its own words say, whoever it is', () => {
  fc.assert(
    fc.property(audience, somebody, (asked, who) => {
      const expected = {
        everybody: () => true,
        group: () => 'set' in asked && (who.group === asked.set || who.tags.includes(asked.set)),
        tag: () => 'set' in asked && (who.tags.includes(asked.set) || who.group === asked.set),
        segment: () => 'segment' in asked && who.segments.includes(asked.segment),
        named: () => 'affiliates' in asked && asked.affiliates.includes(who.id),
      }[asked.kind]();
      expect(isReached(asked, who)).toBe(expected);
    }),
  );
});

it.each<[AudienceKind, string[], Audience | null]>([
  ['everybody', [], { kind: 'everybody' }],
  ['everybody', ['set_studio'], { kind: 'everybody' }],
  ['group', ['set_studio', 'set_other'], { kind: 'group', set: 'set_studio' }],
  ['tag', ['seg_film', 'set_early'], { kind: 'tag', set: 'set_early' }],
  ['segment', ['set_early', 'seg_film'], { kind: 'segment', segment: 'seg_film' }],
  ['named', ['aff_loam', 'set_studio', 'aff_kiln'], { kind: 'named', affiliates: ['aff_loam', 'aff_kiln'] }],
  ['group', [], null],
  ['tag', ['studio'], null],
  ['segment', ['set_studio'], null],
  ['named', ['everybody'], null],
])('%s of %j is an audience, or none where whom it is for is missing', (kind, keys, expected) => {
  expect(audienceIn(kind, keys)).toEqual(expected);
});

import { isId, type Id } from '../text/id';
import type { AudienceKind } from './lists';

/** Whom a creative or a coupon is for: everybody, the members of one set or segment, or affiliates by name. */
export type Audience =
  | { kind: 'everybody' }
  | { kind: 'group' | 'tag'; set: Id<'set'> }
  | { kind: 'segment'; segment: Id<'segment'> }
  | { kind: 'named'; affiliates: readonly Id<'affiliate'>[] };

/** What is kept beside a creative, so that what one affiliate may use is found by a key. */
export type AudienceKey = 'everybody' | Id<'set'> | Id<'segment'> | Id<'affiliate'>;

/** The keys of an audience: who has one of them may use it. */
export function keysOfAudience(audience: Audience): AudienceKey[] {
  switch (audience.kind) {
    case 'everybody':
      return ['everybody'];
    case 'group':
    case 'tag':
      return [audience.set];
    case 'segment':
      return [audience.segment];
    case 'named':
      return [...new Set(audience.affiliates)];
  }
}

/** What an affiliate is, as far as an audience asks for it: a paused group counts, since it is still its group. */
export interface Member {
  id: Id<'affiliate'>;
  group: Id<'set'> | null;
  tags: readonly Id<'set'>[];
  segments: readonly Id<'segment'>[];
}

/** The keys that an affiliate has. */
export function keysOfMember({ id, group, tags, segments }: Member): AudienceKey[] {
  return ['everybody', id, ...(group ? [group] : []), ...tags, ...segments];
}

/** Whether an audience reaches an affiliate. */
export function isReached(audience: Audience, member: Member): boolean {
  const own = new Set(keysOfMember(member));
  return keysOfAudience(audience).some((key) => own.has(key));
}

/** An audience as an address or a file names it: “everybody”, “named”, or the id of a set or segment. */
export function audienceIn(kind: AudienceKind, keys: readonly string[]): Audience | null {
  const sets = keys.filter((key) => isId(key, 'set'));
  const segments = keys.filter((key) => isId(key, 'segment'));
  const affiliates = keys.filter((key) => isId(key, 'affiliate'));
  switch (kind) {
    case 'everybody':
      return { kind };
    case 'group':
    case 'tag':
      return sets[0] ? { kind, set: sets[0] } : null;
    case 'segment':
      return segments[0] ? { kind, segment: segments[0] } : null;
    case 'named':
      return affiliates.length ? { kind, affiliates } : null;
  }
}

import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { FieldFault } from '../../../contract/explain';
import type { Audience } from '../../../core/material/audience';
import { counted } from '../../../core/text/counted';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';
import { segments } from '../../ground/tables/roster';
import { sets } from '../../ground/tables/terms';

/** The names that audiences are said with, for many at once. */
export interface AudienceNames {
  sets: Map<string, string>;
  segments: Map<string, string>;
  affiliates: Map<string, string>;
}

const namesIn = (rows: { id: string; name: string }[]) => new Map(rows.map((r) => [r.id, r.name]));

const idsIn = (audiences: readonly Audience[]): Id<'affiliate'>[] => [
  ...new Set(audiences.flatMap((a) => (a.kind === 'named' ? a.affiliates : []))),
];

export function audienceNames(app: App, audiences: readonly Audience[]): AudienceNames {
  const named = idsIn(audiences);
  const someOf = { id: affiliates.id, name: affiliates.name };
  return {
    sets: namesIn(app.db.select({ id: sets.id, name: sets.name }).from(sets).all()),
    segments: namesIn(app.db.select({ id: segments.id, name: segments.name }).from(segments).all()),
    affiliates: namesIn(
      named.length ? app.db.select(someOf).from(affiliates).where(inArray(affiliates.id, named)).all() : [],
    ),
  };
}

/** Those whom an audience names, with their names. */
export const namedIn = (audience: Audience, names: AudienceNames): { id: Id<'affiliate'>; name: string }[] =>
  audience.kind === 'named'
    ? audience.affiliates.map((id) => ({ id, name: names.affiliates.get(id) ?? '' }))
    : [];

/** Whom something is for, in words. */
export function audienceWords(audience: Audience, names: AudienceNames): string {
  switch (audience.kind) {
    case 'everybody':
      return 'everybody';
    case 'group':
      return `the group ${names.sets.get(audience.set) ?? 'that is gone'}`;
    case 'tag':
      return `those tagged ${names.sets.get(audience.set) ?? 'otherwise'}`;
    case 'segment':
      return `the segment ${names.segments.get(audience.segment) ?? 'that is gone'}`;
    case 'named': {
      const [first] = audience.affiliates;
      return audience.affiliates.length === 1
        ? (names.affiliates.get(first!) ?? 'one affiliate')
        : counted(audience.affiliates.length, 'affiliate');
    }
  }
}

const fault = (why: string): FieldFault[] => [{ pointer: '/audience', detail: `Audience: ${why}` }];

/** What is wrong with an audience: it is of somebody or something that is not there. */
export function audienceFaults(app: App, audience: Audience): FieldFault[] {
  if (audience.kind === 'everybody') return [];
  if (audience.kind === 'named') return namedFaults(app, audience.affiliates);
  return isThere(app, audience) ? [] : fault(`this ${audience.kind} does not exist any more`);
}

function isThere(app: App, audience: Exclude<Audience, { kind: 'everybody' | 'named' }>): boolean {
  const found =
    audience.kind === 'segment'
      ? app.db
          .select({ id: segments.id })
          .from(segments)
          .where(and(eq(segments.id, audience.segment), isNull(segments.removedAt)))
      : app.db
          .select({ id: sets.id })
          .from(sets)
          .where(and(eq(sets.id, audience.set), eq(sets.of, audience.kind), isNull(sets.removedAt)));
  return found.get() !== undefined;
}

/** Who left, or was blocked, cannot use anything. */
function namedFaults(app: App, ids: readonly Id<'affiliate'>[]): FieldFault[] {
  const rows = app.db
    .select({ id: affiliates.id, name: affiliates.name, state: affiliates.state })
    .from(affiliates)
    .where(inArray(affiliates.id, [...ids]))
    .all();
  if (rows.length < new Set(ids).size) return fault('an affiliate of it does not exist');
  const gone = rows.filter((r) => r.state === 'ended' || r.state === 'blocked');
  return gone.length
    ? fault(`${gone.map((r) => `${r.name} is ${r.state}`).join(', ')} and can use nothing`)
    : [];
}

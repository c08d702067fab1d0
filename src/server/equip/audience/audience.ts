import { inArray } from 'drizzle-orm';
import type { Audience } from '../../../core/material/audience';
import { counted } from '../../../core/text/counted';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { refuse } from '../../ground/http/problem';
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
export function namedIn(app: App, audience: Audience): { id: Id<'affiliate'>; name: string }[] {
  if (audience.kind !== 'named') return [];
  const { affiliates: names } = audienceNames(app, [audience]);
  return audience.affiliates.map((id) => ({ id, name: names.get(id) ?? '' }));
}

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

/** @throws Problem `invalid` for an audience of somebody or something that is not there */
export function checkAudience(app: App, audience: Audience): void {
  if (audience.kind === 'everybody') return;
  if (audience.kind === 'named') return checkNamed(app, audience.affiliates);
  const isThere =
    audience.kind === 'segment'
      ? app.db
          .select()
          .from(segments)
          .all()
          .some((s) => s.id === audience.segment && s.removedAt === null)
      : app.db
          .select()
          .from(sets)
          .all()
          .some((s) => s.id === audience.set && s.of === audience.kind && s.removedAt === null);
  if (!isThere) throw refuse('audience', `Audience: this ${audience.kind} does not exist any more`);
}

/** Who left, or was blocked, cannot use anything. */
function checkNamed(app: App, ids: readonly Id<'affiliate'>[]): void {
  const rows = app.db
    .select({ id: affiliates.id, name: affiliates.name, state: affiliates.state })
    .from(affiliates)
    .where(inArray(affiliates.id, [...ids]))
    .all();
  if (rows.length < new Set(ids).size)
    throw refuse('audience', 'Audience: an affiliate of it does not exist');
  const gone = rows.filter((r) => r.state === 'ended' || r.state === 'blocked');
  if (gone.length)
    throw refuse(
      'audience',
      `Audience: ${gone.map((r) => `${r.name} is ${r.state}`).join(', ')} and can use nothing`,
    );
}

import { and, eq, inArray, or, sql } from 'drizzle-orm';
import { inForce, isEmpty } from '../../../core/calendar/span';
import type { memberOutcomes } from '../../../core/terms/lists';
import { termsAt, type Roll } from '../../../core/terms/members';
import { readNames } from '../../../core/terms/names';
import { isId, type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { memberships } from '../../ground/tables/terms';
import { promoting } from '../../registers/people/promoting';
import { setById } from './sets';
import { setsInUse, theTerms, type SetRecord } from './store';

export type Outcome = (typeof memberOutcomes)[number];

export interface Line {
  line: number;
  said: string;
  outcome: Outcome;
  affiliate: Id<'affiliate'> | null;
  name: string | null;
  from: string | null;
}

export function present(app: App, id: Id<'set'>): SetRecord {
  const set = setById(app, id);
  if (set.removedAt !== null) throw new Problem('conflict', `${set.name} was removed`);
  return set;
}

const keyset = { by: affiliates.name, id: affiliates.id, order: 'asc' } as const;

export function listMembers(app: App, id: Id<'set'>, filter: { q?: string; after?: string; limit?: number }) {
  const set = setById(app, id);
  const now = app.clock.now();
  const limit = filter.limit ?? 100;
  const pattern = filter.q ? anywhere(filter.q) : null;
  const running = sql`${memberships.from} <= ${now} AND (${memberships.until} IS NULL OR ${memberships.until} > ${now})`;
  // those on no card are on the standard one
  const onStandard = set.standard
    ? sql`(${memberships.set} = ${id} OR ${memberships.id} IS NULL)`
    : sql`${memberships.set} = ${id}`;
  const found = app.db
    .select({
      id: affiliates.id,
      handle: affiliates.handle,
      name: affiliates.name,
      state: affiliates.state,
      since: sql<number>`coalesce(${memberships.from}, ${affiliates.joinedAt}, 0)`,
    })
    .from(affiliates)
    .leftJoin(
      memberships,
      and(
        eq(memberships.affiliate, affiliates.id),
        eq(memberships.of, set.of),
        set.of === 'tag' ? eq(memberships.set, id) : undefined,
        running,
      ),
    )
    .where(
      and(
        onStandard,
        promoting,
        pattern
          ? or(
              sql`${affiliates.name} LIKE ${pattern} ESCAPE '\\'`,
              sql`${affiliates.handle} LIKE ${pattern} ESCAPE '\\'`,
            )
          : undefined,
        afterCursor(keyset, filter.after),
      ),
    )
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  return cut(found, limit, (r) => [r.name, r.id]);
}

/** Names as typed. @throws Problem `invalid` for none, and for more than are taken at once */
function namesTyped(text: string): ReturnType<typeof readNames> {
  const named = readNames(text);
  if (!named.length)
    throw refuse(
      'names',
      'Affiliates: nobody is named; write handles or e-mail addresses, parted by commas or lines',
      'loam-letters, kiln-notes',
    );
  if (named.length > mostNamed)
    throw refuse(
      'names',
      `Affiliates: at most ${mostNamed.toLocaleString('en-GB')} at once, these are ${named.length.toLocaleString('en-GB')}`,
      'half of the list',
    );
  return named;
}
const mostNamed = 20_000;

interface Named {
  id: Id<'affiliate'>;
  name: string;
}

/** Affiliates by handle, address and id, in small letters. */
function peopleBy(app: App, keys: string[]): Map<string, Named> {
  const known = new Map<string, Named>();
  const { id, name, handle, emailKey: email } = affiliates;
  for (let i = 0; i < keys.length; i += 500) {
    const some = keys.slice(i, i + 500);
    const ids = some.filter((key) => isId(key, 'affiliate'));
    for (const a of app.db
      .select({ id, name, handle, email })
      .from(affiliates)
      .where(or(inArray(sql`lower(${handle})`, some), inArray(email, some), inArray(id, ids)))
      .all()) {
      for (const key of [a.handle.toLowerCase(), a.email, a.id]) known.set(key, { id: a.id, name: a.name });
    }
  }
  return known;
}

/** Who was put on a card: being on the standard one without having been put there asks nothing. */
function carded(app: App, set: SetRecord, now: number): Set<Id<'affiliate'>> {
  if (set.of !== 'card') return new Set();
  return new Set(
    theTerms(app)
      .data.members.filter((m) => m.of === 'card' && inForce(m, now))
      .map((m) => m.affiliate),
  );
}

/** What putting somebody into a set does, by where it is now. */
function outcomeIn(app: App, set: SetRecord): (affiliate: Id<'affiliate'>) => Pick<Line, 'outcome' | 'from'> {
  const now = app.clock.now();
  const { roll } = theTerms(app);
  const names = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  const onCards = carded(app, set, now);
  return (affiliate) => {
    const { card, group, tags } = termsAt(roll, affiliate, now);
    const at = { card, group: group?.id ?? null, tag: tags.includes(set.id) ? set.id : null }[set.of];
    if (at === set.id || isComing(roll, affiliate, set, now)) return { outcome: 'already', from: null };
    const placed = set.of === 'group' ? at !== null : onCards.has(affiliate);
    return { outcome: placed ? 'move' : 'add', from: placed && at ? (names.get(at) ?? at) : null };
  };
}

/** What adding each of the named would do. */
export function judgeNames(app: App, set: SetRecord, text: string): Line[] {
  const named = namesTyped(text);
  const known = peopleBy(app, [...new Set(named.map((n) => n.said.toLowerCase()))]);
  const seen = new Set<string>();
  const outcomeOf = outcomeIn(app, set);
  return named.map(({ line, said }): Line => {
    const found = known.get(said.toLowerCase());
    if (!found)
      return { line, said: said.slice(0, 200), outcome: 'unknown', affiliate: null, name: null, from: null };
    const base = { line, said, affiliate: found.id, name: found.name };
    if (seen.has(found.id)) return { ...base, outcome: 'repeated', from: null };
    seen.add(found.id);
    return { ...base, ...outcomeOf(found.id) };
  });
}

/** True where somebody is to come into a set later, when a notice is over. */
export function isComing(
  roll: Roll,
  affiliate: string,
  set: Pick<SetRecord, 'id' | 'of'>,
  now: number,
): boolean {
  return (
    roll.places.get(affiliate)?.[set.of].some((m) => m.id === set.id && m.from > now && !isEmpty(m)) ?? false
  );
}

import { and, eq, inArray, or, sql } from 'drizzle-orm';
import { type memberOutcomes } from '../../../contract/setup/sets';
import { termsAt, type Roll } from '../../../core/terms/members';
import { readNames } from '../../../core/terms/names';
import { inForce } from '../../../core/terms/rate';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { Problem, refuse } from '../../ground/http/problem';
import { affiliates } from '../../ground/tables/people';
import { memberships } from '../../ground/tables/terms';
import { setById } from './sets';
import { setsInUse, theTerms, type SetRecord } from './store';

export type Outcome = (typeof memberOutcomes)[number];

export interface Line {
  line: number;
  said: string;
  outcome: Outcome;
  affiliate: string | null;
  name: string | null;
  from: string | null;
}

export function present(app: App, id: string): SetRecord {
  const set = setById(app, id);
  if (set.removedAt !== null) throw new Problem('conflict', `${set.name} was removed`);
  return set;
}

const keyset = { by: affiliates.name, id: affiliates.id, order: 'asc' } as const;

export function listMembers(app: App, id: string, filter: { q?: string; after?: string; limit?: number }) {
  const set = setById(app, id);
  const now = app.clock.now();
  const limit = filter.limit ?? 100;
  const pattern = filter.q ? anywhere(filter.q) : null;
  const running = sql`${memberships.from} <= ${now} AND (${memberships.until} IS NULL OR ${memberships.until} > ${now})`;
  // those on no card are on the standard one
  const onStandard = set.standard
    ? sql`(${memberships.set} = ${id} OR (${memberships.id} IS NULL AND ${affiliates.joinedAt} IS NOT NULL AND ${affiliates.promotes}))`
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

/** What adding each of the named would do. */
export function judge(app: App, set: SetRecord, text: string): Line[] {
  const named = readNames(text);
  if (!named.length)
    throw refuse(
      'names',
      'Affiliates: nobody is named; write handles or e-mail addresses, parted by commas or lines',
      'loam-letters, kiln-notes',
    );
  if (named.length > 20_000)
    throw refuse(
      'names',
      `Affiliates: at most 20,000 at once, these are ${named.length.toLocaleString('en-GB')}`,
      'half of the list',
    );
  const keys = [...new Set(named.map((n) => n.said.toLowerCase()))];
  const known = new Map<string, { id: string; name: string }>();
  for (let i = 0; i < keys.length; i += 500) {
    const some = keys.slice(i, i + 500);
    for (const a of app.db
      .select({
        id: affiliates.id,
        name: affiliates.name,
        handle: affiliates.handle,
        email: affiliates.emailKey,
      })
      .from(affiliates)
      .where(
        or(
          inArray(sql`lower(${affiliates.handle})`, some),
          inArray(affiliates.emailKey, some),
          inArray(affiliates.id, some),
        ),
      )
      .all()) {
      for (const key of [a.handle.toLowerCase(), a.email, a.id]) known.set(key, { id: a.id, name: a.name });
    }
  }
  const now = app.clock.now();
  const { roll, data } = theTerms(app);
  const names = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  const seen = new Set<string>();
  const carded = new Set(
    set.of === 'card'
      ? data.members.filter((m) => m.of === 'card' && inForce(m, now)).map((m) => m.affiliate)
      : [],
  );
  return named.map(({ line, said }): Line => {
    const found = known.get(said.toLowerCase());
    if (!found)
      return { line, said: said.slice(0, 200), outcome: 'unknown', affiliate: null, name: null, from: null };
    const base = { line, said, affiliate: found.id, name: found.name };
    if (seen.has(found.id)) return { ...base, outcome: 'repeated', from: null };
    seen.add(found.id);
    const terms = termsAt(roll, found.id, now);
    if (isComing(roll, found.id, set, now)) return { ...base, outcome: 'already', from: null };
    if (set.of === 'tag')
      return { ...base, outcome: terms.tags.includes(set.id) ? 'already' : 'add', from: null };
    const at = set.of === 'card' ? terms.card : (terms.group?.id ?? null);
    if (at === set.id) return { ...base, outcome: 'already', from: null };
    // everyone is on a card: being on the standard one without having been put there asks nothing
    const placed = set.of === 'group' ? at !== null : carded.has(found.id);
    return { ...base, outcome: placed ? 'move' : 'add', from: placed && at ? (names.get(at) ?? at) : null };
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
    roll.places
      .get(affiliate)
      ?.[set.of].some((m) => m.id === set.id && m.from > now && (m.until === null || m.until > m.from)) ??
    false
  );
}

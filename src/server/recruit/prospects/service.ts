import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { BodyOf, QueryOf, ReplyOf } from '../../../contract/endpoint';
import type {
  listProspects as List,
  listInvites as ListInvites,
  readProspect as Read,
  tagProspects as Tag,
} from '../../../contract/recruit/prospects';
import { dayOf } from '../../../core/calendar/zone';
import { clearedBand, shrunkRefundRate } from '../../../core/recruiting/evidence';
import { mismatch } from '../../../core/recruiting/kinds';
import type { Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { afterCursor, cut, inOrder } from '../../ground/db/page';
import { Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { invites, prospects, prospectTags } from '../../ground/tables/prospects';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { theProgramme } from '../../registers/programme/record';
import { setsInUse } from '../../setup/terms/store';
import { asksLeft } from '../allowance/allowance';
import { copyCount, copyOf, partnerStanding } from './copy';
import { prospectReadings } from './readings';
import { type Found, type ProspectFilter, type ProspectRecord } from './searched';

const foundWords = {
  id: 'by its id',
  name: 'by its name',
  'name-start': 'by its name',
  'name-part': 'in its name',
  'site-start': 'by a site',
  'site-part': 'in a site',
  keyword: 'in its words',
  words: 'by all the words',
  nearly: 'with one letter forgiven',
} as const;

function show(app: App, found: Found[]): ReplyOf<typeof List>['rows'] {
  const ns = found.map((f) => f.row.n);
  const sets = new Map(setsInUse(app).map((s) => [s.id, s]));
  const tags = new Map<number, { id: Id<'set'>; name: string; colour: string }[]>();
  for (let i = 0; i < ns.length; i += 500) {
    for (const t of app.db
      .select()
      .from(prospectTags)
      .where(inArray(prospectTags.prospect, ns.slice(i, i + 500)))
      .all()) {
      const set = sets.get(t.tag);
      if (set)
        tags.set(t.prospect, [
          ...(tags.get(t.prospect) ?? []),
          { id: set.id, name: set.name, colour: set.colour },
        ]);
    }
  }
  const ids = found.filter((f) => f.row.state === 'invited').map((f) => f.row.id);
  const latest = new Map<string, (typeof invites.$inferSelect)['state']>();
  for (let i = 0; i < ids.length; i += 500)
    for (const v of app.db
      .select({ prospect: invites.prospect, state: invites.state })
      .from(invites)
      .where(inArray(invites.prospect, ids.slice(i, i + 500)))
      .orderBy(invites.at, invites.id)
      .all())
      latest.set(v.prospect, v.state);
  return found.map(({ row: r, rank }) => ({
    id: r.id,
    name: r.name,
    country: r.country,
    sites: JSON.parse(r.sites) as string[],
    kinds: JSON.parse(r.kinds) as string[],
    audience: r.audience,
    cleared: clearedBand(r.sales - r.refunds),
    standing: r.standing < 0 ? null : r.standing,
    refundRate: r.sales === 0 ? null : shrunkRefundRate(r.refunds, r.sales),
    vouched: r.vouched !== '',
    state: r.state,
    invite: latest.get(r.id) ?? null,
    tags: tags.get(r.n) ?? [],
    found: rank === null ? null : foundWords[rank],
    affiliate: r.affiliate,
  }));
}

/** A page of our copy of the partners, as it is looked for. */
export const search = (app: App, filter: ProspectFilter, after: string | undefined, limit: number) =>
  app.reader.ask(prospectReadings.prospects, { filter, after, limit, stamp: copyCount(app) });

export async function listProspects(app: App, filter: QueryOf<typeof List>): Promise<ReplyOf<typeof List>> {
  const { rows, next } = await search(app, filter, filter.after, filter.limit ?? 100);
  return { rows: show(app, rows), next, copy: copyOf(app), invitesLeft: asksLeft(app) };
}

export function prospectById(app: App, id: string): ProspectRecord {
  const row = app.sqlite.prepare<[string], ProspectRecord>('SELECT * FROM prospects WHERE id = ?').get(id);
  if (!row) throw new Problem('not-found', `There is no partner ${id} in our copy of the registry`);
  return row;
}

export function readProspect(app: App, id: string): ReplyOf<typeof Read> {
  const row = prospectById(app, id);
  const { zone, kindsWanted, kindsUnwanted } = theProgramme(app);
  const [shown] = show(app, [{ row, rank: null }]);
  const { sales, refunds, since, intro } = row;
  return {
    row: shown!,
    intro,
    since,
    sales,
    refunds,
    vouched: row.vouched,
    parts: partnerStanding(
      { sales, refunds, since, intro, sites: shown!.sites },
      dayOf(app.clock.now(), zone),
    ),
    mismatch: mismatch(shown!.kinds, kindsWanted, kindsUnwanted),
    invites: showInvites(
      app,
      app.db.select().from(invites).where(eq(invites.prospect, id)).orderBy(desc(invites.at)).limit(50).all(),
    ),
  };
}

export function showInvites(
  app: App,
  rows: (typeof invites.$inferSelect)[],
): ReplyOf<typeof ListInvites>['rows'] {
  const name = namesOf(
    app,
    rows.map((r) => r.by),
  );
  const sets = new Map(setsInUse(app).map((s) => [s.id, s.name]));
  const named = new Map(
    app.db
      .select({ id: products.id, name: products.name })
      .from(products)
      .all()
      .map((p) => [p.id, p.name]),
  );
  const ids = [...new Set(rows.map((r) => r.prospect))];
  const partners = new Map(
    ids.length
      ? app.db
          .select({ id: prospects.id, name: prospects.name })
          .from(prospects)
          .where(inArray(prospects.id, ids))
          .all()
          .map((p) => [p.id, p.name])
      : [],
  );
  return rows.map((r) => ({
    id: r.id,
    prospect: r.prospect,
    name: partners.get(r.prospect) ?? r.prospect,
    at: r.at,
    by: name(r.by),
    state: r.state,
    stateAt: r.stateAt,
    expiresAt: r.expiresAt,
    message: r.message,
    fault: r.fault,
    affiliate: r.affiliate,
    card: r.card && (sets.get(r.card) ?? 'a card that is gone'),
    group: r.group && (sets.get(r.group) ?? 'a group that is gone'),
    tags: r.tags.map((t) => sets.get(t) ?? 'a tag that is gone'),
    product: r.product && (named.get(r.product) ?? null),
  }));
}

const keyset = { by: invites.at, id: invites.id, order: 'desc' } as const;

export function listInvites(app: App, filter: QueryOf<typeof ListInvites>): ReplyOf<typeof ListInvites> {
  const limit = filter.limit ?? 100;
  const found = app.db
    .select()
    .from(invites)
    .where(and(filter.state ? eq(invites.state, filter.state) : undefined, afterCursor(keyset, filter.after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.at, r.id]);
  return { rows: showInvites(app, rows), next, counts: countInvites(app) };
}

/** Puts a tag on partners, or takes it off; one who has joined is tagged as an affiliate instead. */
export function tagProspects(app: App, actor: Actor, input: BodyOf<typeof Tag>): { changed: number } {
  const tag = setsInUse(app).find((s) => s.id === input.tag && s.of === 'tag');
  if (!tag) throw refuse('tag', 'Tag: it does not exist any more');
  const rows = input.ids.map((id) => prospectById(app, id));
  let changed = 0;
  for (const { n } of rows) {
    changed += input.on
      ? app.db
          .insert(prospectTags)
          .values({ prospect: n, tag: tag.id, at: app.clock.now(), by: actor.id })
          .onConflictDoNothing()
          .run().changes
      : app.db
          .delete(prospectTags)
          .where(and(eq(prospectTags.prospect, n), eq(prospectTags.tag, tag.id)))
          .run().changes;
  }
  if (changed)
    record(app, actor, input.on ? 'prospects-tagged' : 'prospects-untagged', {
      subject: tag.id,
      before: null,
      after: {
        tag: tag.name,
        partners: rows.slice(0, 50).map((r) => r.id),
        count: changed,
      },
    });
  return { changed };
}

/** How many invitations are in each state. */
export function countInvites(app: App): Record<string, number> {
  return Object.fromEntries(
    app.db
      .select({ state: invites.state, n: sql<number>`count(*)` })
      .from(invites)
      .groupBy(invites.state)
      .all()
      .map((r) => [r.state, r.n]),
  );
}

import { and, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type {
  listOwnMaterial as List,
  OwnRow,
  surveyOwnMaterial as Survey,
} from '../../../contract/portal/material';
import { creativeKinds } from '../../../core/material/lists';
import { sizeName } from '../../../core/material/sizes';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { afterCursor, cut, inOrder } from '../../ground/db/page';
import { Problem } from '../../ground/http/problem';
import { creativeProducts, creativeReaders, creatives } from '../../ground/tables/creatives';
import { keptProducts, productByCode } from '../../registers/catalogue/store';
import { keysNow, promotable, promotesNow } from '../audience/member';
import { filesShown } from '../creatives/files';
import { creativeWhere, type CreativeFilter } from '../creatives/list';
import { isInState } from '../creatives/states';
import { creativeById, type CreativeRecord } from '../creatives/store';
import { wordsFor } from './words';

/** Since when a creative is there for affiliates: from its making, or its beginning. */
const since = sql<number>`max(${creatives.createdAt}, coalesce(${creatives.from}, 0))`;
const keyset = { by: since, id: creatives.id, order: 'desc' } as const;

/** What of the sample book is for an affiliate now: on, for it, and for something that it may promote. */
function isFor(app: App, affiliate: Id<'affiliate'>): SQL {
  const promotes = promotesNow(app, affiliate);
  if (promotes?.length === 0) return sql`0`;
  const reader = sql`EXISTS (SELECT 1 FROM ${creativeReaders} r WHERE r.creative = ${creatives.id} AND ${inArray(sql`r.reader`, keysNow(app, affiliate))})`;
  const product =
    promotes === null
      ? undefined
      : sql`EXISTS (SELECT 1 FROM ${creativeProducts} p WHERE p.creative = ${creatives.id} AND +p.product IN (SELECT value FROM json_each(${JSON.stringify(['programme', ...promotes])})))`;
  return and(isNull(creatives.removedAt), isInState(app, 'on'), reader, product)!;
}

type Filter = Omit<QueryOf<typeof List>, 'after' | 'limit'>;

function filterOf(app: App, { product, ...filter }: Filter): CreativeFilter {
  if (product === undefined) return filter;
  const known = productByCode(app, product);
  if (!known) throw new Problem('not-found', `There is no product ${product}`);
  return { ...filter, product: known.id };
}

const sinceOf = (row: CreativeRecord) => Math.max(row.createdAt, row.from ?? 0);

/** Creatives as an affiliate sees them. @param before moment it was here before; null: it never was, so nothing is marked as new */
function ownRows(
  app: App,
  affiliate: Id<'affiliate'>,
  rows: readonly CreativeRecord[],
  before: number | null,
): OwnRow[] {
  const products = new Map(keptProducts(app).map((p) => [p.id, { code: p.code, name: p.name }]));
  const fileOf = filesShown(app, rows);
  const words = wordsFor(app, affiliate, rows);
  return rows.map((row) => {
    const { id, kind, name, subject, language, width, height, until } = row;
    const own = words(row);
    return {
      ...{ id, kind, name, subject, language, width, height, until },
      note: own.note,
      products: row.products.flatMap((p) => products.get(p) ?? []),
      file: fileOf(row.file),
      poster: fileOf(row.poster),
      shown: own.shown,
      since: sinceOf(row),
      isNew: before !== null && sinceOf(row) > before,
    };
  });
}

interface Asked {
  affiliate: Id<'affiliate'>;
  before: number | null;
}

/** A page of what an affiliate may promote with now, newest first. */
export function listOwn(
  app: App,
  { affiliate, before }: Asked,
  { after, limit = 40, ...filter }: QueryOf<typeof List>,
): ReplyOf<typeof List> {
  const found = app.db
    .select()
    .from(creatives)
    .where(and(isFor(app, affiliate), creativeWhere(app, filterOf(app, filter)), afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [sinceOf(r), r.id]);
  return { rows: ownRows(app, affiliate, rows, before), next };
}

const sorted = (texts: Iterable<string>) => [...new Set(texts)].filter(Boolean).sort();

/** What an affiliate's material can be narrowed by. */
export function surveyOwn(app: App, { affiliate, before }: Asked): ReplyOf<typeof Survey> {
  const { id, kind, subject, language, width, height, products, createdAt, from } = creatives;
  const rows = app.db
    .select({ id, kind, subject, language, width, height, products, createdAt, from })
    .from(creatives)
    .where(isFor(app, affiliate))
    .all();
  const promoted = new Set(rows.flatMap((r) => r.products));
  return {
    total: rows.length,
    fresh: before === null ? 0 : rows.filter((r) => Math.max(r.createdAt, r.from ?? 0) > before).length,
    kinds: creativeKinds.map((k) => ({ kind: k, count: rows.filter((r) => r.kind === k).length })),
    products: keptProducts(app)
      .filter((p) => promoted.has(p.id))
      .map((p) => ({ code: p.code, name: p.name })),
    asked: promotable(app, affiliate).map((p) => ({ code: p.code, name: p.name })),
    subjects: sorted(rows.map((r) => r.subject)),
    sizes: sorted(
      rows.map((r) => (r.width && r.height ? sizeName({ width: r.width, height: r.height }) : '')),
    ),
    languages: sorted(rows.map((r) => r.language)),
  };
}

/** A creative that an affiliate may use now, as its row. @throws Problem `not-found` for one that it may not, which is told from none by nothing */
export function ownCreative(app: App, affiliate: Id<'affiliate'>, id: Id<'creative'>): CreativeRecord {
  if (!mayUse(app, affiliate, id))
    throw new Problem(
      'not-found',
      'This is not offered to you now. Links of it that you have put somewhere lead on and earn as before.',
    );
  return creativeById(app, id);
}

/** Whether an affiliate finds a creative in its portal now. */
export const mayUse = (app: App, affiliate: Id<'affiliate'>, id: Id<'creative'>): boolean =>
  app.db
    .select({ id: creatives.id })
    .from(creatives)
    .where(and(sql`${creatives.id} = ${id}`, isFor(app, affiliate)))
    .get() !== undefined;

/** One creative as an affiliate sees it. */
export function ownRow(app: App, { affiliate, before }: Asked, row: CreativeRecord): OwnRow {
  return ownRows(app, affiliate, [row], before)[0]!;
}

import { and, eq, inArray, isNotNull, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type { CreativeRow, listCreatives, surveyCreatives } from '../../../contract/equip/creatives';
import { creativeKinds } from '../../../core/material/lists';
import { shownText } from '../../../core/material/shown';
import { readSize, sizeName } from '../../../core/material/sizes';
import { looksUnused, shareOf, unusedBefore } from '../../../core/material/used';
import { isId } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { refuse } from '../../ground/http/problem';
import { creativeProducts, creativeReaders, creatives } from '../../ground/tables/creatives';
import { creativeDays } from '../../ground/tables/totals';
import { keptProducts } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { audienceNames, audienceWords } from '../audience/audience';
import { nextPlanned } from '../planned/store';
import { dayNumber, promotedNow, resultDays, stateNow } from '../promoted/promoted';
import { contradictionsOf } from './contradict';
import { contradictingNow } from './contradicting';
import { filesShown } from './files';
import { isInState } from './states';
import type { CreativeRecord } from './store';

export type CreativeFilter = Omit<QueryOf<typeof listCreatives>, 'after' | 'limit' | 'order'>;

/** Counted clicks of a creative in the last days, as a column. */
const clicksSince = (day: number): SQL<number> =>
  sql<number>`(SELECT coalesce(sum(d.clicks), 0) FROM ${creativeDays} d WHERE d.creative = ${creatives.id} AND d.day > ${day})`;

function ofAudience(asked: NonNullable<CreativeFilter['audience']>): SQL {
  if (isId(asked, 'set', 'segment', 'affiliate'))
    return sql`EXISTS (SELECT 1 FROM ${creativeReaders} r WHERE r.creative = ${creatives.id} AND r.reader = ${asked})`;
  return sql`json_extract(${creatives.audience}, '$.kind') = ${asked}`;
}

function ofSize(typed: string): SQL {
  const size = readSize(typed);
  if (!size) throw refuse('size', `Size: “${typed}” is none`, '300x250');
  return and(eq(creatives.width, size.width), eq(creatives.height, size.height))!;
}

function foundBy(typed: string): SQL {
  const pattern = anywhere(typed);
  return or(
    ...[creatives.name, creatives.subject, creatives.texts].map((c) => sql`${c} LIKE ${pattern} ESCAPE '\\'`),
  )!;
}

const where = <T>(asked: T | undefined, condition: (asked: T) => SQL | undefined): SQL | undefined =>
  asked ? condition(asked) : undefined;

/** What nobody has used for a while, though it is on. */
function isUnused(app: App): SQL {
  const now = app.clock.now();
  const { createdAt, from, id } = creatives;
  const clicked = sql`EXISTS (SELECT 1 FROM ${creativeDays} d WHERE d.creative = ${id} AND d.day > ${dayNumber(now) - resultDays} AND d.clicks > 0)`;
  return sql`${isInState(app, 'on')} AND max(${createdAt}, coalesce(${from}, 0)) < ${unusedBefore(now)} AND NOT ${clicked}`;
}

function inState(app: App, state: NonNullable<CreativeFilter['state']>): SQL | undefined {
  if (state === 'removed') return undefined;
  if (state === 'contradicts') {
    const ids = JSON.stringify(contradictingNow(app).map((c) => c.id));
    return sql`${creatives.id} IN (SELECT value FROM json_each(${ids}))`;
  }
  return state === 'unused' ? isUnused(app) : isInState(app, state);
}

/** The conditions of a filter of the sample book. */
export function creativeWhere(app: App, filter: CreativeFilter): SQL | undefined {
  const { removedAt, kind, subject, language, id } = creatives;
  return and(
    filter.state === 'removed' ? isNotNull(removedAt) : isNull(removedAt),
    where(filter.kind, (asked) => eq(kind, asked)),
    where(
      filter.product,
      (product) =>
        sql`EXISTS (SELECT 1 FROM ${creativeProducts} p WHERE p.product = ${product} AND p.creative = ${id})`,
    ),
    where(filter.subject, (asked) => eq(subject, asked)),
    where(filter.language, (asked) => eq(language, asked)),
    where(filter.size, ofSize),
    where(filter.audience, ofAudience),
    where(filter.state, (state) => inState(app, state)),
    where(filter.q?.trim(), foundBy),
  );
}

/** A page of the sample book. */
export function listCreativesPage(
  app: App,
  { after, limit = 50, order = 'newest', ...filter }: QueryOf<typeof listCreatives>,
): ReplyOf<typeof listCreatives> {
  const clicks = clicksSince(dayNumber(app.clock.now()) - resultDays);
  const keyset = {
    by: order === 'clicks' ? clicks : creatives.createdAt,
    id: creatives.id,
    order: 'desc',
  } as const;
  const found = app.db
    .select({ row: creatives, clicks })
    .from(creatives)
    .where(and(creativeWhere(app, filter), afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [
    order === 'clicks' ? r.clicks : r.row.createdAt,
    r.row.id,
  ]);
  return {
    ...showRows(
      app,
      rows.map((r) => r.row),
    ),
    next,
  };
}

/** Creatives as a list shows them; one that cannot be read is left out and counted. */
export const showRows = (app: App, rows: readonly CreativeRecord[]) =>
  app.faults.rows('creatives', rows, drawingRows(app, rows));

/** Draws creatives as a list shows them. What all of them need is read once. */
export function drawingRows(app: App, rows: readonly CreativeRecord[]): (row: CreativeRecord) => CreativeRow {
  const promoted = promotedNow(app);
  const products = new Map(keptProducts(app).map((p) => [p.id, { id: p.id, code: p.code, name: p.name }]));
  const fileOf = filesShown(app, rows);
  const names = audienceNames(
    app,
    rows.map((r) => r.audience),
  );
  const planned = nextPlanned(
    app,
    rows.map((r) => r.id),
  );
  const contradicts = contradictionsOf(app);
  const used = usedOf(app, rows);
  const now = app.clock.now();
  return (row) => {
    const { id, kind, name, subject, from, until, active, language, createdAt, version } = row;
    const state = stateNow(app, row, promoted);
    const { clicks, orders } = used.get(id) ?? { clicks: 0, orders: 0 };
    return {
      ...{ id, kind, name, subject, from, until, active, language, createdAt, version, state },
      products: row.products.flatMap((product) => products.get(product) ?? []),
      audience: audienceWords(row.audience, names),
      file: fileOf(row.file),
      poster: fileOf(row.poster),
      shown: shownText(row.texts),
      ...{ clicks, orders },
      conversion: shareOf(orders, clicks),
      unused: looksUnused({ state, createdAt, from, clicks }, now),
      planned: planned.get(id) ?? null,
      contradicts: contradicts(row),
    };
  };
}

/** Clicks and orders of the last days. */
function usedOf(app: App, rows: readonly CreativeRecord[]): Map<string, { clicks: number; orders: number }> {
  const ids = rows.map((r) => r.id);
  if (!ids.length) return new Map();
  const since = dayNumber(app.clock.now()) - resultDays;
  const found = app.db
    .select({
      id: creativeDays.creative,
      clicks: sql<number>`sum(${creativeDays.clicks})`,
      orders: sql<number>`sum(${creativeDays.orders})`,
    })
    .from(creativeDays)
    .where(and(inArray(creativeDays.creative, ids), sql`${creativeDays.day} > ${since}`))
    .groupBy(creativeDays.creative)
    .all();
  return new Map(found.map((r) => [r.id, r]));
}

/** Subjects, languages and sizes that are in use, and how many there are of each kind. */
export function survey(app: App): ReplyOf<typeof surveyCreatives> {
  const there = isNull(creatives.removedAt);
  const kinds = app.db
    .select({ kind: creatives.kind, count: sql<number>`count(*)` })
    .from(creatives)
    .where(there)
    .groupBy(creatives.kind)
    .all();
  const sizes = app.db
    .selectDistinct({ width: creatives.width, height: creatives.height })
    .from(creatives)
    .where(and(there, isNotNull(creatives.width)))
    .orderBy(creatives.width, creatives.height)
    .all();
  return {
    total: kinds.reduce((sum, k) => sum + k.count, 0),
    kinds: creativeKinds.map((kind) => ({ kind, count: kinds.find((k) => k.kind === kind)?.count ?? 0 })),
    subjects: subjectsInUse(app),
    sizes: sizes.map(({ width, height }) => sizeName({ width: width!, height: height! })),
    languages: app.db
      .selectDistinct({ language: creatives.language })
      .from(creatives)
      .where(there)
      .orderBy(creatives.language)
      .all()
      .map((r) => r.language),
    hosts: [...theProgramme(app).landingHosts],
  };
}

/** The merchant's own short list of subjects: those that creatives have. */
export function subjectsInUse(app: App): string[] {
  return app.db
    .selectDistinct({ subject: creatives.subject })
    .from(creatives)
    .where(and(isNull(creatives.removedAt), sql`${creatives.subject} <> ''`))
    .orderBy(sql`${creatives.subject} COLLATE NOCASE`)
    .all()
    .map((r) => r.subject);
}

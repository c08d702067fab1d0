import { isDeepStrictEqual } from 'node:util';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import { keysOfAudience } from '../../../core/material/audience';
import type { CreativeFields } from '../../../core/material/creative';
import { shownSize } from '../../../core/material/sizes';
import type { Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import type { App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { creativeProducts, creativeReaders, creatives, materialFiles } from '../../ground/tables/creatives';
import { fileByHash } from './files';

export type CreativeRecord = typeof creatives.$inferSelect;

const byId = perApp((app) => rowsBy(app, creatives, ['id']));

/** @throws Problem `not-found` */
export function creativeById(app: App, id: Id<'creative'>): CreativeRecord {
  const row = byId(app).get(id);
  if (!row) throw new Problem('not-found', 'This creative does not exist');
  return row;
}

/** Whether there is one of this id. */
export const creativeMaybe = (app: App, id: Id<'creative'>): CreativeRecord | undefined => byId(app).get(id);

/** The fields that a person sets, out of a row. */
export function fieldsOf(row: CreativeRecord): CreativeFields {
  const { name, subject, products, landing, language, audience, active, from, until, note } = row;
  const { file, poster, texts } = row;
  return {
    ...{ name, subject, products, landing, language, audience, active, from, until, note },
    ...{ file, poster, ...texts },
  };
}

/** The columns that fields are kept in, with the size that follows of the file. */
function columnsOf(app: App, fields: CreativeFields) {
  const { alt, words, around, code, address, subjects, body, products, ...plain } = fields;
  const file = fields.file === null ? undefined : fileByHash(app, fields.file);
  const size = file?.width && file.height ? shownSize({ width: file.width, height: file.height }) : null;
  return {
    ...plain,
    products: [...products],
    width: size?.width ?? null,
    height: size?.height ?? null,
    texts: { alt, words, around, code, address, subjects, body },
  };
}

/** Keeps beside a creative what it is found by: its products, and who may use it. */
function keepKeys(app: App, id: Id<'creative'>, { products, audience }: CreativeFields): void {
  app.db.delete(creativeProducts).where(eq(creativeProducts.creative, id)).run();
  app.db.delete(creativeReaders).where(eq(creativeReaders.creative, id)).run();
  const promoted = products.length ? [...products] : (['programme'] as const);
  app.db
    .insert(creativeProducts)
    .values(promoted.map((product) => ({ product, creative: id })))
    .run();
  app.db
    .insert(creativeReaders)
    .values(keysOfAudience(audience).map((reader) => ({ reader, creative: id })))
    .run();
}

/** Files that a creative has are kept from then on. */
function noteUsed(app: App, { file, poster }: CreativeFields): void {
  const used = [file, poster].filter((hash) => hash !== null);
  if (!used.length) return;
  app.db
    .update(materialFiles)
    .set({ usedAt: app.clock.now() })
    .where(and(inArray(materialFiles.hash, used), isNull(materialFiles.usedAt)))
    .run();
}

/** A new creative. */
export function addCreative(
  app: App,
  fields: CreativeFields,
  row: Pick<CreativeRecord, 'id' | 'kind' | 'createdAt' | 'by'>,
): void {
  app.db
    .insert(creatives)
    .values({ ...columnsOf(app, fields), ...row })
    .run();
  keepKeys(app, row.id, fields);
  noteUsed(app, fields);
  touch(app, 'records');
}

/** Changes a creative: the version grows, so that a form that is open finds out. Links lead by what it says now. */
export function changeCreative(app: App, row: CreativeRecord, fields: CreativeFields): void {
  app.db
    .update(creatives)
    .set({ ...columnsOf(app, fields), version: row.version + 1 })
    .where(eq(creatives.id, row.id))
    .run();
  noteUsed(app, fields);
  if (!isDeepStrictEqual([row.products, row.audience], [fields.products, fields.audience]))
    keepKeys(app, row.id, fields);
  touch(app, 'records');
}

/** Takes a creative out of the sample book, or back into it. */
export function putAway(app: App, row: CreativeRecord, removedAt: number | null): void {
  app.db
    .update(creatives)
    .set({ removedAt, version: row.version + 1 })
    .where(eq(creatives.id, row.id))
    .run();
  touch(app, 'records');
}

import { and, eq, isNull } from 'drizzle-orm';
import sharp from 'sharp';
import type { ProductOut } from '../../../contract/setup/products';
import { isId, type Id } from '../../../core/text/id';
import { touch } from '../../ground/cache';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem, refuse } from '../../ground/http/problem';
import type { Site } from '../../ground/http/site';
import { hash } from '../../ground/seal';
import { files } from '../../ground/tables/catalogue';
import { record } from '../access/audit';
import { detailsOf } from './details';
import { pictureOf } from './picture';
import { productByCode, productById, type ProductRecord } from './store';

type FileRecord = typeof files.$inferSelect;
type Use = FileRecord['use'];

/** Longer side of a kept picture: enough for a page, small enough for a list. */
const side = 640;
const formats = new Set(['jpeg', 'png', 'gif', 'webp']);
const logoFormats = new Set(['jpeg', 'gif', 'png']);

const facts = ['id', 'product', 'name', 'type', 'size', 'hash', 'at'] as const;
type Facts = Pick<FileRecord, (typeof facts)[number]>;

// asked for with every order and every picture
const filesOf = perApp((app) =>
  rowsBy(app, files, ['product', 'use', 'removedAt'], { only: facts, maybe: ['product', 'removedAt'] }),
);

/** What a product, or the programme (null), has of a use now, without its content. */
export function fileOf(app: App, product: Id<'product'> | null, use: Use): Facts | undefined {
  return filesOf(app).get(product, use, null);
}

export function shownFile(app: App, product: Id<'product'>): ProductOut['file'] {
  const file = fileOf(app, product, 'delivery');
  return file ? { name: file.name, size: file.size, at: file.at } : null;
}

export function fileNeed(
  app: App,
  row: Pick<ProductRecord, 'id' | 'details'>,
): { needsFile: boolean; hasFile: boolean } {
  const needsFile = detailsOf(row).delivery === 'file';
  return { needsFile, hasFile: needsFile && fileOf(app, row.id, 'delivery') !== undefined };
}

/** Address of a product's picture: its own, or the one made from its code. */
export function pictureAddress(app: App, row: Pick<ProductRecord, 'id' | 'code'>): string {
  const own = fileOf(app, row.id, 'picture');
  return own ? `/pictures/${own.id}.webp` : `/pictures/${row.code}.svg`;
}

/** A file name without what a path or a header could stumble over. */
export function plainName(name: string): string {
  const bare = name
    .split(/[\\/]/)
    .pop()!
    .normalize('NFC')
    .replace(/[\u0000-\u001f\u007f"<>|:*?]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 120);
  return bare.replace(/^\.+/, '') || 'file';
}

function keep(
  app: App,
  actor: Actor,
  {
    product,
    use,
    file,
  }: { product: Id<'product'> | null; use: Use; file: { name: string; type: string; content: Buffer } },
): void {
  const digest = hash(file.content);
  const before = fileOf(app, product, use);
  if (before?.hash === digest && before.name === file.name) return;
  const now = app.clock.now();
  if (before) app.db.update(files).set({ removedAt: now }).where(eq(files.id, before.id)).run();
  app.db
    .insert(files)
    .values({
      id: newId('file'),
      product,
      use,
      ...file,
      size: file.content.length,
      hash: digest,
      at: now,
      by: actor.id,
      removedAt: null,
    })
    .run();
  record(app, actor, use === 'delivery' ? 'file-set' : `${use}-set`, {
    subject: product ?? 'programme',
    before: before ? { name: before.name, size: before.size } : null,
    after: { name: file.name, size: file.content.length },
  });
  touch(app, 'records');
}

function existing(app: App, id: Id<'product'>): ProductRecord {
  const row = productById(app, id);
  if (!row) throw new Problem('not-found', 'This product does not exist');
  return row;
}

/** Reads a picture by its bytes, whatever its name says; turned upright, no larger than needed, without what the camera noted. @throws Problem `invalid` */
async function readPicture(
  bytes: Buffer,
  {
    name,
    field,
    title,
    accepted,
  }: { name: string; field: string; title: string; accepted: ReadonlySet<string> },
): Promise<Buffer> {
  const said = `${title}: ${plainName(name)}`;
  const picture = sharp(bytes, { limitInputPixels: 50_000_000, failOn: 'error' });
  const {
    format,
    width = 0,
    height = 0,
  } = await picture.metadata().catch((): { format?: string; width?: number; height?: number } => ({}));
  const names = [...accepted].map((f) => (f === 'webp' ? 'WebP' : f.toUpperCase()));
  if (!format || !accepted.has(format))
    throw refuse(
      field,
      `${said} is no picture in ${names.slice(0, -1).join(', ')} or ${names.at(-1)!}`,
      'wheel.jpg',
    );
  if (width < 64 || height < 64)
    throw refuse(
      field,
      `${said} is ${width} by ${height}: at least 64 by 64 are needed`,
      'one of 640 by 640',
    );
  return picture
    .rotate()
    .resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 84 })
    .toBuffer()
    .catch((cause: unknown) => {
      throw refuse(
        field,
        `${said} is broken: ${cause instanceof Error ? cause.message.split('\n')[0]! : 'it cannot be read'}`,
        'wheel.jpg',
      );
    });
}

/** Keeps a picture of a product. */
export async function setPicture(
  app: App,
  actor: Actor,
  id: Id<'product'>,
  { name, bytes }: { name: string; bytes: Buffer },
): Promise<void> {
  existing(app, id);
  const content = await readPicture(bytes, { name, field: 'picture', title: 'Picture', accepted: formats });
  app.transaction(() =>
    keep(app, actor, {
      product: id,
      use: 'picture',
      file: { name: plainName(name), type: 'image/webp', content },
    }),
  );
}

/** Keeps the programme's logo. */
export async function setLogo(app: App, actor: Actor, name: string, bytes: Buffer): Promise<void> {
  const content = await readPicture(bytes, { name, field: 'logo', title: 'Logo', accepted: logoFormats });
  app.transaction(() =>
    keep(app, actor, {
      product: null,
      use: 'logo',
      file: { name: plainName(name), type: 'image/webp', content },
    }),
  );
}

/** Address of the logo, or null where there is none. */
export function logoAddress(app: App): string | null {
  const logo = fileOf(app, null, 'logo');
  return logo ? `/pictures/${logo.id}.webp` : null;
}

function drop(app: App, actor: Actor, product: Id<'product'> | null, use: 'picture' | 'logo'): void {
  const before = fileOf(app, product, use);
  if (!before) return;
  app.db.update(files).set({ removedAt: app.clock.now() }).where(eq(files.id, before.id)).run();
  record(app, actor, `${use}-removed`, {
    subject: product ?? 'programme',
    before: { name: before.name },
    after: null,
  });
  touch(app, 'records');
}

export function dropLogo(app: App, actor: Actor): void {
  drop(app, actor, null, 'logo');
}

export function dropPicture(app: App, actor: Actor, id: Id<'product'>): void {
  existing(app, id);
  drop(app, actor, id, 'picture');
}

/** Keeps the file that buyers of a product get. */
export function setFile(
  app: App,
  actor: Actor,
  id: Id<'product'>,
  { name, bytes }: { name: string; bytes: Buffer },
): void {
  existing(app, id);
  app.transaction(() =>
    keep(app, actor, {
      product: id,
      use: 'delivery',
      file: {
        name: plainName(name),
        type: 'application/octet-stream',
        content: bytes,
      },
    }),
  );
}

/** Gives a copy of a product the files of the first. */
export function copyFiles(app: App, actor: Actor, from: Id<'product'>, to: Id<'product'>): void {
  const rows = app.db
    .select()
    .from(files)
    .where(and(eq(files.product, from), isNull(files.removedAt)))
    .all();
  for (const row of rows)
    app.db
      .insert(files)
      .values({ ...row, id: newId('file'), product: to, at: app.clock.now(), by: actor.id })
      .run();
}

/** The content of a product's file as it is now. */
export function contentOf(app: App, id: Id<'file'>): FileRecord | undefined {
  return app.db.select().from(files).where(eq(files.id, id)).get();
}

/** Serves pictures to anybody: an own one never changes under its address, a generated one follows the name. */
export function pictureRoutes(site: Site): void {
  const { server, app } = site;
  server.get('/pictures/:name', (req, res) => {
    const [, stem = '', kind] = /^([A-Za-z0-9_-]{1,60})\.(webp|svg)$/.exec(req.params.name) ?? [];
    res.set({ 'cross-origin-resource-policy': 'cross-origin', 'x-content-type-options': 'nosniff' });
    if (kind === 'webp') {
      const file = isId(stem, 'file') && contentOf(app, stem);
      if (file && file.use !== 'delivery')
        return res
          .set('cache-control', 'public, max-age=31536000, immutable')
          .type('image/webp')
          .send(file.content);
    }
    const product = kind === 'svg' ? productByCode(app, stem) : undefined;
    if (!product) throw new Problem('not-found', 'There is no such picture');
    return res
      .set('cache-control', 'public, max-age=3600')
      .type('image/svg+xml')
      .send(pictureOf(product.code, product.name));
  });
}

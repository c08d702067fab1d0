import { webcrypto } from 'node:crypto';
import { eq, inArray } from 'drizzle-orm';
import sharp from 'sharp';
import { largestBanner, type FileOut } from '../../../contract/equip/material';
import { foundIn, foundWords, isMovingPng, type Found } from '../../../core/material/found';
import { readMp4 } from '../../../core/material/mp4';
import { sizeInWords, tooLargeInWords } from '../../../core/text/plain';
import type { Actor, App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem, refuse } from '../../ground/http/problem';
import { atMost } from '../../ground/http/turns';
import { materialFiles } from '../../ground/tables/creatives';
import { plainName } from '../../registers/catalogue/files';

export type MaterialFile = typeof materialFiles.$inferSelect;

const mostPixels = 40_000_000;
/** from so many bytes on, a picture is said to be heavy */
const heavy = 1024 * 1024;
/** pixels of all pictures of a moving one, up to which it is tried as WebP */
const mostMovingPixels = 120_000_000;

const formats: Record<string, { type: string; extension: string; name: string }> = {
  png: { type: 'image/png', extension: 'png', name: 'PNG' },
  jpeg: { type: 'image/jpeg', extension: 'jpg', name: 'JPEG' },
  gif: { type: 'image/gif', extension: 'gif', name: 'GIF' },
  webp: { type: 'image/webp', extension: 'webp', name: 'WebP' },
  avif: { type: 'image/avif', extension: 'avif', name: 'AVIF' },
  mp4: { type: 'video/mp4', extension: 'mp4', name: 'MP4' },
};
const byType = new Map(Object.values(formats).map((format) => [format.type, format]));

const files = perApp((app) => rowsBy(app, materialFiles, ['hash']));

/** What is known of an uploaded file; undefined where there is none of that digest. */
export function fileByHash(app: App, hash: string): MaterialFile | undefined {
  return files(app).get(hash);
}

/** Several at once, by digest. */
function filesByHash(app: App, hashes: readonly (string | null)[]): Map<string, MaterialFile> {
  const wanted = [...new Set(hashes.filter((hash) => hash !== null))];
  if (!wanted.length) return new Map();
  const rows = app.db.select().from(materialFiles).where(inArray(materialFiles.hash, wanted)).all();
  return new Map(rows.map((row) => [row.hash, row]));
}

/** How a file ends where it is read: “png”. */
export const extensionOf = (type: string): string => byType.get(type)?.extension ?? 'bin';

/** A file as it is shown, with the address where anybody reads it. */
export function showFile(app: App, row: MaterialFile): FileOut {
  return {
    hash: row.hash,
    url: `${app.address}/material/${row.hash}.${extensionOf(row.type)}`,
    type: row.type,
    format: byType.get(row.type)?.name ?? row.type,
    bytes: row.bytes,
    width: row.width,
    height: row.height,
    moving: row.moving,
    seconds: row.seconds,
    asWebp: row.asWebp,
  };
}

/** The files of some creatives as they are shown, by digest; null where there is none. Read once for all. */
export function filesShown(
  app: App,
  rows: readonly { file: string | null; poster: string | null }[],
): (hash: string | null) => FileOut | null {
  const files = filesByHash(
    app,
    rows.flatMap((r) => [r.file, r.poster]),
  );
  return (hash) => {
    const file = hash === null ? undefined : files.get(hash);
    return file ? showFile(app, file) : null;
  };
}

/** A digest, beside the serving thread: of 25 MB it takes longer than redirects may wait. */
async function digestOf(content: Buffer): Promise<string> {
  const digest = await webcrypto.subtle.digest('SHA-256', new Uint8Array(content));
  return Buffer.from(digest).toString('hex');
}

type Facts = Pick<MaterialFile, 'type' | 'width' | 'height' | 'moving' | 'seconds' | 'asWebp'>;

function notTaken(name: string, found: Found): Problem {
  return refuse(
    'file',
    `${plainName(name)} is ${foundWords[found]}: banners are PNG, JPEG, GIF, WebP or AVIF, videos MP4`,
    'box-blue.png',
  );
}

const firstLine = (thrown: unknown) =>
  thrown instanceof Error ? thrown.message.split('\n')[0]! : 'it cannot be read';

/** Bytes of a picture as WebP; null where trying would take too long, or it is WebP or AVIF already. */
async function webpSize(bytes: Buffer, pixels: number, type: string): Promise<number | null> {
  if (bytes.length <= heavy || pixels > mostMovingPixels || type === 'image/webp' || type === 'image/avif')
    return null;
  const copy = await asWebp(bytes);
  return copy.length < bytes.length ? copy.length : null;
}

const asWebp = (bytes: Buffer): Promise<Buffer> =>
  sharp(bytes, { animated: true, limitInputPixels: mostMovingPixels }).webp({ quality: 84 }).toBuffer();

/** Reads a picture whole, so that a broken one is found. @throws Problem `invalid` */
async function readPicture(name: string, bytes: Buffer, found: Found): Promise<Facts> {
  const said = plainName(name);
  if (bytes.length > largestBanner)
    throw refuse(
      'file',
      `${said} has ${tooLargeInWords(bytes.length, largestBanner)}: a banner may have ${sizeInWords(largestBanner)}`,
      'one of 200 KB',
    );
  const picture = sharp(bytes, { limitInputPixels: false, failOn: 'error' });
  const facts = await picture.metadata().catch((thrown: unknown) => {
    throw refuse('file', `${said} is broken: ${firstLine(thrown)}`, 'box-blue.png');
  });
  const { width, height, pages = 1, orientation = 1 } = facts;
  if (width * height > mostPixels)
    throw refuse(
      'file',
      `${said} is ${width} by ${height}, ${Math.round((width * height) / 1e6)} megapixels: at most 40 are taken`,
      'one of 1200 by 628',
    );
  await sharp(bytes, { limitInputPixels: mostPixels, failOn: 'error' })
    .stats()
    .catch((thrown: unknown) => {
      throw refuse('file', `${said} is broken: ${firstLine(thrown)}`, 'box-blue.png');
    });
  const { type } = formats[found]!;
  const turned = orientation >= 5;
  return {
    type,
    width: turned ? height : width,
    height: turned ? width : height,
    moving: pages > 1 || (found === 'png' && isMovingPng(bytes)),
    seconds: null,
    asWebp: await webpSize(bytes, width * height * pages, type).catch(() => null),
  };
}

function readVideo(name: string, bytes: Buffer): Facts {
  const read = readMp4(bytes);
  if (!read.ok)
    throw refuse('file', `${plainName(name)} cannot be taken as a video: ${read.why}`, 'first-pot.mp4');
  return { type: 'video/mp4', ...read.facts, moving: true, asWebp: null };
}

/** Some at once: each is decoded whole, which takes memory. */
const inLine = atMost(
  2,
  40,
  () => new Problem('too-many', 'Many files are being looked at; try again in a moment'),
);

async function factsOf(name: string, bytes: Buffer): Promise<Facts> {
  const found = foundIn(bytes);
  if (found === 'mp4') return readVideo(name, bytes);
  if (!formats[found]) throw notTaken(name, found);
  return readPicture(name, bytes, found);
}

async function keep(app: App, actor: Actor, bytes: Buffer, facts: Facts): Promise<MaterialFile> {
  const hash = await digestOf(bytes);
  // what is uploaded once more is not swept away while it is
  app.db.update(materialFiles).set({ at: app.clock.now() }).where(eq(materialFiles.hash, hash)).run();
  await app.uploads.keep(hash, bytes);
  app.transaction(() =>
    app.db
      .insert(materialFiles)
      .values({ hash, bytes: bytes.length, ...facts, at: app.clock.now(), by: actor.id })
      .onConflictDoNothing()
      .run(),
  );
  return fileByHash(app, hash)!;
}

/** Takes an upload: what it is, is read from its content. @throws Problem `invalid` with what was found */
export async function takeFile(
  app: App,
  actor: Actor,
  { name, bytes }: { name: string; bytes: Buffer },
): Promise<FileOut> {
  const facts = await inLine(() => factsOf(name, bytes));
  return showFile(app, await keep(app, actor, bytes, facts));
}

/** A copy of a picture as WebP. @throws Problem `not-found`, `conflict` where it would not be lighter */
export async function lighten(
  app: App,
  actor: Actor,
  hash: string,
  read: (path: string) => Promise<Buffer>,
): Promise<FileOut> {
  const row = fileByHash(app, hash);
  if (!row) throw new Problem('not-found', 'There is no such file');
  if (!row.type.startsWith('image/') || row.type === 'image/webp')
    throw new Problem('conflict', 'Only a picture in another format than WebP can be made lighter');
  const bytes = await read(app.uploads.pathOf(hash));
  const copy = await inLine(() => asWebp(bytes));
  if (copy.length >= row.bytes)
    throw new Problem('conflict', 'As WebP it would not be lighter: keep it as it is');
  const facts: Facts = { ...row, type: 'image/webp', asWebp: null };
  const { type, width, height, moving, seconds, asWebp: lighter } = facts;
  return showFile(
    app,
    await keep(app, actor, copy, { type, width, height, moving, seconds, asWebp: lighter }),
  );
}

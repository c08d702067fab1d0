import { chmodSync, copyFileSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import Database from 'better-sqlite3';
import { counted } from '../../../core/text/counted';
import { readSealKey, sealWith } from '../seal';
import { copyMaterial, hasMaterial, materialFolder } from './material-copy';
import { knownMigrations } from './migrations';

/** The second file of a backup: the key that the secrets in the first are sealed with. */
export const sealOf = (file: string) => `${file}.seal`;
/** The folder of a backup with what creatives are made of. */
export const materialOf = (file: string) => `${file}.material`;
const dataFile = 'gravenel.sqlite';
const sealFile = 'seal.key';

/** What a backup holds and what has to be kept beside it, as sentences. */
export interface BackupReport {
  said: string[];
}

/**
 * Copies a database that may be in use, the seal key as a second file, and what creatives are made of as a folder; all are for their owner alone.
 * @param data the data folder @param sealInEnvironment true where the key is not a file @throws Error with a sentence
 */
export async function backUp(data: string, file: string, sealInEnvironment: boolean): Promise<BackupReport> {
  const source = join(data, dataFile);
  const target = resolve(file);
  if (!existsSync(source)) throw new Error(`There is no database at ${source}`);
  for (const path of [target, sealOf(target), materialOf(target)])
    if (existsSync(path)) throw new Error(`${path} exists already; a backup is never written over`);
  if (!existsSync(dirname(target)))
    throw new Error(`There is no folder ${dirname(target)} to write the backup into`);
  const db = new Database(source, { readonly: true });
  try {
    await db.backup(target);
    chmodSync(target, 0o600);
    closeCopy(target);
  } catch (fault) {
    rmSync(target, { force: true });
    throw new Error(`The copy could not be made: ${fault instanceof Error ? fault.message : String(fault)}`);
  } finally {
    db.close();
  }
  const said = [`Copied to ${target}, whole.`];
  // after the data: what it names was brought to the disk before it named it
  const count = copyMaterial(join(data, materialFolder), materialOf(target));
  if (count) said.push(`What creatives are made of, ${counted(count, 'file')}, is in ${materialOf(target)}.`);
  if (sealInEnvironment)
    said.push(
      'The seal key is in GRAVENEL_SEAL and not in this copy: keep it where you keep your secrets. Without it the signing keys have to be made anew.',
    );
  else {
    copyFileSync(join(data, sealFile), sealOf(target));
    chmodSync(sealOf(target), 0o600);
    said.push(
      `The seal key is in ${sealOf(target)}. Whoever has both files has every signing secret: keep them apart from others, and together for restoring.`,
    );
  }
  return { said };
}

/** Makes a copy one file without a log beside it, and sees that it is whole. */
function closeCopy(file: string): void {
  const copy = new Database(file);
  const whole = copy.pragma('integrity_check', { simple: true });
  copy.pragma('journal_mode = DELETE');
  copy.close();
  if (whole !== 'ok') throw new Error(String(whole));
}

interface Looked {
  migrations: number;
  keys: { id: string; secret: string }[];
  /** digests of what creatives show; a copy of before creatives has none */
  shown: string[];
}

function look(file: string): Looked {
  let db: Database.Database | null = null;
  try {
    db = new Database(file, { readonly: true, fileMustExist: true });
    if (db.pragma('integrity_check', { simple: true }) !== 'ok') throw new Error('damaged');
    const migrations = db.prepare<[], { n: number }>('SELECT count(*) AS n FROM __drizzle_migrations').get()!
      .n;
    const keys = db.prepare<[], { id: string; secret: string }>('SELECT id, secret FROM keys').all();
    return { migrations, keys, shown: shownIn(db) };
  } catch {
    throw new Error(
      `${file} is no whole copy of Gravenel’s data: it cannot be restored. Nothing was changed.`,
    );
  } finally {
    db?.close();
  }
}

function shownIn(db: Database.Database): string[] {
  const isThere = db.prepare("SELECT 1 FROM sqlite_master WHERE name = 'creatives'").get();
  if (!isThere) return [];
  return db
    .prepare<[], string>(
      'SELECT file FROM creatives WHERE file IS NOT NULL UNION SELECT poster FROM creatives WHERE poster IS NOT NULL',
    )
    .pluck()
    .all();
}

/** True where another process has the database open. A damaged file tells nothing, and nobody can work with it. */
function inUse(file: string): boolean {
  if (!existsSync(file)) return false;
  let db: Database.Database | null = null;
  try {
    db = new Database(file, { timeout: 200 });
    db.pragma('locking_mode = EXCLUSIVE');
    db.exec('BEGIN EXCLUSIVE; ROLLBACK;');
    return false;
  } catch (fault) {
    return (fault as { code?: string }).code === 'SQLITE_BUSY';
  } finally {
    db?.close();
  }
}

const parts = (data: string) =>
  existsSync(data) ? readdirSync(data).filter((n) => n.startsWith(dataFile) || n === sealFile) : [];

/** Keys whose secrets a seal does not open. */
function unreadable(keys: Looked['keys'], sealKey: Buffer): string[] {
  const seal = sealWith(sealKey);
  return keys
    .filter(({ secret }) => {
      try {
        seal.open(secret);
        return false;
      } catch {
        return true;
      }
    })
    .map((k) => k.id);
}

/** @returns what the backup has @throws Error with a sentence where it cannot be restored */
function checkRestoring(source: string, data: string, migrations: string): Looked {
  if (!existsSync(source)) throw new Error(`There is no file ${source}`);
  const looked = look(source);
  if (looked.migrations > knownMigrations(migrations))
    throw new Error(
      `${source} was made by a newer version of Gravenel; update before you restore it. Nothing was changed.`,
    );
  if (inUse(join(data, dataFile)))
    throw new Error(`A server is running on ${data}: stop it before you restore. Nothing was changed.`);
  return looked;
}

/**
 * Puts a backup into a data folder. What was there is moved aside, never written over.
 * @param migrations folder of this version's migrations @param sealInEnvironment the key, where it is not a file @returns what was done, and what has to be done
 * @throws Error with a sentence; nothing was changed then
 */
export function restore(
  data: string,
  file: string,
  {
    migrations,
    sealInEnvironment,
    now = new Date(),
  }: { migrations: string; sealInEnvironment: string | undefined; now?: Date | undefined },
): string[] {
  const source = resolve(file);
  const { keys, shown } = checkRestoring(source, data, migrations);
  const seal = existsSync(sealOf(source)) ? sealOf(source) : null;
  if (seal) readSealKey(seal, undefined);
  mkdirSync(data, { recursive: true, mode: 0o700 });
  const said: string[] = [];
  const old = parts(data).filter((n) => n !== sealFile || seal !== null);
  if (old.length) {
    const aside = join(data, `before-restore-${now.toISOString().replace(/[:.]/g, '-')}`);
    mkdirSync(aside, { mode: 0o700 });
    for (const name of old) renameSync(join(data, name), join(aside, name));
    said.push(`What was there is in ${aside}.`);
  }
  place(source, join(data, dataFile));
  if (seal) place(seal, join(data, sealFile));
  said.unshift(`Restored ${basename(source)} into ${data}.`);
  said.push(...placeMaterial(source, data, shown));
  const lost =
    sealInEnvironment !== undefined || existsSync(join(data, sealFile))
      ? unreadable(keys, readSealKey(join(data, sealFile), sealInEnvironment))
      : keys.map((k) => k.id);
  if (lost.length)
    said.push(
      `The secrets of these keys cannot be read with the seal key that is there: ${lost.join(', ')}. Bring its ${basename(sealOf(source))} beside the backup and restore again, or make their secrets anew on the Connection page.`,
    );
  return said;
}

/** Brings back what creatives are made of. @param shown digests of what they show @returns what was done, and what is missing */
function placeMaterial(source: string, data: string, shown: readonly string[]): string[] {
  const count = copyMaterial(materialOf(source), join(data, materialFolder));
  const gone = shown.filter((hash) => !hasMaterial(join(data, materialFolder), hash));
  return [
    ...(count ? [`What creatives are made of, ${counted(count, 'file')}, is there again.`] : []),
    ...(gone.length
      ? [
          `${counted(gone.length, 'file')} that creatives show ${gone.length === 1 ? 'is' : 'are'} not there: bring ${basename(materialOf(source))} beside the backup and restore again, or upload them anew.`,
        ]
      : []),
  ];
}

/** Copies beside its place first: a copy that breaks off leaves nothing half written there. */
function place(from: string, to: string): void {
  const making = `${to}.restoring`;
  copyFileSync(from, making);
  chmodSync(making, 0o600);
  renameSync(making, to);
}

import { copyFileSync, existsSync } from 'node:fs';
import Database from 'better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { machineFault } from '../http/problem';
import { knownMigrations } from './migrations';
import { type Db, type Sqlite } from './sqlite';
import { keepingStatements } from './statements';

export interface Store {
  db: Db;
  sqlite: Sqlite;
  /** Runs `work` in one immediate transaction; inside another it is a savepoint of it. */
  transaction: <T>(work: () => T) => T;
  /** The same for one piece of work that would be done again if a power cut took it: its commit does not wait for the disk, a later one does for both. */
  repeatable: <T>(work: () => T) => T;
  close: () => void;
}

/** How many migrations a data file has had. @throws Error for one that a newer version wrote */
function pendingMigrations(sqlite: Sqlite, folder: string): boolean {
  const known = knownMigrations(folder);
  if (
    !sqlite
      .prepare<[], { n: number }>(
        "SELECT count(*) AS n FROM sqlite_master WHERE name = '__drizzle_migrations'",
      )
      .get()!.n
  )
    return true;
  const { n } = sqlite.prepare<[], { n: number }>('SELECT count(*) AS n FROM __drizzle_migrations').get()!;
  if (n > known)
    throw new Error(
      'The data file was written by a newer version of Gravenel. Update, or bring back a backup that this version made: npm run restore -- FILE',
    );
  return n < known;
}

/** Opens the file itself, so far that a damaged one is known. @throws Error with a sentence that names the file and what to do */
function openFile(file: string | Buffer): Sqlite {
  try {
    const sqlite = new Database(file);
    sqlite.pragma('journal_mode = WAL');
    sqlite.prepare('SELECT count(*) FROM sqlite_master').get();
    return sqlite;
  } catch (fault) {
    throw new Error(
      `The data file ${file} cannot be opened. ${machineFault(fault) ?? (fault instanceof Error ? fault.message : String(fault))}`,
      { cause: fault },
    );
  }
}

/** Inside another transaction it is that one's commit that counts. */
function withoutDisk<T>(sqlite: Sqlite, work: () => T): T {
  if (sqlite.inTransaction) return work();
  const before = sqlite.pragma('synchronous', { simple: true }) as number;
  sqlite.pragma('synchronous = NORMAL');
  try {
    return work();
  } finally {
    sqlite.pragma(`synchronous = ${before}`);
  }
}

/** Pages in the log, 64 MB, at which a commit brings them into the data file itself: the last of them only, as long as the thread runs. */
const latestCheckpoint = 16_000;

/**
 * Opens the data file and brings it to the present schema, after a backup copy of one that is older.
 * @param file path, ":memory:", or the bytes of a data file, which is then kept in memory @param migrations folder of the checked-in migrations
 */
export function openStore(file: string | Buffer, migrations: string): Store {
  const existed = typeof file === 'string' && file !== ':memory:' && existsSync(file);
  const sqlite = openFile(file);
  sqlite.pragma('synchronous = FULL');
  sqlite.pragma('foreign_keys = ON');
  sqlite.pragma('busy_timeout = 5000');
  sqlite.pragma('cache_size = -64000');
  // a thread does it sooner: see checkpoints.ts
  sqlite.pragma(`wal_autocheckpoint = ${latestCheckpoint}`);
  const db = drizzle(keepingStatements(sqlite));
  if (pendingMigrations(sqlite, migrations)) {
    if (existed) {
      sqlite.pragma('wal_checkpoint(TRUNCATE)');
      copyFileSync(file, `${file}.before-migration`);
    }
    migrate(db, { migrationsFolder: migrations });
  }
  // what a savepoint takes back is kept in memory, not in a file of its own; what a migration sorts is not
  sqlite.pragma('temp_store = MEMORY');
  const wrapped = sqlite.transaction((work: () => unknown) => work());
  const transaction = <T>(work: () => T) => wrapped.immediate(work) as T;
  return {
    db,
    sqlite,
    transaction,
    repeatable: (work) => withoutDisk(sqlite, () => transaction(work)),
    close: () => sqlite.close(),
  };
}

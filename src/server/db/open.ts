import Database from 'better-sqlite3';
import type { BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { copyFileSync, existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as schema from './schema';

export type Db = BetterSQLite3Database<typeof schema>;
export type Sqlite = Database.Database;

export interface Store {
  db: Db;
  sqlite: Sqlite;
  /** Runs `work` in one immediate transaction; inside another it is a savepoint of it. */
  transaction: <T>(work: () => T) => T;
  close: () => void;
}

function pendingMigrations(sqlite: Sqlite, folder: string): boolean {
  const journal = JSON.parse(readFileSync(join(folder, 'meta/_journal.json'), 'utf8')) as { entries: unknown[] };
  const known = sqlite.prepare("SELECT count(*) AS n FROM sqlite_master WHERE name = '__drizzle_migrations'").get() as { n: number };
  if (!known.n) return true;
  const done = sqlite.prepare('SELECT count(*) AS n FROM __drizzle_migrations').get() as { n: number };
  return done.n < journal.entries.length;
}

/**
 * Opens the data file and brings it to the present schema, after a backup copy of one that is older.
 * @param file path, or ":memory:" @param migrations folder of the checked-in migrations
 */
export function openStore(file: string, migrations: string): Store {
  const existed = file !== ':memory:' && existsSync(file);
  const sqlite = new Database(file);
  sqlite.pragma('journal_mode = WAL');
  sqlite.pragma('synchronous = FULL');
  sqlite.pragma('foreign_keys = ON');
  sqlite.pragma('busy_timeout = 5000');
  sqlite.pragma('cache_size = -64000');
  const db = drizzle(sqlite, { schema });
  if (pendingMigrations(sqlite, migrations)) {
    if (existed) {
      sqlite.pragma('wal_checkpoint(TRUNCATE)');
      copyFileSync(file, `${file}.before-migration`);
    }
    migrate(db, { migrationsFolder: migrations });
  }
  const wrapped = sqlite.transaction((work: () => unknown) => work());
  return { db, sqlite, transaction: <T>(work: () => T) => wrapped.immediate(work) as T, close: () => sqlite.close() };
}

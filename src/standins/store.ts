import Database from 'better-sqlite3';

export type StandinDb = Database.Database;

/** The stand-ins' own file: they are outside services and share nothing with Gravenel's data. */
export function openStandins(file: string): StandinDb {
  const db = new Database(file);
  db.pragma('journal_mode = WAL');
  db.exec(`
    CREATE TABLE IF NOT EXISTS switches (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS mails (id TEXT PRIMARY KEY, at INTEGER NOT NULL, recipient TEXT NOT NULL, subject TEXT NOT NULL, body TEXT NOT NULL, eml TEXT NOT NULL) STRICT;
    CREATE INDEX IF NOT EXISTS mails_at ON mails (at);
    CREATE TABLE IF NOT EXISTS shelf (code TEXT PRIMARY KEY, name TEXT NOT NULL, price TEXT NOT NULL, currency TEXT NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS purchases (reference TEXT PRIMARY KEY, at INTEGER NOT NULL, product TEXT NOT NULL, name TEXT NOT NULL, quantity INTEGER NOT NULL, amount TEXT NOT NULL, currency TEXT NOT NULL,
      buyer TEXT NOT NULL, visit TEXT, placed_at TEXT NOT NULL, reports TEXT NOT NULL, picture TEXT, waiting INTEGER NOT NULL, refunds TEXT NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS coupons (code TEXT PRIMARY KEY, off TEXT NOT NULL, refused INTEGER NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS subscriptions (reference TEXT PRIMARY KEY, purchase TEXT NOT NULL, product TEXT NOT NULL, started_at INTEGER NOT NULL, number INTEGER NOT NULL, buyer TEXT NOT NULL, ended INTEGER NOT NULL DEFAULT 0) STRICT;
    CREATE TABLE IF NOT EXISTS bank_files (id TEXT PRIMARY KEY, name TEXT NOT NULL, at INTEGER NOT NULL, xml TEXT NOT NULL, lines TEXT NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS registry_own (id TEXT PRIMARY KEY, partner TEXT NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS registry_kept (ref TEXT PRIMARY KEY, kind TEXT NOT NULL, at INTEGER NOT NULL, data TEXT NOT NULL, state TEXT NOT NULL, said INTEGER NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS registry_events (number INTEGER PRIMARY KEY, at INTEGER NOT NULL, data TEXT NOT NULL) STRICT;
    CREATE TABLE IF NOT EXISTS bank_reports (id INTEGER PRIMARY KEY, file TEXT NOT NULL, name TEXT NOT NULL, xml TEXT NOT NULL) STRICT;
  `);
  return db;
}

/** A switch of a stand-in, "" if it was never set. */
export function readSwitch(db: StandinDb, name: string): string {
  return (
    (db.prepare('SELECT value FROM switches WHERE name = ?').pluck().get(name) as string | undefined) ?? ''
  );
}

export function setSwitch(db: StandinDb, name: string, value: string): void {
  db.prepare(
    'INSERT INTO switches (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value',
  ).run(name, value);
}

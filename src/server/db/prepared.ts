import { getTableColumns, sql } from 'drizzle-orm';
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { App } from '../context';

/**
 * Statements that are built once for each App. A query that is built anew for each call takes ten to twenty times as long,
 * so what tracking does for every visit and order is prepared here.
 */
export function perApp<T>(build: (app: App) => T): (app: App) => T {
  const made = new WeakMap<App, T>();
  return (app) => {
    let found = made.get(app);
    if (found === undefined) made.set(app, (found = build(app)));
    return found;
  };
}

/** A prepared insert of whole rows: every column must be given, null where there is nothing. */
export function insertion<T extends SQLiteTable>(app: App, table: T): { run: (row: T['$inferSelect']) => void } {
  const values = Object.fromEntries(Object.keys(getTableColumns(table)).map((name) => [name, sql.placeholder(name)]));
  const statement = app.db.insert(table).values(values as T['$inferInsert']).prepare();
  return { run: (row) => { statement.run(row as Record<string, unknown>); } };
}

/** A value given when a prepared statement runs. */
export const given = (name: string) => sql.placeholder(name);

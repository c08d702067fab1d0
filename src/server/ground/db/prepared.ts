import { getTableColumns, getTableName, type Column } from 'drizzle-orm';
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

const quoted = (name: string) => `"${name}"`;

/** Booleans, JSON and reasons are kept otherwise than they are handed over; all other values go through as they are. */
const isConverted = (column: Column) => ['json', 'boolean', 'custom'].includes(column.dataType);

type Row = Record<string, unknown>;
type Key<T extends SQLiteTable> = keyof T['$inferSelect'] & string;
type Values<T extends SQLiteTable, K extends readonly Key<T>[]> = { [I in keyof K]: T['$inferSelect'][K[I]] };

const valueFor = (column: Column, value: unknown) =>
  value !== null && isConverted(column) ? column.mapToDriverValue(value) : value;

/** A prepared insert of whole rows: every column must be given, null where there is nothing. @throws TypeError naming a column that is not */
export function insertion<T extends SQLiteTable>(
  app: App,
  table: T,
): { run: (row: T['$inferSelect']) => void } {
  const columns = Object.entries<Column>(getTableColumns(table));
  const statement = app.sqlite.prepare(
    `INSERT INTO ${quoted(getTableName(table))} (${columns.map(([, c]) => quoted(c.name)).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
  );
  const read = columns.map(([key, column]) => (row: Row) => {
    const value = row[key];
    if (value === undefined) throw new TypeError(`${getTableName(table)}.${key} is not given`);
    return valueFor(column, value);
  });
  return {
    run: (row) => {
      statement.run(read.map((valueIn) => valueIn(row as Row)));
    },
  };
}

interface Rows<T extends SQLiteTable, W extends Key<T>, K extends readonly Key<T>[]> {
  get: (...values: Values<T, K>) => Pick<T['$inferSelect'], W> | undefined;
  all: (...values: Values<T, K>) => Pick<T['$inferSelect'], W>[];
}

/** A prepared change of some columns, in the rows that have given values in others. */
export function changing<
  T extends SQLiteTable,
  const S extends readonly Key<T>[],
  const K extends readonly Key<T>[],
>(
  app: App,
  table: T,
  set: S,
  by: K,
): { run: (values: Pick<T['$inferSelect'], S[number]>, ...keys: Values<T, K>) => void } {
  const columns = getTableColumns(table) as Record<string, Column>;
  const is = (key: string) => `${quoted(columns[key]!.name)} = ?`;
  const statement = app.sqlite.prepare(
    `UPDATE ${quoted(getTableName(table))} SET ${set.map(is).join(', ')} WHERE ${by.map(is).join(' AND ')}`,
  );
  return {
    run: (values, ...keys) => {
      statement.run(...set.map((key) => valueFor(columns[key]!, values[key])), ...keys);
    },
  };
}

/**
 * A prepared reading of rows by the values of some of their columns.
 * @param by the columns that are asked by; one that an index is limited by stands in `and` as SQL: given as a value, SQLite plans the statement anew each time
 * @param options.only the columns that are read; all of them where it is left out
 * @param options.maybe columns that are asked by nothing too: only these, since an index of what is there alone does not answer that
 */
export function rowsBy<T extends SQLiteTable, const K extends readonly Key<T>[], W extends Key<T> = Key<T>>(
  app: App,
  table: T,
  by: K,
  {
    only,
    and,
    inOrderOf,
    maybe = [],
  }: { only?: readonly W[]; and?: string; inOrderOf?: Key<T>; maybe?: readonly K[number][] } = {},
): Rows<T, W, K> {
  const columns = getTableColumns(table) as Record<string, Column>;
  const keys = only ?? Object.keys(columns);
  const name = (key: string) => quoted(columns[key]!.name);
  const statement = app.sqlite.prepare<unknown[], Row>(
    `SELECT ${keys.map((key) => `${name(key)} AS ${quoted(key)}`).join(', ')} FROM ${quoted(getTableName(table))} WHERE ${by.map((key) => `${name(key)} ${maybe.includes(key) ? 'IS' : '='} ?`).join(' AND ')}${and ? ` AND ${and}` : ''}${inOrderOf ? ` ORDER BY ${name(inOrderOf)}` : ''}`,
  );
  const converted = keys.filter((key) => isConverted(columns[key]!));
  const read = (row: Row) => {
    for (const key of converted) if (row[key] !== null) row[key] = columns[key]!.mapFromDriverValue(row[key]);
    return row as Pick<T['$inferSelect'], W>;
  };
  return {
    get: (...values) => {
      const row = statement.get(...values);
      return row && read(row);
    },
    all: (...values) => statement.all(...values).map(read),
  };
}

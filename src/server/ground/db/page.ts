import { asc, desc, sql, type Column, type SQL } from 'drizzle-orm';
import { Problem } from '../http/problem';

/** A keyset page: sorted by one column, ties by id. */
export interface Keyset {
  by: Column | SQL;
  id: Column;
  order: 'asc' | 'desc';
}

export const unknownPage = () =>
  new Problem('invalid', 'The page is not known', {
    errors: [{ pointer: '/after', detail: 'The page is not known; begin again without “after”' }],
  });

/** Reads a cursor; @throws Problem `invalid` if it is none of ours */
export function readCursor(after: string): [string | number, string] {
  try {
    const pair: unknown = JSON.parse(Buffer.from(after, 'base64url').toString());
    if (
      Array.isArray(pair) &&
      pair.length === 2 &&
      ['string', 'number'].includes(typeof pair[0]) &&
      typeof pair[1] === 'string'
    )
      return pair as [string | number, string];
  } catch {
    /* said below */
  }
  throw unknownPage();
}

/** The condition that begins after a cursor; undefined for the first page. */
export function afterCursor({ by, id, order }: Keyset, after: string | undefined): SQL | undefined {
  if (after === undefined) return undefined;
  const [value, last] = readCursor(after);
  // as a pair: with OR between the two, SQLite would walk the index from its start
  return order === 'asc'
    ? sql`(${by}, ${id}) > (${value}, ${last})`
    : sql`(${by}, ${id}) < (${value}, ${last})`;
}

/** The ORDER BY of a keyset. */
export function inOrder({ by, id, order }: Keyset): SQL[] {
  return order === 'asc' ? [asc(by), asc(id)] : [desc(by), desc(id)];
}

/** Cuts one row more than the limit into a page with its cursor. */
export function cut<T>(
  rows: T[],
  limit: number,
  key: (row: T) => [string | number, string],
): { rows: T[]; next: string | null } {
  if (rows.length <= limit) return { rows, next: null };
  const kept = rows.slice(0, limit);
  return { rows: kept, next: Buffer.from(JSON.stringify(key(kept[limit - 1]!))).toString('base64url') };
}

/** A LIKE pattern that finds the text anywhere, with its own wildcards made harmless (ESCAPE '\'). */
export function anywhere(text: string): string {
  return `%${text.replace(/[\\%_]/g, (c) => `\\${c}`)}%`;
}

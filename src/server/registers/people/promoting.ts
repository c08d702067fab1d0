import { sql, type SQL } from 'drizzle-orm';

/**
 * Those whose rates matter: who joined, promotes, and has not left. Members of sets are counted and listed by it, so that
 * the cards sum to everyone; applicants, who left, and partners who only have shares are not among them.
 * @param table the name that affiliates have in the question
 */
export const isPromoting = (table: string): string =>
  `(${table}.joined_at IS NOT NULL AND ${table}.promotes AND ${table}.state IN ('active', 'paused'))`;

/** The same as a condition over the table of affiliates. */
export const promoting: SQL = sql.raw(isPromoting('affiliates'));

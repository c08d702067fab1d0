/**
 * What figures count, as conditions of SQL: the one place where they stand. What each measure means is said in
 * `core/figures/measures`; triggers of the migrations say the same, and a check compares them with these.
 */

const prefix = (table: string): string => (table ? `${table}.` : '');

/**
 * A click: a visit that a person opened. Automated ones are none, nor are those that nobody opened (prefetched, HEAD, an
 * image); one that pays nothing because the same visitor or address came before is a click all the same.
 * @param table the name that visits have in the question
 */
export const isClick = (table = ''): string =>
  `(${prefix(table)}barred IS NOT 'automated' AND (${prefix(table)}uncounted IS NULL OR ${prefix(table)}uncounted LIKE '{"code":"same-%'))`;

/** An order: a first sale. Renewals, leads and days of clicks are counted apart. @param table the name that orders have */
export const isOrder = (table = ''): string => `(${prefix(table)}event = 'sale')`;

/** What people corrected of the commission of an order, minor units of base: the debits of expense of correction entries. @param table the name that orders have */
export const correctedOf = (table: string): string =>
  `(SELECT coalesce(sum(l.amount), 0) FROM entries e JOIN entry_lines l ON l.entry = e.id AND l.account = 'expense' JOIN commissions c ON c.id = l.commission AND c.kind = 'commission' WHERE e.event = 'correction' AND c.order_id = ${table}.id)`;

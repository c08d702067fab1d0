// what a spreadsheet takes for the beginning of a formula, plain and full-width
const sign = '=+\\-@\uFF1D\uFF0B\uFF0D\uFF20';
// a cell begins at the start, and in another locale behind any separator or line break in it
const beginning = new RegExp(`(^|[,;|\\t\\r\\n])([\\s"'\u201C\u201D]*)(?=[${sign}])`, 'g');
const number = /^[+-]?\d+([.,]\d+)*$/;

/** A cell that no spreadsheet takes for a formula, whatever separator its locale has: an apostrophe stands before each sign that could begin one. Numbers stay numbers. */
export function harmlessCell(value: string): string {
  return number.test(value) && !/^\+/.test(value) ? value : value.replace(beginning, "$1$2'");
}

/** True if a cell has to stand in quotes to stay one cell in every locale. */
export function needsQuotes(value: string): boolean {
  return /[,;|\t\r\n"']/.test(value) || value !== value.trim();
}

import Papa from 'papaparse';
import { harmlessCell, needsQuotes } from '../../../core/text/cells';

type Row = (string | number | null)[];

const quoting = { quotes: (cell: unknown) => typeof cell === 'string' && needsQuotes(cell), newline: '\r\n' };

/** Rows as lines of CSV. No spreadsheet of any locale takes a cell for a formula, nor for two. */
export function csvLines(rows: readonly Row[]): string {
  return rows.length
    ? `${Papa.unparse(
        rows.map((row) => row.map((cell) => (typeof cell === 'string' ? harmlessCell(cell) : cell))),
        quoting,
      )}\r\n`
    : '';
}

/** Rows as CSV with a heading line. */
export function toCsv(fields: string[], rows: readonly Row[]): string {
  return csvLines([fields]) + csvLines(rows);
}

/** CSV that comes by pieces: the heading with the first, then the lines of each. @param piece the lines after a cursor, and the cursor of the next piece */
export async function* csvByPieces(
  fields: string[],
  piece: (after: string | undefined) => Promise<{ lines: Row[]; next: string | null }>,
): AsyncGenerator<string> {
  let heading = csvLines([fields]);
  for (let after: string | null | undefined = undefined; after !== null;) {
    const { lines, next } = await piece(after);
    yield heading + csvLines(lines);
    heading = '';
    after = next;
  }
}

/** A row of a table that was read: the line it begins on, counted from 1, and its cells by heading. */
export interface CsvRow {
  line: number;
  cells: Partial<Record<string, string>>;
}

const lineBreaks = /\r\n|\r|\n/g;
const mostColumns = 200;

/** The separator that the heading has most of. */
function separatorOf(text: string): string {
  const heading = text.split(/\r\n|\r|\n/, mostBlank).find((l) => l.trim() !== '') ?? '';
  const counted = [',', ';', '\t', '|'].map(
    (separator) => [separator, heading.split(separator).length] as const,
  );
  return counted.reduce((best, one) => (one[1] > best[1] ? one : best))[0];
}

/** Blank lines that may stand before the heading. */
const mostBlank = 1000;

/** Reads CSV with a heading line; the separator and a byte-order mark are found by themselves. Lines are those of the text, blank ones and quoted breaks counted. */
export function fromCsv(text: string): {
  headings: string[];
  rows: CsvRow[];
  faults: { line: number; said: string }[];
} {
  const plain = text.replace(/^\uFEFF/, '');
  const rows: CsvRow[] = [];
  const faults: { line: number; said: string }[] = [];
  let headings: string[] | null = null;
  let read = 0;
  let line = 1;
  Papa.parse<string[]>(plain, {
    skipEmptyLines: false,
    delimiter: separatorOf(plain),
    step: ({ data, errors, meta }) => {
      const begun = line;
      line += (plain.slice(read, meta.cursor).match(lineBreaks) ?? []).length;
      read = meta.cursor;
      for (const e of errors) if (e.type !== 'Delimiter') faults.push({ line: begun, said: e.message });
      if (data.every((cell) => cell.trim() === '')) return;
      if (!headings) {
        headings = data.slice(0, mostColumns).map((h) => h.trim().toLowerCase());
        return;
      }
      if (data.length !== headings.length)
        faults.push({ line: begun, said: `has ${data.length} cells, the heading ${headings.length}` });
      // without a prototype: a heading may be any word
      const cells = Object.assign(
        Object.create(null) as CsvRow['cells'],
        Object.fromEntries(headings.map((h, i) => [h, data[i] ?? ''])),
      );
      rows.push({ line: begun, cells });
    },
  });
  return { headings: headings ?? [], rows, faults };
}

import Papa from 'papaparse';

/** Rows as CSV with a heading line. Cells that a spreadsheet would take for a formula are made harmless with a leading apostrophe. */
export function toCsv(fields: string[], rows: (string | number | null)[][]): string {
  return `${Papa.unparse({ fields, data: rows }, { escapeFormulae: /^[=+\-@\t\r](?!\d*\.?\d*$)/, newline: '\r\n' })}\r\n`;
}

/** Reads CSV with a heading line; the separator and a byte-order mark are found by themselves. */
export function fromCsv(text: string): { rows: Record<string, string>[]; faults: string[] } {
  const read = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy', transformHeader: (h) => h.trim().toLowerCase() });
  return { rows: read.data, faults: read.errors.filter((e) => e.type !== 'Delimiter').map((e) => `line ${(e.row ?? 0) + 2}: ${e.message}`) };
}

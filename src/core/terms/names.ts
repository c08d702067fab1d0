/** One of several people named in a text: the line it stood on, counted from 1, and what was written. */
export interface Named {
  line: number;
  said: string;
}

const headings = new Set(['handle', 'email', 'e-mail', 'affiliate', 'address', 'name', 'id']);

function cellsOf(line: string): string[] {
  return line.split(/[,;\t]/).map((cell) =>
    cell
      .trim()
      .replace(/^["'“](.*)["'”]$/, '$1')
      .trim(),
  );
}

/** The column of a CSV that has the names, by its heading; null where the first line is no heading. */
function columnOf(firstLine: string): number | null {
  const heading = cellsOf(firstLine).map((cell) => cell.toLowerCase());
  const named = (cell: string) => cell === 'handle' || cell === 'email' || cell === 'e-mail';
  const isHeading = heading.some(named) && heading.every((h) => headings.has(h) || /^[a-z _-]*$/.test(h));
  if (!isHeading) return null;
  return heading.includes('handle') ? heading.indexOf('handle') : heading.findIndex(named);
}

/** Without the @ that handles are written with elsewhere; an address keeps its own. */
const withoutAt = (said: string) => said.replace(/^@(?=[^@]+$)/, '');

/**
 * Reads handles or e-mail addresses from what somebody pasted: one a line, parted by commas, semicolons or tabs, or a CSV
 * whose heading names a column handle or email, of which the other columns are passed over. Quotes, spaces around, a leading @,
 * a byte-order mark and empty places do no harm.
 */
export function readNames(text: string): Named[] {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  const first = lines.findIndex((l) => l.trim() !== '');
  if (first < 0) return [];
  const column = columnOf(lines[first]!);
  return lines.flatMap((line, i): Named[] => {
    if (line.trim() === '' || (column !== null && i === first)) return [];
    const cells = cellsOf(line);
    const names = column === null ? cells : [cells[column] ?? ''];
    return names.filter((c) => c !== '').map((said) => ({ line: i + 1, said: withoutAt(said) }));
  });
}

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

/**
 * Reads handles or e-mail addresses from what somebody pasted: one a line, parted by commas, semicolons or tabs, or a CSV
 * whose heading names a column handle or email, of which the other columns are passed over. Quotes, spaces around, a leading @,
 * a byte-order mark and empty places do no harm.
 */
export function readNames(text: string): Named[] {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  const first = lines.findIndex((l) => l.trim() !== '');
  if (first < 0) return [];
  const heading = cellsOf(lines[first]!).map((c) => c.toLowerCase());
  const isCsv =
    heading.some((h) => h === 'handle' || h === 'email' || h === 'e-mail') &&
    heading.every((h) => headings.has(h) || /^[a-z _-]*$/.test(h));
  const column = isCsv
    ? Math.max(heading.indexOf('handle'), 0) ||
      Math.max(
        heading.findIndex((h) => h === 'handle' || h === 'email' || h === 'e-mail'),
        0,
      )
    : null;
  return lines.flatMap((text_, i): Named[] => {
    if (text_.trim() === '' || (column !== null && i === first)) return [];
    const cells = cellsOf(text_);
    return (column === null ? cells : [cells[column] ?? ''])
      .filter((c) => c !== '')
      .map((said) => ({ line: i + 1, said: said.replace(/^@(?=[^@]+$)/, '') }));
  });
}

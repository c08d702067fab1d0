/** A figure that was found, beside the one that was written by hand. */
export interface Row {
  step: string;
  what: string;
  expected: string;
  found: string;
}

/**
 * Prints what was found.
 * @returns how many figures differ
 */
export function print(rows: Row[]): number {
  const widths = (['step', 'what', 'expected', 'found'] as const).map(
    (k) => [k, Math.max(k.length, ...rows.map((r) => r[k].length))] as const,
  );
  const line = (r: Row, mark: string) => `${mark} ${widths.map(([k, w]) => r[k].padEnd(w)).join('  ')}`;
  let before = '';
  let differences = 0;
  process.stdout.write(
    `${line({ step: 'step', what: 'what', expected: 'expected', found: 'found' }, ' ')}\n`,
  );
  for (const row of rows) {
    const same = row.expected === row.found;
    if (!same) differences += 1;
    process.stdout.write(
      `${line({ ...row, step: row.step === before ? '' : row.step }, same ? ' ' : '✗')}\n`,
    );
    before = row.step;
  }
  process.stdout.write(`\n${rows.length} figures, ${differences} differ\n`);
  return differences;
}

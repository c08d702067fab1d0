import { type RateBookOut } from '../../../../contract/setup/rate-book';

/** Where somebody stands in the book: a row and a column by their keys, so that they are found again when the book changes. */
export interface At {
  row: string;
  column: string;
}

export const rowKey = (r: Pick<RateBookOut['rows'][number], 'of' | 'id'>) => `${r.of}:${r.id}`;

export const columnKey = (c: Pick<RateBookOut['columns'][number], 'of' | 'id'>) => `${c.of}:${c.id}`;

/** The book without the tags that no rate is for: they say nothing but what everybody earns. */
export function withoutIdleTags(book: RateBookOut): { book: RateBookOut; hidden: number } {
  const shown = book.columns.map(
    (c, i) =>
      c.of !== 'tag' ||
      book.rows.some(
        (r) => r.cells[i]!.from === 'here' || r.cells[i]!.from === 'column' || r.cells[i]!.was !== null,
      ),
  );
  const kept = <T>(list: T[]) => list.filter((_, i) => shown[i]);
  return {
    book: {
      ...book,
      columns: kept(book.columns),
      rows: book.rows.map((r) => ({ ...r, cells: kept(r.cells) })),
    },
    hidden: shown.filter((x) => !x).length,
  };
}

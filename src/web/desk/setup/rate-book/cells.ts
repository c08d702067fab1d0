import { type RateBookOut } from '../../../../contract/setup/rate-book';

/** Where somebody stands in the book: a row and a column by their keys, so that they are found again when the book changes. */
export interface At {
  row: string;
  column: string;
}

export const rowKey = (r: Pick<RateBookOut['rows'][number], 'of' | 'id'>) => `${r.of}:${r.id}`;

export const columnKey = (c: Pick<RateBookOut['columns'][number], 'of' | 'id'>) => `${c.of}:${c.id}`;

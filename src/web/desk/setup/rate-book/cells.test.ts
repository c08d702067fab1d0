import { describe, expect, it } from 'vitest';
import type { RateBookOut } from '../../../../contract/setup/rate-book';
import { columnKey, rowKey, withoutIdleTags } from './cells';

type Column = RateBookOut['columns'][number];
type Cell = RateBookOut['rows'][number]['cells'][number];

const column = (kind: Column['of'], id: Column['id'], name: string): Column => ({
  ...{ of: kind, id, name },
  ...{ members: 3, paused: false, next: null },
});
/** Only what the book is cut by. */
const cell = (from: Cell['from'], was: Cell['was'] = null) => ({ from, was, text: '8 %' }) as Cell;
const row = (id: string, cells: Cell[]): RateBookOut['rows'][number] => ({
  ...{ of: 'product', id, name: id, code: id, kind: '', state: 'live' },
  ...{ indent: false, lockable: true, locked: false, cells },
});
const columns = [
  column('everyone', '', 'Everyone'),
  column('tag', 'set_fairs', 'Fairs'),
  column('tag', 'set_press', 'Press'),
];
const book = (...rows: RateBookOut['rows']): RateBookOut => ({ at: 0, today: true, columns, rows });
const shown = (whole: RateBookOut) => withoutIdleTags(whole).book.columns.map((c) => c.name);

describe('where somebody stands in the book', () => {
  it('rows and columns are told apart by what they are of as well', () => {
    expect(rowKey({ of: 'product', id: 'prd_1' })).toBe('product:prd_1');
    expect(rowKey({ of: 'kind', id: 'prd_1' })).not.toBe(rowKey({ of: 'product', id: 'prd_1' }));
    expect(columnKey({ of: 'tag', id: 'set_fairs' })).toBe('tag:set_fairs');
    expect(columnKey({ of: 'everyone', id: '' })).toBe('everyone:');
  });
});

describe('the book without tags that say nothing', () => {
  it('hides a tag that no rate is for, with its cells', () => {
    const cut = withoutIdleTags(
      book(
        row('A', [cell('here'), cell('elsewhere'), cell('here')]),
        row('B', [cell('here'), cell('elsewhere'), cell('elsewhere')]),
      ),
    );
    expect(cut.hidden).toBe(1);
    expect(cut.book.columns.map((c) => c.name)).toEqual(['Everyone', 'Press']);
    expect(cut.book.rows.map((r) => r.cells.map((c) => c.from))).toEqual([
      ['here', 'here'],
      ['here', 'elsewhere'],
    ]);
  });
  it('keeps one whose rate stands on a wider row, or was another before the draft', () => {
    expect(shown(book(row('A', [cell('here'), cell('column'), cell('elsewhere', '10 %')])))).toEqual([
      'Everyone',
      'Fairs',
      'Press',
    ]);
  });
  it('never hides who is no tag, however little is said of it', () => {
    expect(shown(book(row('A', [cell('elsewhere'), cell('elsewhere'), cell('elsewhere')])))).toEqual([
      'Everyone',
    ]);
  });
  it('of a book without rows, leaves no tag', () => {
    expect(withoutIdleTags(book())).toMatchObject({ hidden: 2, book: { rows: [] } });
  });
  it('leaves the book that it was given as it is', () => {
    const whole = book(row('A', [cell('here'), cell('elsewhere'), cell('elsewhere')]));
    const before = structuredClone(whole);
    withoutIdleTags(whole);
    expect(whole).toEqual(before);
  });
});

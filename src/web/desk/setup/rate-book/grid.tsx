import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import type { RateBookOut } from '../../../../contract/setup/rate-book';
import { counted } from '../../../../core/text/counted';
import { useProgramme } from '../../../kit/programme';
import { Code, Strong } from '../../../kit/text';
import { columnKey, rowKey, type At } from './cells';

type Cell = RateBookOut['rows'][number]['cells'][number];
const kindHeads: Record<string, string> = {
  'one-off': 'One-off',
  recurring: 'Recurring',
  instalments: 'In instalments',
  free: 'Free',
};
const columnHeads: Record<string, string> = {
  everyone: '',
  card: 'Card',
  group: 'Group',
  tag: 'Tag',
  affiliate: 'Affiliate',
};

type Book = RateBookOut;
type Row = Book['rows'][number];

interface Props {
  book: RateBookOut;
  at: At | null;
  onAt: (at: At) => void;
  /** what is being typed into the cell; null = nothing */
  typed: string | null;
  readable: boolean;
  onTyped: (text: string | null) => void;
  onCommit: () => void;
  mayEdit: boolean;
  onEdit: () => void;
}

function looks(cell: Cell): string {
  const weight =
    cell.from === 'here' ? 'font-semibold text-ink' : cell.was === null ? 'text-ink3' : 'text-ink';
  const ground = cell.was !== null ? 'bg-copper-wash font-semibold' : cell.locked ? 'cell-locked' : '';
  return `${weight} ${ground} ${cell.uplift ? 'cell-raised' : ''}`;
}

/** A product, or a product as a step of a funnel. */
export function rowName(row: Pick<RateBookOut['rows'][number], 'of' | 'name' | 'code'>): string {
  return row.of === 'step' ? `${row.name} at ${row.code}` : row.name;
}

/** The heading that a row begins, if it begins one. */
function headOf(
  row: RateBookOut['rows'][number],
  before: RateBookOut['rows'][number] | undefined,
): string | null {
  const sold = (r: typeof row) => r.of === 'product' || r.of === 'step';
  if (sold(row)) return before?.kind !== row.kind ? (kindHeads[row.kind] ?? row.kind) : null;
  return !before || sold(before) ? 'Everything else' : null;
}

/** How a cell reads aloud: what it is, and where it comes from. */
function said(cell: Cell): string {
  const from = {
    here: 'set here',
    column: 'from a wider rate of the same column',
    elsewhere: 'inherited',
    nothing: 'no rate',
  }[cell.from];
  return [
    cell.full,
    from,
    cell.locked ? 'locked' : '',
    cell.uplift ? `raised by ${cell.uplift.label || 'an uplift'}` : '',
    cell.was === null ? '' : `in your draft; was ${cell.was}`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** Products, kinds and steps down, who across; a cell is chosen by a click or the arrows. */
export function Grid({ book, at, onAt, typed, readable, onTyped, onCommit, mayEdit, onEdit }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const key = at ? `${at.row}|${at.column}` : '';
  const lines = useMemo(
    () =>
      book.rows.flatMap((row, i) => {
        const head = headOf(row, book.rows[i - 1]);
        return [...(head ? [{ head, row: null }] : []), { head: null, row }];
      }),
    [book.rows],
  );
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => frame.current,
    estimateSize: (i) => (lines[i]!.head ? 24 : 31),
    overscan: 30,
  });
  const shown = virtual.getVirtualItems();
  const before = shown[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (shown.at(-1)?.end ?? 0);
  const atLine = at ? lines.findIndex((l) => l.row && rowKey(l.row) === at.row) : -1;
  const drawn = shown.some((v) => v.index === atLine);
  useEffect(() => {
    // a row that is not drawn is brought near first; then the cell is brought into view, clear of the names at its left
    if (atLine >= 0 && !drawn) virtual.scrollToIndex(atLine, { align: 'auto' });
    frame.current
      ?.querySelector('[data-chosen=true]')
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [key, atLine, drawn, virtual]);
  // as wide as its longest name, so that nothing moves while rows come and go
  const widest = useMemo(
    () => Math.max(...book.rows.map((r) => r.name.length + (r.code ? r.code.length + 1 : 0))),
    [book.rows],
  );
  const editing = { typed, readable, onTyped, onCommit, mayEdit, onEdit };
  const raised = book.rows.some((r) => r.cells.some((c) => c.uplift));
  return (
    <div
      ref={frame}
      className="min-h-0 flex-1 overflow-auto px-5 pb-4"
      tabIndex={0}
      role="region"
      aria-label="Rates"
    >
      <table className="book" role="grid" aria-label="Rate book" aria-rowcount={lines.length + 1}>
        <GridHead widest={widest} book={book} />
        <tbody>
          {before > 0 && (
            <tr aria-hidden>
              <td colSpan={book.columns.length + 1} style={{ height: before, padding: 0 }} />
            </tr>
          )}
          {shown.map(({ index }) => {
            const { head, row } = lines[index]!;
            if (!row)
              return (
                <tr key={`h-${head}-${index}`}>
                  <th scope="rowgroup" colSpan={book.columns.length + 1} className="book-head">
                    <span className="sticky left-[10px]">{head}</span>
                  </th>
                </tr>
              );
            return (
              <GridRow
                key={rowKey(row)}
                row={row}
                columns={book.columns}
                at={at}
                onAt={onAt}
                editing={editing}
              />
            );
          })}
          {after > 0 && (
            <tr aria-hidden>
              <td colSpan={book.columns.length + 1} style={{ height: after, padding: 0 }} />
            </tr>
          )}
        </tbody>
      </table>
      <Legend raised={raised} />
    </div>
  );
}

/** Who is across. */
function GridHead({ widest, book }: { widest: number; book: Book }) {
  const { day } = useProgramme();
  return (
    <thead>
      <tr>
        <th scope="col" className="text-left!" style={{ minWidth: `min(300px, ${widest}ch)` }}>
          Product or step
        </th>
        {book.columns.map((c) => (
          <th
            key={columnKey(c)}
            scope="col"
            className={c.of === 'affiliate' ? 'private' : ''}
            title={`${counted(c.members, 'affiliate')}${c.next ? `, next change ${day(c.next)}` : ''}`}
          >
            <span className="block text-[11px] font-normal text-ink3">
              {columnHeads[c.of]}
              {c.paused ? ', paused' : ''}
            </span>
            {c.name}
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** What the looks of the cells mean. */
function Legend({ raised }: { raised: boolean }) {
  return (
    <p
      className="sticky left-0 mt-3 flex w-fit flex-wrap gap-x-5 gap-y-1 text-ink2"
      aria-label="What the cells mean"
    >
      <span>
        <Strong>15 %</Strong> set here
      </span>
      <span className="text-ink3">12 % comes from elsewhere</span>
      {raised && <span className="cell-raised">raised for a time</span>}
      <span className="cell-locked px-1">locked</span>
      <span className="bg-copper-wash px-1">draft</span>
    </p>
  );
}

type Editing = Pick<Props, 'typed' | 'readable' | 'onTyped' | 'onCommit' | 'mayEdit' | 'onEdit'>;

interface RowProps {
  row: Row;
  columns: Book['columns'];
  at: Props['at'];
  onAt: Props['onAt'];
  editing: Editing;
}

/** One product, kind or step: its rate for whoever is across. */
function GridRow({ row, columns, at, onAt, editing }: RowProps) {
  return (
    <tr>
      <th scope="row" className={row.indent ? 'pl-6!' : ''}>
        {row.indent && <span aria-hidden>↳ </span>}
        {row.name} {row.code && <Code>{row.code}</Code>}
        {row.state === 'retired' && <span className="text-ink3"> retired</span>}
      </th>
      {row.cells.map((cell, n) => {
        const column = columns[n]!;
        const chosen = at?.row === rowKey(row) && at.column === columnKey(column);
        return (
          <td
            key={columnKey(column)}
            role="gridcell"
            data-chosen={chosen}
            aria-selected={chosen}
            aria-label={`${rowName(row)}, ${column.name}: ${said(cell)}`}
            className={looks(cell)}
            title={cell.was === null ? cell.full : `${cell.full}; was ${cell.was}`}
            onClick={() => onAt({ row: rowKey(row), column: columnKey(column) })}
            onDoubleClick={editing.onEdit}
          >
            {chosen && editing.typed !== null && editing.mayEdit ? (
              <CellInput
                label={`Rate of ${rowName(row)}, ${column.name}`}
                placeholder={cell.text}
                typed={editing.typed}
                editing={editing}
              />
            ) : (
              cell.text
            )}
          </td>
        );
      })}
    </tr>
  );
}

/** A rate that is typed in its cell: Enter puts it into the draft, Esc leaves it. */
function CellInput({
  label,
  placeholder,
  typed,
  editing: { readable, onTyped, onCommit },
}: {
  label: string;
  placeholder: string;
  typed: string;
  editing: Editing;
}) {
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  return (
    <input
      ref={field}
      aria-label={label}
      aria-invalid={!readable}
      value={typed}
      placeholder={placeholder}
      onChange={(e) => onTyped(e.target.value)}
      onBlur={() => onTyped(null)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          e.preventDefault();
          onCommit();
        }
        if (e.key === 'Escape') {
          e.stopPropagation();
          onTyped(null);
        }
      }}
      className={`w-[76px] border bg-sheet px-1 text-right ${readable ? 'border-copper' : 'border-madder'}`}
    />
  );
}

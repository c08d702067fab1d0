import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';
import { scrolling } from './layout';

export interface Column<T> {
  head: ReactNode;
  cell: (row: T) => ReactNode;
  figure?: boolean;
  width?: string;
}

interface Props<T> {
  label: string;
  rows: T[];
  columns: Column<T>[];
  idOf: (row: T) => string;
  /** the row that the keyboard is at */
  at?: string | null;
  onOpen?: (row: T) => void;
  /** called when the end of the loaded rows comes into view */
  onEnd?: (() => void) | undefined;
  loading?: boolean;
  empty: ReactNode;
}

const rowHeight = 34;

/** A table whose rows are drawn only where they are seen; more are asked for as the end comes near. */
export function Table<T>({
  label,
  rows,
  columns,
  idOf,
  at,
  onOpen,
  onEnd,
  loading = false,
  empty,
}: Props<T>) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  });
  const shown = virtual.getVirtualItems();
  const lastShown = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (onEnd && rows.length > 0 && lastShown >= rows.length - 20) onEnd();
  }, [lastShown, rows.length, onEnd]);
  const atIndex = at ? rows.findIndex((r) => idOf(r) === at) : -1;
  useEffect(() => {
    if (atIndex >= 0) virtual.scrollToIndex(atIndex);
  }, [atIndex, virtual]);
  const before = shown[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (shown.at(-1)?.end ?? 0);
  return (
    <div ref={scroller} className={scrolling} tabIndex={0} role="region" aria-label={label}>
      <table className="table-wide table" aria-rowcount={rows.length}>
        <colgroup>
          {columns.map((c, i) => (
            <col key={i} style={c.width ? { width: c.width } : undefined} />
          ))}
        </colgroup>
        <thead>
          <tr>
            {columns.map((c, i) => (
              <th key={i} scope="col" className={c.figure ? 'figure' : ''}>
                {c.head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <Gap columns={columns.length} height={before} />
          {shown.map(({ index }) => {
            const row = rows[index]!;
            return (
              <tr
                key={idOf(row)}
                data-at={idOf(row) === at}
                data-open={onOpen ? '' : undefined}
                aria-selected={at === undefined ? undefined : idOf(row) === at}
                onClick={onOpen ? () => onOpen(row) : undefined}
              >
                {columns.map((c, i) => (
                  <td key={i} className={c.figure ? 'figure' : ''}>
                    {c.cell(row)}
                  </td>
                ))}
              </tr>
            );
          })}
          <Gap columns={columns.length} height={after} />
          {loading && <Coming columns={columns.length} />}
        </tbody>
      </table>
      {!loading && rows.length === 0 && <div className="p-6">{empty}</div>}
    </div>
  );
}

/** The rows that are not drawn, as one empty row of their height. */
function Gap({ columns, height }: { columns: number; height: number }) {
  if (height <= 0) return null;
  return (
    <tr aria-hidden>
      <td colSpan={columns} style={{ height, padding: 0, border: 0 }} />
    </tr>
  );
}

/** Rows in the shape of what is coming. */
function Coming({ columns }: { columns: number }) {
  return [0, 1, 2, 3, 4, 5].map((row) => (
    <tr key={row} aria-hidden>
      {Array.from({ length: columns }, (_, column) => (
        <td key={column}>
          <div className="skeleton" style={{ width: `${50 + ((row * 7 + column * 13) % 40)}%` }} />
        </td>
      ))}
    </tr>
  ));
}

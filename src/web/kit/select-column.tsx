import type { Column } from './table';

/** The column of a list in which rows are selected. */
export function selectColumn<T extends { id: string; name: string }>(chosen: {
  has: (id: T['id']) => boolean;
  toggle: (id: T['id']) => void;
}): Column<T> {
  return {
    head: <span className="sr-only">Selected</span>,
    width: '26px',
    cell: (row) => (
      <input
        type="checkbox"
        aria-label={`Select ${row.name}`}
        checked={chosen.has(row.id)}
        onClick={(e) => e.stopPropagation()}
        onChange={() => chosen.toggle(row.id)}
        className="accent-copper"
      />
    ),
  };
}

import { useRef, useState } from 'react';
import { useLocation } from 'react-router';

/** Parts of an address that do not change which rows there are. */
const views = ['id', 'sort', 'order', 'columns', 'new'];

/** The filter of an address, as far as it decides which rows there are. */
function filterOf(search: string): string {
  const params = new URLSearchParams(search);
  for (const view of views) params.delete(view);
  return params.toString();
}

/**
 * Rows that are chosen, by id; a range goes from the last one that was chosen. Another filter, however it comes (typed, a
 * link, Back), drops what was chosen: an act never reaches rows that are not shown.
 */
export function useSelection<T, I extends string>(rows: T[], idOf: (row: T) => I) {
  const [ids, setIds] = useState<ReadonlySet<I>>(new Set());
  const last = useRef<I | null>(null);
  const filter = filterOf(useLocation().search);
  const [under, setUnder] = useState(filter);
  if (under !== filter) {
    setUnder(filter);
    setIds(new Set());
  }
  return {
    ids,
    size: ids.size,
    has: (id: I) => ids.has(id),
    toggle: (id: I) => {
      last.current = id;
      setIds((s) => {
        const next = new Set(s);
        if (!next.delete(id)) next.add(id);
        return next;
      });
    },
    range: (id: I) => {
      const [from, to] = [
        rows.findIndex((r) => idOf(r) === last.current),
        rows.findIndex((r) => idOf(r) === id),
      ];
      const [a, b] = [Math.min(Math.max(0, from), to), Math.max(from, to)];
      setIds((s) => new Set([...s, ...rows.slice(a, b + 1).map(idOf)]));
    },
    /** these and no others */
    only: (chosen: I[]) => setIds(new Set(chosen)),
    clear: () => setIds(new Set()),
  };
}

import { useRef, useState } from 'react';

/** Rows that are chosen, by id; a range goes from the last one that was chosen. */
export function useSelection<T, I extends string>(rows: T[], idOf: (row: T) => I) {
  const [ids, setIds] = useState<ReadonlySet<I>>(new Set());
  const last = useRef<I | null>(null);
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

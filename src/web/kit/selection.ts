import { useRef, useState } from 'react';

/** Rows that are chosen, by id; a range goes from the last one that was chosen. */
export function useSelection<T>(rows: T[], idOf: (row: T) => string) {
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set());
  const last = useRef<string | null>(null);
  return {
    ids,
    size: ids.size,
    has: (id: string) => ids.has(id),
    toggle: (id: string) => {
      last.current = id;
      setIds((s) => {
        const next = new Set(s);
        if (!next.delete(id)) next.add(id);
        return next;
      });
    },
    range: (id: string) => {
      const [from, to] = [
        rows.findIndex((r) => idOf(r) === last.current),
        rows.findIndex((r) => idOf(r) === id),
      ];
      const [a, b] = [Math.min(Math.max(0, from), to), Math.max(from, to)];
      setIds((s) => new Set([...s, ...rows.slice(a, b + 1).map(idOf)]));
    },
    /** these and no others */
    only: (chosen: string[]) => setIds(new Set(chosen)),
    clear: () => setIds(new Set()),
  };
}

import type { Key } from './keys';

/** The key that leads into the search field of a place. */
export const searchKey: Key = {
  key: '/',
  what: 'search',
  act: () => document.querySelector<HTMLInputElement>('input[type=search]')?.focus(),
};

/** Up, down and open. @param one what a row is, in the words of the list of keys: “affiliate” */
export function cursorKeys<T>(
  cursor: { row: T | null; move: (by: number) => unknown },
  one: string,
  open?: (row: T) => void,
): Key[] {
  const moves: Key[] = [
    { key: 'j', what: `next ${one}`, act: () => cursor.move(1) },
    { key: 'k', what: `${one} before`, act: () => cursor.move(-1) },
  ];
  if (!open) return moves;
  return [
    ...moves,
    {
      key: 'Enter',
      what: 'open',
      act: () => {
        if (cursor.row) open(cursor.row);
      },
    },
  ];
}

/** Selecting one, a range, and dropping the selection. */
export function selectKeys<I extends string>(
  at: I | null,
  chosen: { toggle: (id: I) => void; range: (id: I) => void; clear: () => void },
): Key[] {
  return [
    {
      key: 'x',
      what: 'select',
      act: () => {
        if (at) chosen.toggle(at);
      },
    },
    {
      key: 'X',
      what: 'select from the last one selected to here',
      act: () => {
        if (at) chosen.range(at);
      },
    },
    { key: 'Escape', what: 'drop the selection', act: chosen.clear },
  ];
}

import type { Key } from './keys';
import type { useCursor } from './lists';
import type { useSelection } from './selection';

/** The key that leads into the search field of a place. */
export const searchKey: Key = {
  key: '/',
  what: 'search',
  act: () => document.querySelector<HTMLInputElement>('input[type=search]')?.focus(),
};

/** Up, down and open. @param one what a row is, in the words of the list of keys: “affiliate” */
export function cursorKeys<T>(
  cursor: Pick<ReturnType<typeof useCursor<T>>, 'row' | 'move'>,
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
export function selectKeys(
  at: string | null,
  chosen: Pick<ReturnType<typeof useSelection>, 'toggle' | 'range' | 'clear'>,
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

interface Found {
  title: string;
}

/**
 * What was found, as long as it belongs to what is typed now. An answer to fewer letters stays while the next
 * one is on its way, but for what the letters typed since rule out: Enter must never open what nobody asked for.
 * @param isEarlier whether the answer is to what was typed before
 */
export function rowsFor<T extends Found>(q: string, found: readonly T[], isEarlier: boolean): readonly T[] {
  if (q === '') return [];
  return isEarlier ? found.filter((row) => row.title.toLowerCase().includes(q.toLowerCase())) : found;
}

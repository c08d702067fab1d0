/**
 * A reason as it is stored: its code with its values, or the words that were stored before reasons had codes, which are read on as they
 * stand. What is new is always stored by its code; words are made where they are shown.
 */
export type Kept<R extends { code: string }> = R | string;

/** A stored reason in words. @param describe words of a code with its values */
export function describeKept<R extends { code: string }>(
  kept: Kept<R>,
  describe: (reason: R) => string,
): string {
  return typeof kept === 'string' ? kept : describe(kept);
}

/** A stored reason as one text of the database. */
export function keptText<R extends { code: string }>(kept: Kept<R>): string {
  return typeof kept === 'string' ? kept : JSON.stringify(kept);
}

/** A stored reason read back: what is a code with values is one, everything else is words, whatever they begin with. */
export function keptFrom<R extends { code: string }>(text: string): Kept<R> {
  if (!text.startsWith('{"code":')) return text;
  try {
    return JSON.parse(text) as R;
  } catch {
    return text;
  }
}

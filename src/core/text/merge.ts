/** A field that two people changed from the same beginning, or that only the other one changed. */
export interface Overtaken {
  field: string;
  before: unknown;
  theirs: unknown;
  mine: unknown;
  /** true where only they changed it, so that theirs can stand without anything of mine being lost */
  taken: boolean;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/**
 * Three states of a record beside each other: as a form began, as others have saved it since, as it is typed now. What only they changed is taken; what
 * both changed differently is left as it is typed, and named.
 */
export function overtaken(
  before: Readonly<Record<string, unknown>>,
  theirs: Readonly<Record<string, unknown>>,
  mine: Readonly<Record<string, unknown>>,
): Overtaken[] {
  return Object.keys(mine)
    .filter(
      (field) => field in theirs && !same(before[field], theirs[field]) && !same(theirs[field], mine[field]),
    )
    .map((field) => ({
      field,
      before: before[field],
      theirs: theirs[field],
      mine: mine[field],
      taken: same(before[field], mine[field]),
    }));
}

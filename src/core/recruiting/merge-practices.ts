import type { Practice } from './practices';

/** Two tables that began from the same one, as one. */
export interface MergedPractices {
  /** what both have changed, each at its own; mine where both changed the same practice otherwise */
  table: Practice[];
  /** the same, with theirs in those places */
  withTheirs: Practice[];
  /** names of the practices that both changed otherwise */
  conflicts: string[];
}

type Table = ReadonlyMap<string, Practice>;

const same = (a: Practice | undefined, b: Practice | undefined) =>
  JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** Mine where only I changed it or nobody did, theirs where only they did; undefined where it is removed. */
function one(key: string, before: Table, theirs: Table, mine: Table) {
  const [was, they, own] = [before.get(key), theirs.get(key), mine.get(key)];
  if (same(was, own)) return { kept: they, other: they, isConflict: false };
  if (same(was, they) || same(they, own)) return { kept: own, other: own, isConflict: false };
  return { kept: own, other: they, isConflict: true };
}

/**
 * Puts together what two people have made of the same table: practice by practice. The order is mine; what only they added stands at its end.
 * @param before the table that both began from @param theirs as it is saved now @param mine as it is typed
 */
export function mergePractices(
  before: readonly Practice[],
  theirs: readonly Practice[],
  mine: readonly Practice[],
): MergedPractices {
  const [was, they, own] = [before, theirs, mine].map(
    (table): Table => new Map(table.map((p) => [p.key, p])),
  ) as [Table, Table, Table];
  const keys = [...new Set([...own.keys(), ...they.keys()])];
  const found = keys.map((key) => ({ key, ...one(key, was, they, own) }));
  const isThere = (p: Practice | undefined): p is Practice => p !== undefined;
  return {
    table: found.map((f) => f.kept).filter(isThere),
    withTheirs: found.map((f) => f.other).filter(isThere),
    conflicts: found
      .filter((f) => f.isConflict)
      .map((f) => (own.get(f.key) ?? they.get(f.key) ?? was.get(f.key))!.name),
  };
}

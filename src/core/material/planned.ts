/** One change of one field, planned for a moment (UTC milliseconds). */
export interface Planned {
  id: string;
  at: number;
  field: string;
  value: unknown;
}

/** Changes in the order in which they happen: by moment, then in the order they were planned in. */
export function inTurn<P extends Pick<Planned, 'id' | 'at'>>(planned: readonly P[]): P[] {
  return [...planned].sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1));
}

/** A record as it will be at a moment, when every change that is planned up to it (inclusive) has happened. */
export function fieldsAt<F extends object>(fields: F, planned: readonly Planned[], at: number): F {
  return inTurn(planned)
    .filter((change) => change.at <= at)
    .reduce<F>((now, change) => ({ ...now, [change.field]: change.value }), fields);
}

/** A change with what the field is before it. */
export type Stepped<P extends Planned> = P & { before: unknown };

/** Each change with what its field will be just before it. */
export function withBefore<P extends Planned>(fields: object, planned: readonly P[]): Stepped<P>[] {
  const now = new Map<string, unknown>(Object.entries(fields));
  return inTurn(planned).map((change) => {
    const before = now.get(change.field);
    now.set(change.field, change.value);
    return { ...change, before };
  });
}

/** Two changes that cannot both be meant. */
export type Contradiction<P extends Planned> =
  | { code: 'same-moment'; first: P; second: P }
  /** `second` happens when the record is over by `first`, or by its end as it stands (null) */
  | { code: 'after-end'; first: P | null; second: P; end: number }
  | { code: 'end-before-start'; first: P | null; second: P; from: number; until: number };

interface Dates {
  from: number | null;
  until: number | null;
}

/** A change may move the end itself, even after it: that is how a piece that is over comes back. */
const movesDates = (change: Planned) => change.field === 'until' || change.field === 'from';

/**
 * What of some planned changes contradicts: two of the same field at the same moment, one that happens after the end that holds by then, and a
 * start that the end would lie before.
 */
export function contradictions<P extends Planned>(dates: Dates, planned: readonly P[]): Contradiction<P>[] {
  const found: Contradiction<P>[] = [];
  const turn = inTurn(planned);
  const seen = new Map<string, P>();
  let { from, until } = dates;
  let fromBy: P | null = null;
  let untilBy: P | null = null;
  for (const change of turn) {
    const key = `${change.at} ${change.field}`;
    const first = seen.get(key);
    if (first) found.push({ code: 'same-moment', first, second: change });
    seen.set(key, change);
    if (!movesDates(change)) {
      if (until !== null && until <= change.at)
        found.push({ code: 'after-end', first: untilBy, second: change, end: until });
      continue;
    }
    const other = change.field === 'until' ? fromBy : untilBy;
    if (change.field === 'until') [until, untilBy] = [change.value as number | null, change];
    else [from, fromBy] = [change.value as number | null, change];
    if (from !== null && until !== null && until <= from)
      found.push({ code: 'end-before-start', first: other, second: change, from, until });
  }
  return found;
}

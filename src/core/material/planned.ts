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

/** The first change of each moment and field that was planned before: two that contradict each other. */
function sameMoment<P extends Planned>(turn: readonly P[]): Contradiction<P>[] {
  const seen = new Map<string, P>();
  return turn.flatMap((second) => {
    const key = `${second.at} ${second.field}`;
    const first = seen.get(key);
    seen.set(key, second);
    return first ? [{ code: 'same-moment' as const, first, second }] : [];
  });
}

/** Changes of one moment happen together. @param turn in turn */
function byMoment<P extends Planned>(turn: readonly P[]): P[][] {
  const moments = new Map<number, P[]>();
  for (const change of turn) moments.set(change.at, [...(moments.get(change.at) ?? []), change]);
  return [...moments.values()];
}

/**
 * What of some planned changes contradicts: two of the same field at the same moment, one that happens after the end that applies by then, and a
 * start that the end would be before. Changes of one moment are judged by their result: a new end may come with whatever else changes then.
 */
export function contradictions<P extends Planned>(dates: Dates, planned: readonly P[]): Contradiction<P>[] {
  const turn = inTurn(planned);
  const found = sameMoment(turn);
  const now: Dates = { from: dates.from, until: dates.until };
  const by: Record<keyof Dates, P | null> = { from: null, until: null };
  for (const together of byMoment(turn)) {
    const moved = together.filter(movesDates);
    for (const change of moved) {
      const field = change.field as keyof Dates;
      now[field] = change.value as number | null;
      by[field] = change;
    }
    const { from, until } = now;
    const last = moved.at(-1);
    if (last && from !== null && until !== null && until <= from)
      found.push({ code: 'end-before-start', first: otherThan(last, by), second: last, from, until });
    for (const change of together.filter((c) => !movesDates(c)))
      if (until !== null && until <= change.at)
        found.push({ code: 'after-end', first: by.until, second: change, end: until });
  }
  return found;
}

const otherThan = <P extends Planned>({ field }: P, by: Record<keyof Dates, P | null>): P | null =>
  field === 'until' ? by.from : by.until;

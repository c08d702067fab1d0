/** A stretch of time in UTC milliseconds: from is inclusive, until exclusive, null = open. */
export interface Span {
  from: number;
  until: number | null;
}

/** True while a span lasts: from is inclusive, until exclusive. */
export function inForce(span: Span, at: number): boolean {
  return span.from <= at && (span.until === null || at < span.until);
}

/** When a span ends that is ended at a moment: never before it began, never after its own end. */
export function endAt(span: Span, at: number): number {
  const end = Math.max(span.from, at);
  return span.until === null ? end : Math.min(span.until, end);
}

/** True if two spans share a moment. */
export function doOverlap(a: Span, b: Span): boolean {
  return (a.until === null || b.from < a.until) && (b.until === null || a.from < b.until);
}

/** True once the end of a span has come; one without an end is never over. */
export function isOver({ until }: Pick<Span, 'until'>, at: number): boolean {
  return until !== null && until <= at;
}

/** True for a span that lasts no moment, as what was undone before it began. */
export function isEmpty({ from, until }: Span): boolean {
  return until !== null && until <= from;
}

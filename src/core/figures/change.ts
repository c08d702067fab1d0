/** Of fewer than so many a share says little: the difference is said as a number. */
const few = 50;
/** Parts per million below which two shares read alike: half of the last digit that is shown. */
const alike = 500;

const signed = (more: number, text: string): string => `${more > 0 ? '+' : '−'}${text}`;

/** How a count differs from what it was: “+6”, “=”; of many, as a share: “+23 %”. */
export function countChange(now: number, before: number, { asShare = false } = {}): string {
  const more = now - before;
  if (more === 0) return '=';
  const size = Math.abs(more);
  return signed(
    more,
    asShare && before >= few ? `${Math.round((size / before) * 100)} %` : size.toLocaleString('en-GB'),
  );
}

/** How a share differs from what it was, in points of a hundred: “+1.3”; empty where there was none. @param now parts per million */
export function shareChange(now: number | null, before: number | null): string {
  if (now === null || before === null) return '';
  const more = now - before;
  return Math.abs(more) < alike ? '=' : signed(more, (Math.abs(more) / 10_000).toFixed(1));
}

/** When the changes of a draft begin, in a few words: "from now on", "from 1 May 2027, 00:00", "each from its own day". @param own starts of their own, null = with the draft @param draft its start, null = at once */
export function beginsInWords(
  own: readonly (number | null)[],
  draft: number | null,
  moment: (at: number) => string,
): string {
  const starts = new Set(own.map((at) => at ?? draft));
  if (starts.size > 1) return 'each from its own day';
  const [only] = starts;
  return only === null || only === undefined ? 'from now on' : `from ${moment(only)}`;
}

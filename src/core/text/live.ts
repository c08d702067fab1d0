/**
 * What a text may ask for in braces: the programme's rate, a product's rate or price, the window in which a visit earns, the notice of lower rates,
 * when a commission clears, when it is paid, and from which amount on.
 */
export const liveWords = ['rate', 'price', 'window', 'notice', 'clearing', 'payment', 'minimum'] as const;
/** Those that need no product’s code. */
export const wordsAlone = liveWords.filter((word) => word !== 'price');
export type LiveWord = (typeof liveWords)[number];

/** A place in a text that is filled when it is read: "{rate WHEEL-1}". */
export interface Placeholder {
  raw: string;
  word: string;
  /** a product's code in capitals, or empty */
  code: string;
}

const pattern = /\{\s*([a-z]+)(?:\s+([A-Za-z0-9-]{2,32}))?\s*\}/g;

/** The placeholders of a text, in order. */
export function placeholdersIn(text: string): Placeholder[] {
  return [...text.matchAll(pattern)].map(([raw, word = '', code = '']) => ({
    raw,
    word,
    code: code.toUpperCase(),
  }));
}

/** The name under which the value of a placeholder is kept: "rate WHEEL-1", "window". */
export function keyOfPlaceholder({ word, code }: Pick<Placeholder, 'word' | 'code'>): string {
  return code ? `${word} ${code}` : word;
}

/**
 * Fills a text with the values of the moment, so that its words never contradict the terms.
 * @param values by key @returns the text, and the placeholders that nothing is known of, which stay as they were typed
 */
export function fillIn(
  text: string,
  values: Readonly<Record<string, string>>,
): { text: string; unknown: string[] } {
  const unknown: string[] = [];
  const filled = text.replace(pattern, (raw: string, word: string, code = '') => {
    const value = values[keyOfPlaceholder({ word, code: code.toUpperCase() })];
    if (value === undefined) unknown.push(raw);
    return value ?? raw;
  });
  return { text: filled, unknown };
}

/** The same as it is read: what nothing is known of any more says so. @param keeps which placeholders are filled later, and stay */
export function readOut(
  text: string,
  values: Readonly<Record<string, string>>,
  keeps: (raw: string) => boolean = () => false,
): string {
  const { text: filled, unknown } = fillIn(text, values);
  return unknown
    .filter((raw) => !keeps(raw))
    .reduce((read, raw) => read.replaceAll(raw, '(not offered now)'), filled);
}

/** How many sentences a text has, by the rules of its language as the platform knows them. */
export function sentencesIn(text: string, language = 'en'): number {
  return [...new Intl.Segmenter(language, { granularity: 'sentence' }).segment(text.trim())].filter(
    (s) => s.segment.trim() !== '',
  ).length;
}

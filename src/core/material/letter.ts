import { plainMarkdown } from './shown';

/** What the words of a ready-made e-mail are filled with for the affiliate who sends it. */
export interface LetterValues {
  link: string;
  name: string;
  handle: string;
  product: string;
  /** a code that its readers may type; empty where there is none now */
  coupon: string;
}

/** The words that a letter may ask for beside the live ones: filled for the affiliate who sends it. */
export const letterWords = [
  'link',
  'name',
  'handle',
  'product',
  'coupon',
] as const satisfies readonly (keyof LetterValues)[];

const places = new RegExp(`\\{\\s*(${letterWords.join('|')})\\s*\\}`, 'g');

/** Whether a placeholder is filled for whoever sends the letter, not with terms. */
export const isLetterPlace = (raw: string): boolean => raw.replace(places, '') === '';

const noCoupon = '(no code at the moment)';

/** Fills a line or a text with the values as they are: for plain text and for subject lines. */
export function inlineLetter(text: string, values: LetterValues): string {
  return text.replace(places, (_, word: keyof LetterValues) =>
    word === 'coupon' && values.coupon === '' ? noCoupon : values[word],
  );
}

/** The text of a letter for a mail without markup. */
export const plainLetter = (text: string, values: LetterValues): string =>
  plainMarkdown(inlineLetter(text, values));

/** Markdown would read these as marks of its own in a name. CommonMark 0.31, any punctuation behind a backslash. */
const literal = (text: string) => text.replace(/[\\`*_[\]<>#!|~&]/g, '\\$&');

/** Fills a text in Markdown: names are read literally, links become links. */
export function markdownLetter(text: string, values: LetterValues): string {
  return text.replace(places, (_, word: keyof LetterValues) => {
    if (word === 'link') return values.link;
    return literal(word === 'coupon' && values.coupon === '' ? noCoupon : values[word]);
  });
}

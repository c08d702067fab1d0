import { diffWordsWithSpace } from 'diff';
import type { differenceMarks } from '../../../core/recruiting/lists';

/** A part of a text against the version before. */
export interface WordChange {
  text: string;
  mark: (typeof differenceMarks)[number];
}

/** So many words are taken out and put in at most; beyond that it would take long and say nothing. */
const mostEdits = 600;
/** A text that keeps less than this share of its letters was written anew. */
const leastKept = 0.2;

const letters = (text: string) => text.replace(/[^\p{L}\p{N}]/gu, '').length;

/** Texts that share next to nothing are shown one after the other, not word by word. */
const anew = (was: string, is: string): WordChange[] => [
  ...(was ? [{ text: is ? `${was}\n` : was, mark: 'removed' as const }] : []),
  ...(is ? [{ text: is, mark: 'added' as const }] : []),
];

/** Words that were taken out and put in between two texts. */
export function wordChanges(was: string, is: string): WordChange[] {
  const found = diffWordsWithSpace(was, is, { maxEditLength: mostEdits });
  if (!found) return anew(was, is);
  const kept = found.filter((p) => !p.added && !p.removed).reduce((n, p) => n + letters(p.value), 0);
  if (kept < leastKept * Math.min(letters(was), letters(is))) return anew(was, is);
  return found.map((p) => ({
    text: p.value,
    mark: p.added ? 'added' : p.removed ? 'removed' : 'same',
  }));
}

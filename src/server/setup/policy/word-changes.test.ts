import { describe, expect, it } from 'vitest';
import { wordChanges } from './word-changes';

describe('words that were taken out and put in', () => {
  it('stand in their sentence', () => {
    expect(wordChanges('Ask us first.', 'Ask us always first.')).toEqual([
      { text: 'Ask us ', mark: 'same' },
      { text: 'always ', mark: 'added' },
      { text: 'first.', mark: 'same' },
    ]);
  });
  it('of a text that is new or gone are all of it', () => {
    expect(wordChanges('', 'New.')).toEqual([{ text: 'New.', mark: 'added' }]);
    expect(wordChanges('Gone.', '')).toEqual([{ text: 'Gone.', mark: 'removed' }]);
    expect(wordChanges('', '')).toEqual([]);
  });
  it('of texts that share next to nothing are not mixed: one after the other', () => {
    const [was, is] = ['Links are marked as advertising.', 'كل الروابط معلمة كإعلان.'];
    expect(wordChanges(was, is)).toEqual([
      { text: `${was}\n`, mark: 'removed' },
      { text: is, mark: 'added' },
    ]);
  });
  it('put together give both texts again, however long', () => {
    const words = (n: number, letter: string) =>
      Array.from({ length: n }, (_, i) => `${letter}${(i * 7919) % 97}`).join(' ');
    for (const [was, is] of [
      ['one two three', 'one three four'],
      [words(5000, 'a'), words(5000, 'b')],
      [words(3000, 'a'), `${words(1500, 'a')} between ${words(3000, 'a')}`],
    ] as const) {
      const parts = wordChanges(was, is);
      const text = (mark: string) =>
        parts
          .filter((p) => p.mark === 'same' || p.mark === mark)
          .map((p) => p.text)
          .join('');
      expect(text('removed').trimEnd()).toBe(was);
      expect(text('added')).toBe(is);
    }
  });
});

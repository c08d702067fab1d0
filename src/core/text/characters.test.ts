import { describe, expect, it } from 'vitest';
import { hasBreaks, printable, unprintable } from './characters';

describe('characters', () => {
  it.each([
    ['a\u0000b', 'U+0000'],
    ['\u001b[31m', 'U+001B'],
    ['a\u007f', 'U+007F'],
    ['a\u0085b', 'U+0085'],
    ['x\u2028y', 'U+2028'],
    ['\u202Eevil', 'U+202E'],
    ['half \ud83d', 'U+D83D'],
    ['\udc00 half', 'U+DC00'],
  ])('%j holds one that cannot be shown', (text, found) => {
    expect(unprintable(text)).toBe(found);
  });
  it.each([
    '',
    'Inês Falcão',
    'two\nlines\r\nand\ta tab',
    'emoji 👩‍🌾 with joiners',
    'עברית ו-العربية',
    '日本',
  ])('%j holds none', (text) => {
    expect(unprintable(text)).toBeNull();
  });
  it('knows a line from a paragraph', () => {
    expect(['one line', 'a\nb', 'a\rb', 'a\tb'].map(hasBreaks)).toEqual([false, true, true, true]);
  });
  it('makes words of others printable', () => {
    expect(printable('A\u0007n\u0007n\nBob')).toBe('A n n Bob');
    expect([
      printable('a\nb\u0000', true),
      printable('Inês 👩‍🌾'),
      unprintable(printable('\ud83d x \u202E')),
    ]).toEqual(['a\nb ', 'Inês 👩‍🌾', null]);
  });
});

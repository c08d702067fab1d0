import fc from 'fast-check';
import { expect, it } from 'vitest';
import { plainMarkdown, plainMarkup, shownText } from './shown';

/** The same in one expression, which takes the square of the length where a tag does not end. */
const naive = (code: string) =>
  code
    .replace(/<(style|script)\b[^>]*>[\s\S]*?<\/\1\s*>/gi, ' ')
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

it.each([
  ['<p>A <b>wheel</b> &amp; a bat</p>', 'A wheel & a bat'],
  ['<style>p { color: red }</style>Clay<script >run("<b>")</SCRIPT  > fired', 'Clay fired'],
  ['<styled>kept</styled><style>only begun', 'kept only begun'],
  ['5 < 6, and more', '5 < 6, and more'],
  ['&lt;b&gt;&nbsp;is text', '<b> is text'],
])('of %s a reader reads “%s”', (code, read) => {
  expect(plainMarkup(code)).toBe(read);
});

it('any markup reads as by one expression', () => {
  const part = fc.constantFrom(
    '<',
    '>',
    '<style>',
    '</style >',
    '<script x="1">',
    '</script>',
    'a',
    ' ',
    '<b>',
    '/',
  );
  fc.assert(
    fc.property(fc.array(part, { maxLength: 14 }), (parts) => {
      expect(plainMarkup(parts.join(''))).toBe(naive(parts.join('')));
    }),
    { seed: 20270312, numRuns: 2000 },
  );
});

it.each(['<', '<style>', '<script ', '<style></style ', '</script'])(
  '100 KB of %s are gone through once',
  (piece) => {
    const code = piece.repeat(100_000 / piece.length);
    expect(plainMarkup(code).length).toBeLessThanOrEqual(code.length);
  },
);

it('Markdown is read without its marks, links with or without their address', () => {
  const text =
    '# A wheel\n**Turns** _well_: [see it](https://shop.quernstone.example/p) and \\*no\\* mark, a_b_c';
  expect(plainMarkdown(text)).toBe(
    'A wheel\nTurns well: see it (https://shop.quernstone.example/p) and *no* mark, a_b_c',
  );
  expect(plainMarkdown('[see it](x)', false)).toBe('see it');
  expect(plainMarkdown('[x](x)')).toBe('x');
});

it('a list shows the words, else the letter, the markup, the address, and no more than some lines', () => {
  const nothing = { alt: '', words: '', code: '', address: '', body: '' };
  expect(shownText({ ...nothing, words: 'Words', body: 'Letter', alt: 'Alt' })).toBe('Words');
  expect(shownText({ ...nothing, body: '**Letter**', code: '<p>Code</p>' })).toBe('Letter');
  expect(shownText({ ...nothing, code: '<p>Code</p>', address: 'https://x' })).toBe('Code');
  expect(shownText({ ...nothing, alt: 'Alt' })).toBe('Alt');
  expect(shownText({ ...nothing, words: 'a '.repeat(200) })).toMatch(/^a .{230,238}…$/);
});

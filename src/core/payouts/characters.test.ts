import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asTransferText, transferText } from './characters';

describe('what a transfer can carry', () => {
  it.each([
    ['Inês Falcão', 'Ines Falcao'],
    ['Søren Ægir Þór', 'Soren AEgir THor'],
    ['Łukasz Weiß', 'Lukasz Weiss'],
    ['Ash & Clay', 'Ash + Clay'],
    ['O’Brien–Smith', "O'Brien-Smith"],
    ['Nguyễn Văn', 'Nguyen Van'],
    ['  Ann ', 'Ann'],
  ])('%s is written %s', (text, value) => {
    expect(transferText(text)).toEqual({ ok: true, value });
  });
  it.each([
    ['陶芸', '陶'],
    ['Ann\u0007', 'U+0007'],
    ['Ann\nBob', 'U+000A'],
    ['a@b', '@'],
    ['<Ann>', '<'],
    ['Ann 🏺', '🏺'],
    ['Мария', 'М'],
    ['x\u200by', 'U+200B'],
  ])('%j is refused for %s', (text, character) => {
    expect(transferText(text)).toEqual({
      ok: false,
      why: expect.stringContaining(`“${character}”`) as string,
    });
  });
  it('slashes stand alone and inside', () => {
    expect(['c/o Ann', '/Ann', 'Ann/', 'a//b'].map((t) => transferText(t).ok)).toEqual([
      true,
      false,
      false,
      false,
    ]);
  });
  it('whatever is carried is of the set, and is carried as it is', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 60 }), (text) => {
        const read = transferText(text);
        const own = asTransferText(text);
        expect(own).toMatch(/^[A-Za-z0-9/\-?:().,'+ ]*$/);
        if (read.ok) {
          expect(read.value).toMatch(/^[A-Za-z0-9/\-?:().,'+ ]*$/);
          expect(transferText(read.value)).toEqual(read);
        }
      }),
    );
  });
});

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { harmlessCell, needsQuotes } from './cells';

it.each([
  ['=1+1', "'=1+1"],
  ['+351 285', "'+351 285"],
  ['-x', "'-x"],
  ['@y', "'@y"],
  ['＝1', "'＝1"],
  ['＋1', "'＋1"],
  ['－1', "'－1"],
  ['＠a', "'＠a"],
  [' =1', " '=1"],
  ['\t=1', "\t'=1"],
  ['a;=1', "a;'=1"],
  ['a, -b', "a, '-b"],
  ['a\n=1', "a\n'=1"],
  ['"=1', '"\'=1'],
  ['x|@y', "x|'@y"],
  ['-12.50', '-12.50'],
  ['-1,234.50', '-1,234.50'],
  ['12', '12'],
  ['a=b', 'a=b'],
  ['one-two', 'one-two'],
  ['mara@loam.example', 'mara@loam.example'],
  ['', ''],
])('%j becomes %j', (value, cell) => {
  expect(harmlessCell(value)).toBe(cell);
});
it('no piece of any cell, parted by whichever separator, begins a formula', () => {
  const text = fc.string({
    unit: fc.constantFrom(
      'a',
      '1',
      '.',
      '=',
      '+',
      '-',
      '@',
      '＝',
      '＠',
      ';',
      ',',
      '|',
      '\t',
      '\n',
      '"',
      ' ',
      "'",
    ),
    maxLength: 14,
  });
  fc.assert(
    fc.property(text, (value) => {
      const cell = harmlessCell(value);
      if (cell === value && /^-?\d+([.,]\d+)*$/.test(value)) return;
      for (const separator of [',', ';', '|', '\t', '\n'])
        for (const piece of cell.split(separator))
          expect(piece.replace(/^[\s"]+/, '')).not.toMatch(/^[=+\-@＝＋－＠]/);
    }),
    { numRuns: 2000 },
  );
});
it('whatever could part a cell stands in quotes', () => {
  expect(['a;b', 'a,b', 'a\tb', 'a|b', 'a"b', "'a", ' a', 'a\nb'].every(needsQuotes)).toBe(true);
  expect(['a', 'a b', '12.50', ''].some(needsQuotes)).toBe(false);
});

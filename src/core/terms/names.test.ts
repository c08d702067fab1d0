import { describe, expect, it } from 'vitest';
import { readNames } from './names';

const said = (text: string) => readNames(text).map((n) => n.said);

describe('names that somebody pasted', () => {
  it('are parted by lines, commas, semicolons and tabs; spaces, quotes and a leading @ do no harm', () => {
    expect(said('  loam-letters , "kiln-notes";@slow-wheel\n\n\tglaze-diary\r\n')).toEqual([
      'loam-letters',
      'kiln-notes',
      'slow-wheel',
      'glaze-diary',
    ]);
  });
  it('keep the line they stood on', () => {
    expect(readNames('\na\nb, c')).toEqual([
      { line: 2, said: 'a' },
      { line: 3, said: 'b' },
      { line: 3, said: 'c' },
    ]);
  });
  it('are one column of a CSV with a heading', () => {
    expect(said('\uFEFFname;handle;country\nMara;loam-letters;PT\nIris;kiln-notes;GB')).toEqual([
      'loam-letters',
      'kiln-notes',
    ]);
    expect(said('Email,Name\nmara@loam.example,Mara')).toEqual(['mara@loam.example']);
    expect(said('handle\na\nb')).toEqual(['a', 'b']);
  });
  it('keep an address whole, and nothing comes of nothing', () => {
    expect(said('mara@loam.example')).toEqual(['mara@loam.example']);
    expect(said(' \n , ;\n')).toEqual([]);
  });
});

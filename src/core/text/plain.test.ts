import { describe, expect, it } from 'vitest';
import { escapeHtml, sizeInWords, tooLargeInWords } from './plain';

describe('plain text', () => {
  it('is safe inside HTML, quotes and all', () => {
    expect(escapeHtml(`<a href="x" title='y'>&`)).toBe('&#60;a href=&#34;x&#34; title=&#39;y&#39;&#62;&#38;');
    expect(escapeHtml(7)).toBe('7');
  });
  it.each([
    [0, '1 KB'],
    [1024, '1 KB'],
    [12_400, '12 KB'],
    [1024 * 1024 - 1, '1024 KB'],
    [1024 * 1024, '1.0 MB'],
    [25 * 1024 * 1024, '25.0 MB'],
  ])('%i bytes are %s', (bytes, words) => {
    expect(sizeInWords(bytes)).toBe(words);
  });
  it.each([
    [11 * 1024 * 1024, '11.0 MB'],
    [10 * 1024 * 1024 + 1, '1 byte more than 10.0 MB'],
    [10 * 1024 * 1024 + 1200, '1,200 bytes more than 10.0 MB'],
  ])('%i bytes where 10 MB are taken: %s', (bytes, words) => {
    expect(tooLargeInWords(bytes, 10 * 1024 * 1024)).toBe(words);
  });
});

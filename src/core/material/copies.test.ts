import { describe, expect, it } from 'vitest';
import { copiesOf, linkWith, type Copied } from './copies';
import { inlineLetter, markdownLetter, plainLetter } from './letter';
import { plainMarkdown, plainMarkup, shownText } from './shown';
import { readSize, shownSize, sizeName } from './sizes';

const piece: Copied = {
  kind: 'banner',
  name: 'Box <blue>',
  link: 'https://g.example/go/abc?s1=a&s2=b',
  handle: 'loam',
  file: 'https://g.example/material/x.png',
  poster: null,
  width: 300,
  height: 250,
  alt: 'A "wheel" & a [bat]',
  words: 'A <wheel>',
  around: 'I throw *at home*: {link}.',
  code: '<a href="{link}">{handle}</a>',
  address: '',
};

describe('what is copied', () => {
  it('of a banner: sizes, alternative text, everything escaped', () => {
    expect(copiesOf(piece)).toEqual({
      html: '<a href="https://g.example/go/abc?s1=a&#38;s2=b"><img src="https://g.example/material/x.png" width="300" height="250" alt="A &#34;wheel&#34; &#38; a [bat]"></a>',
      markdown:
        '[![A "wheel" \\& a \\[bat\\]](https://g.example/material/x.png)](https://g.example/go/abc?s1=a&s2=b)',
      text: 'A "wheel" & a [bat]: https://g.example/go/abc?s1=a&s2=b',
    });
  });
  it('of a text link, with the sentence around it and without', () => {
    const link = 'https://g.example/go/abc';
    expect(copiesOf({ ...piece, kind: 'text-link', link })).toEqual({
      html: 'I throw *at home*: <a href="https://g.example/go/abc">A &#60;wheel&#62;</a>.',
      markdown: 'I throw \\*at home\\*: [A \\<wheel\\>](https://g.example/go/abc).',
      text: 'I throw *at home*: A <wheel> (https://g.example/go/abc).',
    });
    expect(copiesOf({ ...piece, kind: 'text-link', link, around: '' }).text).toBe(
      'A <wheel>: https://g.example/go/abc',
    );
  });
  it('of a piece of HTML: the link escaped for where it stands', () => {
    expect(copiesOf({ ...piece, kind: 'html', handle: 'a"b' }).html).toBe(
      '<a href="https://g.example/go/abc?s1=a&#38;s2=b">a&#34;b</a>',
    );
  });
  it('of a video: the film, or the page that shows it', () => {
    expect(copiesOf({ ...piece, kind: 'video' }).html).toContain('<video controls preload="none" src=');
    const elsewhere = { ...piece, kind: 'video' as const, file: null, address: 'https://v.example/1' };
    expect(copiesOf(elsewhere).html).toContain('<a href="https://v.example/1">Box &#60;blue&#62;</a>');
  });
  it('links take sub-ids and a page of their own', () => {
    expect(linkWith('https://g.example/go/a', {})).toBe('https://g.example/go/a');
    expect(linkWith('https://g.example/go/a', { s2: ' x y ', s1: '' }, 'https://shop.example/p?q=1')).toBe(
      'https://g.example/go/a?s2=x+y&to=https%3A%2F%2Fshop.example%2Fp%3Fq%3D1',
    );
  });
});

describe('a letter', () => {
  const values = {
    link: 'https://g.example/go/a',
    name: 'A *b*',
    handle: 'loam',
    product: 'Wheel',
    coupon: '',
  };
  it('is filled as it is for text, and read literally for Markdown', () => {
    expect(inlineLetter('{name}, {product}: {link}', values)).toBe('A *b*, Wheel: https://g.example/go/a');
    expect(markdownLetter('{name}: [x]({link})', values)).toBe('A \\*b\\*: [x](https://g.example/go/a)');
  });
  it('says that there is no code, and leaves what is not its own', () => {
    expect(inlineLetter('{coupon} {nobody}', values)).toBe('(no code at the moment) {nobody}');
    expect(inlineLetter('{coupon}', { ...values, coupon: 'W10' })).toBe('W10');
  });
  it('without marks for who reads text', () => {
    expect(plainLetter('# Hello\n\n**one** [of *these*]({link}), a_b_c', values)).toBe(
      'Hello\n\none of these (https://g.example/go/a), a_b_c',
    );
  });
});

describe('what is read of a piece in a list', () => {
  it('is its words, its letter, the text of its markup, or its alternative text', () => {
    const nothing = { alt: '', words: '', code: '', address: '', body: '' };
    expect(shownText({ ...nothing, words: 'Words', body: 'Body' })).toBe('Words');
    expect(shownText({ ...nothing, body: '[A link](https://x.example) here' })).toBe('A link here');
    expect(shownText({ ...nothing, code: '<style>a{}</style><p>One&nbsp;&amp; two</p>' })).toBe('One & two');
    expect(shownText({ ...nothing, alt: 'A'.repeat(300) })).toHaveLength(241);
    expect(plainMarkdown('[https://x.example](https://x.example)')).toBe('https://x.example');
    expect(plainMarkup('<script>1<2</script>a')).toBe('a');
  });
});

describe('sizes', () => {
  it('are read as people type them', () => {
    expect(['300x250', '300 × 250', '300X250', '300*250'].map(readSize)).toEqual(
      Array.from({ length: 4 }, () => ({ width: 300, height: 250 })),
    );
    expect(['300', 'x250', '0x10', '300x', 'wide'].map(readSize)).toEqual(
      Array.from({ length: 5 }, () => null),
    );
    expect(sizeName({ width: 728, height: 90 })).toBe('728×90');
  });
  it('a file that was drawn twice as dense is shown at the usual size', () => {
    expect(shownSize({ width: 600, height: 500 })).toEqual({ width: 300, height: 250 });
    expect(shownSize({ width: 300, height: 600 })).toEqual({ width: 300, height: 600 });
    expect(shownSize({ width: 601, height: 500 })).toEqual({ width: 601, height: 500 });
  });
});

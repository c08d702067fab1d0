import { expect, it } from 'vitest';
import { inlineLetter, isLetterPlace, letterWords, markdownLetter, plainLetter } from './letter';

const values = {
  link: 'https://g.example/go/abc_1*2',
  name: 'Loam *Letters*',
  handle: 'loam-letters',
  product: 'Table-top wheel [kit]',
  coupon: '',
};

it('a line is filled as it is, and a letter without a code says that there is none', () => {
  expect(inlineLetter('{name}: { product }, {coupon}', values)).toBe(
    'Loam *Letters*: Table-top wheel [kit], (no code at the moment)',
  );
  expect(inlineLetter('{coupon} by {handle}', { ...values, coupon: 'WHEEL10' })).toBe(
    'WHEEL10 by loam-letters',
  );
});

it('what a value holds is filled no second time', () => {
  expect(inlineLetter('{name}', { ...values, name: '{link}' })).toBe('{link}');
  expect(markdownLetter('{name} {link}', { ...values, name: '{link}' })).toBe(`{link} ${values.link}`);
});

it('in Markdown names are read literally, and a link stays one', () => {
  expect(markdownLetter('**{name}** on {product}: {link}', values)).toBe(
    '**Loam \\*Letters\\*** on Table-top wheel \\[kit\\]: https://g.example/go/abc_1*2',
  );
});

it('the plain text has the words of a link and its address', () => {
  expect(
    plainLetter('Dear **{handle}**, [the wheel]({link}).', { ...values, link: 'https://g.example/go/a' }),
  ).toBe('Dear loam-letters, the wheel (https://g.example/go/a).');
});

it('every word of a letter is filled later, anything else is not one', () => {
  expect(letterWords.map((word) => isLetterPlace(`{${word}}`))).toEqual(letterWords.map(() => true));
  expect(['{rate WHEEL-1}', '{link} and', '{links}', 'link'].map(isLetterPlace)).toEqual([
    false,
    false,
    false,
    false,
  ]);
});

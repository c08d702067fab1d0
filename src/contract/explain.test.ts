import { Type } from '@sinclair/typebox';
import { expect, it } from 'vitest';
import { faultsOf } from '../server/ground/http/validate';
import { explain, type SchemaFault } from './explain';
import {
  closed,
  country,
  decimal,
  email,
  idOf,
  oneOf,
  paragraphs,
  webAddress,
  wholeNumber,
  words,
  wordsRequired,
} from './shared';

const fault = (more: Partial<SchemaFault>): SchemaFault => ({
  pointer: '/name',
  keyword: 'minLength',
  schema: { title: 'Name', examples: ['Loam Letters'] },
  limit: 3,
  value: 'ab',
  ...more,
});

it.each<[Partial<SchemaFault>, string]>([
  [{}, 'Name is too short: at least 3 characters'],
  [{ limit: 1 }, 'Name is empty'],
  [{ value: '' }, 'Name is empty'],
  [{ keyword: 'maxLength', limit: 80 }, 'Name is too long: at most 80 characters'],
  [{ keyword: 'required' }, 'Name is missing'],
  [{ keyword: 'additionalProperties' }, 'Name is not a known field'],
  [{ keyword: 'type', limit: 'integer' }, 'Name has the wrong type: it must be a whole number'],
  [{ keyword: 'type', limit: 'array' }, 'Name has the wrong type: it must be a list'],
  [{ keyword: 'type', limit: 'null' }, 'Name has the wrong type: it must be null'],
  [{ keyword: 'minimum', limit: 0 }, 'Name is too small: at least 0'],
  [{ keyword: 'maximum', limit: 9 }, 'Name is too large: at most 9'],
  [{ keyword: 'minItems', limit: 1 }, 'Name needs at least 1'],
  [{ keyword: 'maxItems', limit: 12 }, 'Name takes at most 12'],
  [{ keyword: 'x-one-line' }, 'Name takes one line, without line breaks and tabs'],
  [
    { keyword: 'x-printable', limit: 'U+0007' },
    'Name holds a character that can be neither shown nor printed (U+0007); take it out',
  ],
  [{ keyword: 'pattern', limit: '^[^@]+@x$' }, 'Name is not an e-mail address'],
  [{ keyword: 'pattern', limit: '^x$' }, 'Name has a form that is not accepted'],
  [{ keyword: 'pattern', limit: '^x$', value: null }, 'Name is empty'],
  [{ keyword: 'enum', schema: { title: 'State', enum: ['on', 'off'] } }, 'State must be one of on, off'],
  [{ keyword: 'something else' }, 'Name is not accepted'],
])('%j is explained', (more, detail) => {
  expect(explain(fault(more)).detail).toBe(detail);
});

it('the example is the first of the field’s; a field without a title goes by its name; the request by itself', () => {
  expect(explain(fault({})).example).toBe('Loam Letters');
  expect(explain(fault({ schema: {} }))).toEqual({
    pointer: '/name',
    detail: 'name is too short: at least 3 characters',
  });
  expect(explain(fault({ schema: {}, pointer: '', keyword: 'type', limit: 'object' })).detail).toBe(
    'The request has the wrong type: it must be an object',
  );
  expect(explain(fault({ keyword: 'x-depth', limit: 20 })).detail).toBe(
    'The request is nested deeper than 20 levels',
  );
  expect(explain(fault({ keyword: 'x-values', limit: 500 })).detail).toBe(
    'The request holds more than 500 values',
  );
});

const schema = closed({
  name: wordsRequired('Name', 20, 'Loam Letters'),
  about: paragraphs('About', 40),
  mail: email(),
  site: webAddress('Site', 'https://loamletters.example'),
  country,
  price: decimal('Price', '12.50'),
  days: wholeNumber('Days', 1, 30, 14),
  state: oneOf('State', ['on', 'off']),
  affiliate: idOf('affiliate'),
  tags: Type.Optional(Type.Array(words('Tag', 10), { maxItems: 2, title: 'Tags' })),
});
const good = {
  name: 'Loam Letters',
  about: 'Two\nlines',
  mail: 'mara@loamletters.example',
  site: 'https://loamletters.example',
  country: 'PT',
  price: '12.50',
  days: 14,
  state: 'on',
  affiliate: 'aff_01j8z',
};
const detailsOf = (more: object) => faultsOf(schema, { ...good, ...more }).map((f) => f.detail);

it('what fits has no faults', () => {
  expect(detailsOf({})).toEqual([]);
  expect(detailsOf({ tags: ['kiln'] })).toEqual([]);
});

it.each<[object, string]>([
  [{ name: ' ' }, 'Name is empty'],
  [{ name: 'two\nlines' }, 'Name takes one line, without line breaks and tabs'],
  [{ about: 'x'.repeat(41) }, 'About is too long: at most 40 characters'],
  [{ mail: 'mara at loam' }, 'E-mail address is not an e-mail address'],
  [{ mail: 'mara@loam' }, 'E-mail address is not an e-mail address'],
  [{ site: 'loamletters.example' }, 'Site is not a web address that begins with http:// or https://'],
  [{ site: 'javascript:alert(1)' }, 'Site is not a web address that begins with http:// or https://'],
  [{ country: 'pt' }, 'Country is not a country code of two capitals'],
  [{ days: 0 }, 'Days is too small: at least 1'],
  [{ days: 1.5 }, 'Days has the wrong type: it must be a whole number'],
  [{ state: 'perhaps' }, 'State must be one of on, off'],
  [{ affiliate: 'ord_01j8z' }, 'Id has a form that is not accepted'],
  [{ tags: ['a', 'b', 'c'] }, 'Tags takes at most 2'],
  [{ colour: 'red' }, '“colour” is not a known field'],
])('%j is refused by what the field is called', (more, detail) => {
  expect(detailsOf(more)).toEqual([detail]);
});

it('all faults are said at once, one a field', () => {
  const all = faultsOf(schema, {});
  expect(all.map((f) => f.pointer).sort()).toEqual(
    Object.keys(good)
      .map((field) => `/${field}`)
      .sort(),
  );
  expect(all.every((f) => f.detail.endsWith('is missing'))).toBe(true);
});

import { expect, it } from 'vitest';
import {
  creativeFaults,
  creativeFields,
  emptyCreative,
  fieldsOfKind,
  fieldWords,
  trimmedCreative,
  type CreativeFields,
} from './creative';
import { creativeKinds, type CreativeKind } from './lists';

const around = {
  hosts: ['shop.quernstone.example'],
  live: { rate: '8 %', 'rate WHEEL-1': '12 %' },
};
const whole: Record<CreativeKind, Partial<CreativeFields>> = {
  banner: { file: 'a'.repeat(64), alt: 'A wheel' },
  'text-link': { words: 'The wheel that lives in a cupboard' },
  html: { code: '<a href="{link}">A wheel</a>' },
  video: { address: 'https://video.quernstone.example/wheel' },
  email: { subjects: ['My first pot'], body: 'Dear {name}, it arrived: {link}' },
};
const faults = (kind: CreativeKind, fields: Partial<CreativeFields>) =>
  creativeFaults(
    kind,
    { ...emptyCreative, name: 'A piece', products: ['prd_wheel'], ...whole[kind], ...fields },
    around,
  ).map(({ field, detail }) => [field, detail]);

it.each(creativeKinds)('a whole %s has no fault, and an empty one is told what is missing', (kind) => {
  expect(faults(kind, {})).toEqual([]);
  if (kind === 'html') return;
  const emptied = Object.fromEntries(Object.keys(whole[kind]).map((f) => [f, emptyCreative[f as 'words']]));
  expect(faults(kind, emptied).length).toBeGreaterThan(0);
});

it.each<[CreativeKind, Partial<CreativeFields>, string, RegExp]>([
  ['banner', { products: [] }, 'landing', /whole programme needs one/],
  ['banner', { landing: 'https://elsewhere.example/' }, 'landing', /not among the hosts/],
  ['banner', { from: 20, until: 20 }, 'until', /later than the start/],
  ['banner', { alt: 'For {rate KILN-S}' }, 'alt', /\{rate KILN-S\} cannot be filled in/],
  ['banner', { note: '{name}' }, 'note', /\{name\} cannot be filled in/],
  ['text-link', { words: 'A <b>wheel</b>' }, 'words', /markup is not taken/],
  ['text-link', { around: 'Look at it.' }, 'around', /\{link\} has to stand in it once/],
  ['text-link', { around: '{link} and {link}' }, 'around', /\{link\} has to stand in it once/],
  ['video', { file: 'a'.repeat(64) }, 'address', /keep one of both/],
  ['video', { address: 'http://video.quernstone.example/wheel' }, 'address', /begin with https/],
  ['video', { address: 'https://me:x@video.quernstone.example/wheel' }, 'address', /begin with https/],
  ['email', { subjects: ['One', ' '] }, 'subjects', /none of them empty/],
  ['email', { body: 'Nothing to press' }, 'body', /\{link\} is missing/],
  ['email', { body: '{link} {luck}' }, 'body', /\{luck\} cannot be filled in/],
])('%s with %j is refused at its field', (kind, fields, field, why) => {
  expect(faults(kind, fields)).toEqual([[field, expect.stringMatching(why)]]);
});

it('what braces a kind fills is no fault of it', () => {
  expect(
    faults('email', { body: '{link} {name} {handle} {product} {coupon} {rate} {rate WHEEL-1}' }),
  ).toEqual([]);
  expect(faults('text-link', { words: 'Earn {rate WHEEL-1}', around: 'Now: {link}, {rate}' })).toEqual([]);
});

it('what a kind has no use for is emptied, and texts lose the blanks around them', () => {
  const full: CreativeFields = {
    ...{
      ...emptyCreative,
      name: '  A  piece ',
      subject: ' Mud \n season ',
      products: ['prd_a', 'prd_a', 'prd_b'],
    },
    ...{ file: 'a', poster: 'b', alt: ' alt ', words: ' w ', around: 'x', code: ' c ', address: 'd' },
    ...{ subjects: [' s '], body: ' b ' },
  };
  for (const kind of creativeKinds) {
    const kept = trimmedCreative(kind, full);
    for (const field of creativeFields)
      if (!fieldsOfKind[kind].includes(field))
        expect([field, kept[field]]).toEqual([field, emptyCreative[field]]);
    expect([kept.name, kept.subject, kept.products]).toEqual(['A  piece', 'Mud season', ['prd_a', 'prd_b']]);
    expect(trimmedCreative(kind, kept)).toEqual(kept);
  }
  expect(trimmedCreative('email', full).subjects).toEqual(['s']);
});

it('every field belongs to a kind, and has a name', () => {
  expect(new Set(creativeKinds.flatMap((kind) => fieldsOfKind[kind]))).toEqual(new Set(creativeFields));
  expect(Object.keys(fieldWords).sort()).toEqual([...creativeFields].sort());
});

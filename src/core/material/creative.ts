import type { Id } from '../text/id';
import { liveWords, placeholdersIn } from '../text/live';
import type { Audience } from './audience';
import { landingFault } from './landing';
import { letterWords } from './letter';
import type { CreativeKind } from './lists';

/** The fields of a creative that a person sets. What its kind has no use for is empty. Moments are UTC milliseconds. */
export interface CreativeFields {
  name: string;
  /** one of the merchant's own short list; empty for none */
  subject: string;
  /** what it promotes; empty for the whole programme */
  products: readonly Id<'product'>[];
  /** where it leads; empty for the page of its product */
  landing: string;
  language: string;
  audience: Audience;
  active: boolean;
  from: number | null;
  until: number | null;
  /** to affiliates */
  note: string;
  /** of a banner or a video: the file, by the digest of its content */
  file: string | null;
  /** of a video: the picture before it plays */
  poster: string | null;
  /** of a banner: what is read where it is not seen */
  alt: string;
  /** of a text link, and the sentence around it with {link} where they stand */
  words: string;
  around: string;
  /** of a piece of HTML */
  code: string;
  /** of a video on another host */
  address: string;
  /** of an e-mail */
  subjects: readonly string[];
  body: string;
}

export type CreativeField = keyof CreativeFields;

export const creativeFields = [
  'name',
  'subject',
  'products',
  'landing',
  'language',
  'audience',
  'active',
  'from',
  'until',
  'note',
  'file',
  'poster',
  'alt',
  'words',
  'around',
  'code',
  'address',
  'subjects',
  'body',
] as const satisfies readonly CreativeField[];

const common: readonly CreativeField[] = creativeFields.slice(0, 10);

/** The fields that a kind has. */
export const fieldsOfKind: Record<CreativeKind, readonly CreativeField[]> = {
  banner: [...common, 'file', 'alt'],
  'text-link': [...common, 'words', 'around'],
  html: [...common, 'code'],
  video: [...common, 'file', 'address', 'poster'],
  email: [...common, 'subjects', 'body'],
};

/** What fields are called where a sentence names them. */
export const fieldWords: Record<CreativeField, string> = {
  name: 'name',
  subject: 'subject',
  products: 'products',
  landing: 'landing page',
  language: 'language',
  audience: 'audience',
  active: 'switch',
  from: 'start',
  until: 'end',
  note: 'note to affiliates',
  file: 'file',
  poster: 'poster picture',
  alt: 'alternative text',
  words: 'words',
  around: 'sentence around it',
  code: 'code',
  address: 'address of the video',
  subjects: 'subject lines',
  body: 'text',
};

/** A creative without anything, for a form to begin with. */
export const emptyCreative: CreativeFields = {
  name: '',
  subject: '',
  products: [],
  landing: '',
  language: 'en',
  audience: { kind: 'everybody' },
  active: true,
  from: null,
  until: null,
  note: '',
  file: null,
  poster: null,
  alt: '',
  words: '',
  around: '',
  code: '',
  address: '',
  subjects: [],
  body: '',
};

export interface CreativeFault {
  field: CreativeField;
  detail: string;
  example?: string;
}

/** What a fault is judged by beside the creative itself. */
export interface Surroundings {
  /** hosts that links may lead to */
  hosts: readonly string[];
  /** keys of live words that can be filled: “rate WHEEL-1” */
  live: Readonly<Record<string, string>>;
}

const markup = /<\s*[a-z!/]/i;

function unfilled(text: string, own: readonly string[], live: Surroundings['live']): string[] {
  return placeholdersIn(text)
    .filter(({ word, code }) => !(own.includes(word) && code === ''))
    .filter(({ word, code }) => live[code ? `${word} ${code}` : word] === undefined)
    .map(({ raw }) => raw);
}

const braces = 'the rate or price of a product by its code, and';

/** Words of a field that nothing can fill. */
function wordFaults(
  field: CreativeField,
  text: string,
  own: readonly string[],
  { live }: Surroundings,
): CreativeFault[] {
  const unknown = unfilled(text, own, live);
  if (!unknown.length) return [];
  const others = [...own, ...liveWords.filter((word) => word !== 'price')].map((word) => `{${word}}`);
  return [
    {
      field,
      detail: `${capital(fieldWords[field])}: ${unknown.slice(0, 5).join(', ')} cannot be filled in; known are ${braces} ${others.join(', ')}`,
      example: '{rate WHEEL-1}',
    },
  ];
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

function dateFaults({ from, until }: CreativeFields): CreativeFault[] {
  return from !== null && until !== null && until <= from
    ? [{ field: 'until', detail: 'End: it has to be later than the start' }]
    : [];
}

function landingFaults(fields: CreativeFields, kind: CreativeKind, { hosts }: Surroundings): CreativeFault[] {
  if (fields.landing === '')
    return fields.products.length > 0
      ? []
      : [
          {
            field: 'landing',
            detail: `Landing page: ${kind === 'email' ? 'an e-mail' : 'a piece'} for the whole programme needs one, since there is no product to lead to`,
            example: hosts[0] ? `https://${hosts[0]}/` : 'https://shop.quernstone.example/',
          },
        ];
  const why = landingFault(fields.landing, hosts);
  return why
    ? [
        {
          field: 'landing',
          detail: `Landing page: ${why}`,
          example: hosts[0] ? `https://${hosts[0]}/` : 'https://shop.quernstone.example/',
        },
      ]
    : [];
}

type KindFaults = (fields: CreativeFields, around: Surroundings) => CreativeFault[];

const bannerFaults: KindFaults = ({ file, alt }, around) => [
  ...(file === null
    ? [{ field: 'file', detail: 'File: choose the picture of the banner' } satisfies CreativeFault]
    : []),
  ...wordFaults('alt', alt, [], around),
];

const textLinkFaults: KindFaults = ({ words, around: sentence }, around) => [
  ...(words.trim() === ''
    ? [
        {
          field: 'words',
          detail: 'Words: they are missing',
          example: 'The wheel that lives in a cupboard',
        } satisfies CreativeFault,
      ]
    : []),
  ...(['words', 'around'] as const)
    .filter((field) => markup.test(field === 'words' ? words : sentence))
    .map((field) => ({
      field,
      detail: `${capital(fieldWords[field])}: markup is not taken, affiliates put it on pages of their own; write plain words`,
    })),
  ...(sentence !== '' && sentence.split('{link}').length !== 2
    ? [
        {
          field: 'around',
          detail: 'Sentence around it: {link} has to stand in it once, where the words are put',
          example: 'I throw at home now: {link}.',
        } satisfies CreativeFault,
      ]
    : []),
  ...wordFaults('words', words, [], around),
  ...wordFaults('around', sentence, ['link'], around),
];

const videoFaults: KindFaults = ({ file, address }) => {
  if (file === null && address === '')
    return [{ field: 'file', detail: 'File: choose an MP4, or give the address of a video on another host' }];
  if (file !== null && address !== '')
    return [{ field: 'address', detail: 'Address of the video: there is a file already; keep one of both' }];
  return address !== '' && !/^https:\/\/[^\s/@]+\/\S*$/.test(address)
    ? [
        {
          field: 'address',
          detail: 'Address of the video: it has to begin with https:// and name a page',
          example: 'https://video.quernstone.example/wheel',
        },
      ]
    : [];
};

const emailFaults: KindFaults = ({ subjects, body }, around) => {
  const faults: CreativeFault[] = [];
  if (subjects.length === 0 || subjects.some((line) => line.trim() === ''))
    faults.push({
      field: 'subjects',
      detail: 'Subject lines: at least one, and none of them empty',
      example: 'My first pot',
    });
  if (!body.includes('{link}'))
    faults.push({
      field: 'body',
      detail: 'Text: {link} is missing; without it no reader can buy and nobody earns',
      example: 'Dear {name}, my wheel arrived: {link}',
    });
  faults.push(...wordFaults('subjects', subjects.join('\n'), letterWords, around));
  faults.push(...wordFaults('body', body, letterWords, around));
  return faults;
};

const kindFaults: Record<CreativeKind, KindFaults> = {
  banner: bannerFaults,
  'text-link': textLinkFaults,
  html: () => [],
  video: videoFaults,
  email: emailFaults,
};

/** Everything that is wrong with a creative, by field; a piece of HTML is looked into by who can read markup. */
export function creativeFaults(
  kind: CreativeKind,
  fields: CreativeFields,
  around: Surroundings,
): CreativeFault[] {
  return [
    ...landingFaults(fields, kind, around),
    ...dateFaults(fields),
    ...kindFaults[kind](fields, around),
    ...wordFaults('note', fields.note, [], around),
  ];
}

/** A creative with what its kind has no use for left empty, and texts without blanks around them. */
export function trimmedCreative(kind: CreativeKind, fields: CreativeFields): CreativeFields {
  const kept: CreativeFields = { ...emptyCreative };
  for (const field of fieldsOfKind[kind]) Object.assign(kept, { [field]: trimmed(fields[field]) });
  return { ...kept, products: [...new Set(kept.products)], subject: kept.subject.replace(/\s+/g, ' ') };
}

function trimmed(value: unknown): unknown {
  if (typeof value === 'string') return value.trim();
  return Array.isArray(value) ? value.map(trimmed) : value;
}

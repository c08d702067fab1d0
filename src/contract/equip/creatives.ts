import { Type } from '@sinclair/typebox';
import { audienceKinds, creativeKinds, creativeOrders, creativeStates } from '../../core/material/lists';
import { mostPieceBytes } from '../../core/material/piece';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  filtered,
  idOf,
  Moment,
  nullable,
  oneOf,
  page,
  paragraphs,
  searchText,
  Version,
  webAddress,
  words,
  wordsRequired,
} from '../shared';
import { AudienceIn } from './audience';
import { FileOut, hash } from './material';
import { PlannedOut } from './planned-out';

const fields = {
  name: wordsRequired('Name', 80, 'Box, blue'),
  subject: words('Subject', 40, { example: 'Easter' }),
  products: Type.Array(idOf('product'), { maxItems: 50, title: 'Products' }),
  landing: webAddress('Landing page', 'https://shop.quernstone.example/easter', 0),
  language: words('Language', 12, { least: 2, example: 'en', pattern: '^[a-z]{2,3}(-[A-Za-z0-9]{2,8})?$' }),
  audience: AudienceIn,
  active: Type.Boolean({ title: 'Switched on' }),
  from: nullable(Moment),
  until: nullable(Moment),
  note: paragraphs('Note to affiliates', 500, { example: 'Best beside a text about small kitchens.' }),
  file: nullable(hash('File')),
  poster: nullable(hash('Poster picture')),
  alt: words('Alternative text', 300, { example: 'A wheel on a kitchen table' }),
  words: words('Words', 120, { example: 'The wheel that lives in a cupboard' }),
  around: words('Sentence around it', 500, { example: 'I throw at home now: {link}.' }),
  code: paragraphs('Code', mostPieceBytes, { example: '<a href="{link}">A wheel that fits</a>' }),
  address: webAddress('Address of the video', 'https://video.quernstone.example/wheel', 0),
  subjects: Type.Array(words('Subject line', 150, { example: 'My first pot' }), {
    maxItems: 5,
    title: 'Subject lines',
  }),
  body: paragraphs('Text', 10_000, { example: 'Dear {name}, my wheel arrived: {link}' }),
};
export const CreativeIn = closed({ kind: oneOf('Kind', creativeKinds), ...fields });
export const CreativeEdit = closed({ ...fields, version: Version });

const Promotes = closed({ id: idOf('product'), code: Type.String(), name: Type.String() });
const CreativeRow = closed({
  id: idOf('creative'),
  kind: oneOf('Kind', creativeKinds),
  name: Type.String(),
  subject: Type.String(),
  state: oneOf('State', creativeStates),
  from: nullable(Moment),
  until: nullable(Moment),
  active: Type.Boolean(),
  language: Type.String(),
  products: Type.Array(Promotes),
  audience: Type.String({ description: 'in words' }),
  file: nullable(FileOut),
  poster: nullable(FileOut),
  shown: Type.String({ description: 'what is read of it in a list: its words, its first lines' }),
  clicks: Type.Integer({ description: 'counted clicks of the last 90 days' }),
  orders: Type.Integer({ description: 'orders of them' }),
  conversion: nullable(Type.Integer({ description: 'parts per million of the clicks' })),
  unused: Type.Boolean({ description: 'on for a while, and nobody has clicked on it' }),
  planned: nullable(Moment),
  contradicts: Type.Array(closed({ says: Type.String(), stands: Type.String() }), {
    description: 'what its words say otherwise than it is',
  }),
  createdAt: Moment,
  version: Version,
});
export type CreativeRow = (typeof CreativeRow)['static'];

export const CreativeOut = closed({
  ...fields,
  id: idOf('creative'),
  kind: oneOf('Kind', creativeKinds),
  state: oneOf('State', creativeStates),
  row: CreativeRow,
  leads: Type.String({ description: 'where its links lead now; empty where they lead nowhere' }),
  advice: Type.Array(Type.String()),
  planned: Type.Array(PlannedOut),
  reads: closed({ words: Type.String(), around: Type.String(), code: Type.String(), body: Type.String() }),
  named: Type.Array(closed({ id: idOf('affiliate'), name: Type.String() }), {
    description: 'those whom its audience names',
  }),
  files: closed({ file: nullable(FileOut), poster: nullable(FileOut) }),
  removed: Type.Boolean(),
  createdAt: Moment,
  by: Type.String(),
  version: Version,
});
export type CreativeOut = (typeof CreativeOut)['static'];

export const creativeFilter = {
  kind: Type.Optional(oneOf('Kind', creativeKinds)),
  product: Type.Optional(Type.Union([idOf('product'), Type.Literal('programme')])),
  subject: Type.Optional(words('Subject', 40)),
  size: Type.Optional(words('Size', 12, { example: '300x250' })),
  language: Type.Optional(words('Language', 12)),
  audience: Type.Optional(
    Type.Union([oneOf('Audience', audienceKinds), idOf('set', 'segment', 'affiliate')]),
  ),
  state: Type.Optional(
    Type.Union([
      oneOf('State', creativeStates),
      Type.Literal('unused'),
      Type.Literal('contradicts'),
      Type.Literal('removed'),
    ]),
  ),
  q: searchText,
};
export const listCreatives = endpoint('GET', '/api/v1/creatives', {
  summary: 'The sample book: creatives, newest first or by clicks',
  access: readers,
  query: filtered({ ...creativeFilter, order: Type.Optional(oneOf('Order', creativeOrders)) }),
  reply: page(CreativeRow),
});
export const surveyCreatives = endpoint('GET', '/api/v1/creatives/survey', {
  summary: 'What the sample book can be narrowed by: kinds, subjects, sizes, languages, with their numbers',
  access: readers,
  reply: closed({
    total: Type.Integer(),
    kinds: Type.Array(closed({ kind: oneOf('Kind', creativeKinds), count: Type.Integer() })),
    subjects: Type.Array(Type.String()),
    sizes: Type.Array(Type.String()),
    languages: Type.Array(Type.String()),
    hosts: Type.Array(Type.String()),
  }),
});
export const readCreative = endpoint('GET', '/api/v1/creatives/:id', {
  summary: 'A creative whole, with what is planned for it',
  access: readers,
  params: byId('creative'),
  reply: CreativeOut,
});
export const createCreative = endpoint('POST', '/api/v1/creatives', {
  summary: 'Make a creative',
  access: managing,
  once: true,
  body: CreativeIn,
  reply: CreativeOut,
});
export const editCreative = endpoint('PUT', '/api/v1/creatives/:id', {
  summary: 'Change a creative',
  access: managing,
  once: true,
  params: byId('creative'),
  body: CreativeEdit,
  reply: CreativeOut,
});
export const removeCreative = endpoint('POST', '/api/v1/creatives/:id/remove', {
  summary: 'Take a creative out of the sample book, or bring it back; its links lead on either way',
  access: managing,
  once: true,
  params: byId('creative'),
  body: closed({ on: Type.Boolean({ title: 'Away' }) }),
  reply: CreativeOut,
});

import { Type } from '@sinclair/typebox';
import { creativeKinds } from '../../core/material/lists';
import { endpoint } from '../endpoint';
import { FileOut } from '../equip/material';
import { byId, closed, filtered, idOf, Moment, nullable, oneOf, page, searchText, words } from '../shared';

const Promotes = closed({ code: Type.String(), name: Type.String() });
const OwnRow = closed({
  id: idOf('creative'),
  kind: oneOf('Kind', creativeKinds),
  name: Type.String(),
  subject: Type.String(),
  note: Type.String(),
  language: Type.String(),
  products: Type.Array(Promotes),
  file: nullable(FileOut),
  poster: nullable(FileOut),
  width: nullable(Type.Integer()),
  height: nullable(Type.Integer()),
  shown: Type.String({ description: 'its words as this affiliate reads them' }),
  until: nullable(Moment),
  since: Moment,
  isNew: Type.Boolean({ description: 'came since this affiliate was here before' }),
});
export type OwnRow = (typeof OwnRow)['static'];

const Copies = closed({
  link: Type.String(),
  html: Type.String(),
  markdown: Type.String(),
  text: Type.String(),
});
export const OwnCreative = closed({
  row: OwnRow,
  /** null until it is asked for the first time */
  copies: nullable(Copies),
  alt: Type.String(),
  words: Type.String(),
  around: Type.String(),
  code: Type.String(),
  address: Type.String(),
  subjects: Type.Array(Type.String()),
  letter: closed({ text: Type.String(), html: Type.String() }),
  leads: Type.String(),
});
export type OwnCreative = (typeof OwnCreative)['static'];

export const listOwnMaterial = endpoint('GET', '/api/v1/portal/material', {
  summary: 'What an affiliate may promote with now, newest first',
  access: 'affiliate',
  query: filtered({
    kind: Type.Optional(oneOf('Kind', creativeKinds)),
    product: Type.Optional(words('Product', 32)),
    size: Type.Optional(words('Size', 12, { example: '300x250' })),
    subject: Type.Optional(words('Subject', 40)),
    language: Type.Optional(words('Language', 12)),
    q: searchText,
  }),
  reply: page(OwnRow),
});
export const surveyOwnMaterial = endpoint('GET', '/api/v1/portal/material/survey', {
  summary: 'What an affiliate’s material can be narrowed by, and how much of it is new',
  access: 'affiliate',
  reply: closed({
    total: Type.Integer(),
    fresh: Type.Integer(),
    kinds: Type.Array(closed({ kind: oneOf('Kind', creativeKinds), count: Type.Integer() })),
    products: Type.Array(Promotes),
    /** what material can be asked for: products on sale that the affiliate may promote */
    asked: Type.Array(Promotes),
    subjects: Type.Array(Type.String()),
    sizes: Type.Array(Type.String()),
    languages: Type.Array(Type.String()),
  }),
});
export const readOwnMaterial = endpoint('GET', '/api/v1/portal/material/:id', {
  summary: 'A creative as an affiliate uses it',
  access: 'affiliate',
  params: byId('creative'),
  reply: OwnCreative,
});
export const takeOwnMaterial = endpoint('POST', '/api/v1/portal/material/:id/link', {
  summary: 'Take a creative: its own tracking link is made the first time',
  access: 'affiliate',
  params: byId('creative'),
  reply: OwnCreative,
});
export const ownLetter = endpoint('GET', '/api/v1/portal/material/:id/letter.eml', {
  summary: 'A ready-made e-mail as a file that mail programs open',
  access: 'affiliate',
  params: byId('creative'),
  query: closed({ subject: Type.Optional(Type.Integer({ minimum: 1, maximum: 5, title: 'Subject line' })) }),
  media: 'message/rfc822',
});
export const noteSeen = endpoint('POST', '/api/v1/portal/seen', {
  summary: 'Say that one is here: what came since the last time is marked as new',
  access: 'affiliate',
});

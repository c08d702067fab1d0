import { Type } from '@sinclair/typebox';
import { entrySpeakers, noticeKinds } from '../../core/recruiting/lists';
import { entryStates } from '../../core/recruiting/states';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  paragraphs,
  Version,
  words,
  wordsRequired,
} from '../shared';

const fields = {
  headline: wordsRequired('Headline', 120, 'A wheel that fits on a kitchen table'),
  about: paragraphs('Description', 3000, {
    example: 'Everything to throw the first twenty pots, for {price WHEEL-1}.',
  }),
  benefits: Type.Array(wordsRequired('Benefit', 200, 'Two years of warranty'), {
    maxItems: 8,
    title: 'Benefits',
  }),
  language: words('Language', 12, { least: 2, example: 'en', pattern: '^[a-z]{2,3}(-[A-Za-z0-9]{2,8})?$' }),
  products: Type.Array(idOf('product'), { minItems: 1, maxItems: 12, title: 'Products' }),
  category: wordsRequired('Category', 60, 'Crafts and studio supplies'),
};
const Word = closed({
  id: idOf('entryWord'),
  at: Moment,
  from: oneOf('From', entrySpeakers),
  by: Type.String(),
  text: Type.String(),
});
export const OfferOut = closed({
  id: idOf('offer'),
  slug: Type.String(),
  ...fields,
  address: Type.String(),
  live: Type.Boolean(),
  entry: oneOf('Entry', entryStates),
  entryAt: nullable(Moment),
  submittedAt: nullable(Moment),
  fault: nullable(Type.String()),
  words: Type.Array(Word),
  reads: Type.String({ description: 'the description as it reads now' }),
  names: Type.Array(Type.String()),
  rate: Type.String(),
  epc: nullable(MoneyOut),
  createdAt: Moment,
  version: Version,
});
export const listOffers = endpoint('GET', '/api/v1/offers', {
  summary: 'Offer pages, and where each stands in the catalogue',
  access: readers,
  reply: closed({
    rows: Type.Array(OfferOut),
    categories: Type.Array(Type.String()),
    registry: Type.Boolean(),
  }),
});
export const createOffer = endpoint('POST', '/api/v1/offers', {
  summary: 'Make an offer page, as a draft',
  access: managing,
  once: true,
  body: closed(fields),
  reply: OfferOut,
});
export const editOffer = endpoint('PUT', '/api/v1/offers/:id', {
  summary: 'Change an offer page',
  access: managing,
  once: true,
  params: byId('offer'),
  body: closed({ ...fields, version: Version }),
  reply: OfferOut,
});
export const showOffer = endpoint('POST', '/api/v1/offers/:id/live', {
  summary: 'Open the page to everybody, or close it',
  access: managing,
  once: true,
  params: byId('offer'),
  body: closed({ on: Type.Boolean({ title: 'Open' }), version: Version }),
  reply: OfferOut,
});
export const removeOffer = endpoint('POST', '/api/v1/offers/:id/remove', {
  summary: 'Remove an offer page',
  access: managing,
  once: true,
  params: byId('offer'),
});
export const submitOffer = endpoint('POST', '/api/v1/offers/:id/submit', {
  summary: 'Submit it to the registry’s catalogue',
  access: managing,
  once: true,
  params: byId('offer'),
  reply: OfferOut,
});
export const answerReviewer = endpoint('POST', '/api/v1/offers/:id/answer', {
  summary: 'Answer the catalogue’s reviewer',
  access: managing,
  once: true,
  params: byId('offer'),
  body: closed({
    text: paragraphs('Answer', 2000, {
      least: 2,
      example: 'We send to the whole of Europe and pay for returns.',
    }),
  }),
  reply: OfferOut,
});
export const compareOffer = endpoint('GET', '/api/v1/offers/:id/others', {
  summary: 'Other entries of its category: rate and earning per 100 clicks',
  access: readers,
  params: byId('offer'),
  reply: closed({
    rows: Type.Array(
      closed({
        programme: Type.String(),
        headline: Type.String(),
        ratePpm: nullable(Type.Integer()),
        epc: nullable(MoneyOut),
        own: Type.Boolean(),
      }),
    ),
    rate: nullable(closed({ place: Type.Integer(), of: Type.Integer() })),
    earning: nullable(closed({ place: Type.Integer(), of: Type.Integer() })),
    fault: nullable(Type.String()),
  }),
});
const Notice = closed({
  id: idOf('news'),
  kind: oneOf('Kind', noticeKinds),
  title: Type.String(),
  body: Type.String(),
  at: Moment,
  product: nullable(closed({ id: idOf('product'), name: Type.String() })),
});
export const listNotices = endpoint('GET', '/api/v1/notices', {
  summary: 'News and notes for affiliates, newest first',
  access: readers,
  reply: closed({ rows: Type.Array(Notice) }),
});
export const createNotice = endpoint('POST', '/api/v1/notices', {
  summary: 'Write news or a note, of a product or of the programme',
  access: managing,
  once: true,
  body: closed({
    kind: oneOf('Kind', noticeKinds),
    title: wordsRequired('Title', 120, 'Wheels are back in stock'),
    body: paragraphs('Text', 3000, { example: 'Forty more leave the workshop on Monday.' }),
    product: nullable(idOf('product')),
  }),
  reply: Notice,
});
export const removeNotice = endpoint('POST', '/api/v1/notices/:id/remove', {
  summary: 'Take news or a note away, or bring it back',
  access: managing,
  once: true,
  params: byId('news'),
  body: closed({ on: Type.Boolean({ title: 'Away' }) }),
});

const PublicProduct = closed({
  code: Type.String(),
  name: Type.String(),
  description: Type.String(),
  price: Type.String(),
  /** empty where affiliates may not promote it */
  reward: Type.String(),
  renewals: Type.String(),
  picture: Type.String(),
  epc: nullable(MoneyOut),
});
export const readOffer = endpoint('GET', '/api/v1/offer/:slug', {
  summary: 'An offer page as everybody reads it',
  access: 'open',
  params: closed({ slug: words('Page', 80, { least: 1 }) }),
  reply: closed({
    programme: Type.String(),
    logo: nullable(Type.String()),
    contact: Type.String(),
    headline: Type.String(),
    about: Type.String(),
    benefits: Type.Array(Type.String()),
    language: Type.String(),
    products: Type.Array(PublicProduct),
    notices: Type.Array(Notice),
    live: Type.Boolean({ description: 'false: only staff see it' }),
  }),
});
export const readResources = endpoint('GET', '/api/v1/portal/resources', {
  summary: 'What an affiliate works with: news, notes, offer pages with its own links',
  access: 'affiliate',
  reply: closed({
    notices: Type.Array(Notice),
    /** what the affiliate promotes */
    products: Type.Array(
      closed({
        id: idOf('product'),
        code: Type.String(),
        name: Type.String(),
        description: Type.String(),
        price: Type.String(),
        reward: Type.String(),
        renewals: Type.String(),
        link: Type.String(),
        picture: Type.String(),
      }),
    ),
    offers: Type.Array(
      closed({
        headline: Type.String(),
        address: Type.String(),
        products: Type.Array(
          closed({
            name: Type.String(),
            reward: Type.String(),
            renewals: Type.String(),
            link: nullable(Type.String()),
            picture: Type.String(),
          }),
        ),
      }),
    ),
  }),
});

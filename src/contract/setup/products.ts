import { Type, type TOptional, type TSchema } from '@sinclair/typebox';
import { handings } from '../../core/material/handed';
import { deliveries, productStates, recruitings, rewardKinds } from '../../core/pricing/lists';
import { intervals, productKinds } from '../../core/pricing/product';
import { lockedEvents, shareBases } from '../../core/terms/lists';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  decimal,
  filtered,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  paragraphs,
  searchText,
  Version,
  webAddress,
  wholeNumber,
  words,
  wordsRequired,
} from '../shared';

const fields = {
  code: words('Code', 32, { least: 2, example: 'WHEEL-1', pattern: '^[A-Za-z0-9]+(-[A-Za-z0-9]+)*$' }),
  name: wordsRequired('Name', 120, 'Table-top wheel kit'),
  description: paragraphs('Description', 4000, {
    example: 'A wheel, a splash pan and a bat, ready to throw.',
  }),
  currency: words('Currency', 3, { least: 3, example: 'EUR' }),
  price: decimal('Price', '199.00'),
  refundDays: wholeNumber('Refund window', 0, 365, 14),
  salesPage: webAddress('Sales page', 'https://shop.quernstone.example/wheel', 0),
  rewardKind: oneOf('Commission kind', rewardKinds),
  reward: decimal('Commission', '12.5'),
};
/** bytes: a picture as it was taken, a file that is delivered */
export const largestPicture = 4 * 1024 * 1024;
export const largestFile = 25 * 1024 * 1024;
const page_ = (title: string, example: string) => webAddress(title, example, 0);

/** What only some kinds of product need, and how a product presents itself. Left out = as it was, or as a plain product has it. */
const more = {
  kind: oneOf('Kind of sale', productKinds),
  language: words('Language', 8, { example: 'en', pattern: '^([a-z]{2}(-[A-Z]{2})?)?$' }),
  contentKind: words('Kind of content', 60, { example: 'pottery wheel' }),
  categories: words('Categories', 200, { example: 'craft, pottery' }),
  keywords: words('Keywords', 200, { example: 'wheel, throwing' }),
  supportAddress: words('Support address', 254, {
    example: 'help@quernstone.example',
    pattern: '^(\\s*|[^\\s@]+@[^\\s@]+\\.[^\\s@]{2,})$',
  }),
  supportPage: page_('Support page', 'https://shop.quernstone.example/help'),
  receiptNote: paragraphs('Receipt note', 500, { example: 'Fire it empty once before the first glaze.' }),
  saleNotice: Type.Boolean({ title: 'Sale notice' }),
  delivery: oneOf('Delivery', deliveries),
  downloadDays: wholeNumber('Link good for', 1, 90, 7),
  confirmOffer: Type.Boolean({ title: 'Offered on the confirmation page' }),
  confirmNotAfter: words('But not after', 400, { example: 'WHEEL-1, KILN-S' }),
  accessPage: page_('Access page', 'https://shop.quernstone.example/open'),
  accessParameters: words('Passed on', 200, { example: 'order, product' }),
  mobilePage: page_('Mobile page', 'https://shop.quernstone.example/m/wheel'),
  fallbackPage: page_('Fallback page', 'https://shop.quernstone.example'),
  furtherPages: paragraphs('Further landing pages', 2000, {
    example: 'https://shop.quernstone.example/wheel-story',
  }),
  prelaunchPage: page_('Pre-launch page', 'https://shop.quernstone.example/soon'),
  handParameter: words('Affiliate handed over as', 30, {
    example: 'partner',
    pattern: '^([A-Za-z][A-Za-z0-9_.-]*)?$',
  }),
  handAs: oneOf('What is handed over', handings),
  launchAt: words('Launch', 16, {
    example: '2027-04-01T09:00',
    pattern: '^(\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2})?$',
  }),
  prices: Type.Record(Type.String({ pattern: '^[A-Z]{3}$' }), decimal('Price', '219.00'), {
    title: 'Further currencies',
  }),
  step: decimal('Step', '0.50'),
  stepEvery: words('Sales a step', 6, { example: '5', pattern: '^\\d*$' }),
  stepCeiling: decimal('Ceiling', '14.00'),
  stock: words('Stock', 9, { example: '40', pattern: '^\\d*$' }),
  listed: Type.Boolean({ title: 'Listed' }),
  recruiting: oneOf('Affiliates', recruitings),
  trialDays: wholeNumber('Trial', 0, 365, 14),
  renewalPrice: decimal('Renewal price', '24.00'),
  interval: oneOf('Interval', intervals),
  intervalDays: wholeNumber('Days between', 1, 730, 30),
  renewals: words('Number of renewals', 4, { example: '11', pattern: '^\\d*$' }),
  renewalName: words('Name of the repeating part', 120, { example: 'Glaze box' }),
  renewalAbout: paragraphs('Description of the repeating part', 1000, {
    example: 'Three glazes a month with test tiles',
  }),
  noticeDays: wholeNumber('Notice before a renewal', 0, 60, 3),
  instalments: wholeNumber('Payments', 2, 36, 3),
  renewalRewardKind: oneOf('Commission on renewals', rewardKinds),
  renewalReward: decimal('Commission on renewals', '10'),
};
type More = typeof more;
const optional = <T extends Record<string, TSchema>>(fields: T) =>
  Object.fromEntries(Object.entries(fields).map(([k, v]) => [k, Type.Optional(v)])) as {
    [K in keyof T]: TOptional<T[K]>;
  };
const maybe: { [K in keyof More]: TOptional<More[K]> } = optional(more);

export const ProductIn = closed({ ...fields, ...maybe });
export const ProductEdit = closed({ ...fields, ...maybe, version: Version });
export type ProductIn = (typeof ProductIn)['static'];

export const ProductRow = closed({
  id: idOf('product'),
  code: Type.String(),
  name: Type.String(),
  state: oneOf('State', productStates),
  price: nullable(MoneyOut),
  kind: oneOf('Kind', productKinds),
  rewardText: Type.String(),
  refundDays: Type.Integer(),
  orders30: Type.Integer(),
});
export const ProductOut = closed({
  id: idOf('product'),
  ...fields,
  ...more,
  state: oneOf('State', productStates),
  sold: Type.Integer(),
  left: nullable(Type.Integer({ description: 'units left at the present price' })),
  presentPrice: nullable(MoneyOut),
  closedFrom: nullable(
    Type.Integer({
      description:
        'from when affiliates may not promote it, UTC milliseconds; null: they may, or never could',
    }),
  ),
  locks: Type.Array(oneOf('Lock', lockedEvents)),
  picture: Type.String(),
  ownPicture: Type.Boolean(),
  file: nullable(closed({ name: Type.String(), size: Type.Integer(), at: Moment })),
  rewardText: Type.String(),
  joinAddress: Type.String(),
  createdAt: Moment,
  version: Version,
  conversion: nullable(
    Type.Integer({ description: 'orders ÷ clicks of the last 90 days, parts per million' }),
  ),
  economics: closed({
    feePpm: Type.Integer(),
    feeFixed: Type.Integer(),
    refundPpm: Type.Integer({ description: 'share of sales refunded, shrunk towards the norm' }),
    lowEarning: Type.Integer(),
    discountPpm: Type.Integer({ description: 'share of the price that discounts took off in the last year' }),
    owners: Type.Array(Type.Integer({ description: 'co-owners’ shares of what is left, parts per million' })),
    referral: nullable(closed({ ppm: Type.Integer(), of: oneOf('Percent of', shareBases) })),
    follow: Type.Array(
      closed({
        name: Type.String(),
        takenPpm: Type.Integer(),
        price: Type.Integer(),
        commission: Type.Integer(),
        owners: Type.Array(Type.Integer()),
        refundPpm: Type.Integer(),
      }),
    ),
  }),
  pages: Type.Array(
    closed({
      role: Type.String(),
      address: Type.String(),
      at: nullable(Moment),
      ok: nullable(Type.Boolean()),
      said: Type.String(),
    }),
  ),
  readiness: Type.Array(closed({ field: Type.String(), label: Type.String(), ready: Type.Boolean() })),
});
export type ProductOut = (typeof ProductOut)['static'];

export const listProducts = endpoint('GET', '/api/v1/products', {
  summary: 'Products',
  access: readers,
  reply: page(ProductRow),
  query: filtered({ state: Type.Optional(oneOf('State', productStates)), q: searchText }),
});
export const readProduct = endpoint('GET', '/api/v1/products/:id', {
  summary: 'A product',
  access: readers,
  params: byId('product'),
  reply: ProductOut,
});
export const createProduct = endpoint('POST', '/api/v1/products', {
  summary: 'Create a product as a draft',
  access: managing,
  body: ProductIn,
  reply: ProductOut,
  once: true,
});
export const editProduct = endpoint('PUT', '/api/v1/products/:id', {
  summary: 'Edit a product and its commission',
  access: managing,
  params: byId('product'),
  body: ProductEdit,
  reply: ProductOut,
  once: true,
});
export const checkPages = endpoint('POST', '/api/v1/products/:id/check-pages', {
  summary: 'Look now whether the pages of a product answer',
  access: managing,
  params: byId('product'),
  reply: ProductOut,
});
const named = closed({ name: words('File name', 200, { least: 1, example: 'wheel.jpg' }) });
export const setPicture = endpoint('PUT', '/api/v1/products/:id/picture', {
  summary: 'Upload a picture (JPEG, PNG, GIF or WebP up to 4 MB) as the body',
  access: managing,
  params: byId('product'),
  query: named,
  upload: largestPicture,
  reply: ProductOut,
});
export const dropPicture = endpoint('POST', '/api/v1/products/:id/picture/remove', {
  summary: 'Go back to the generated picture',
  access: managing,
  params: byId('product'),
  reply: ProductOut,
  once: true,
});
export const setFile = endpoint('PUT', '/api/v1/products/:id/file', {
  summary: 'Upload the file that buyers get (up to 25 MB) as the body',
  access: managing,
  params: byId('product'),
  query: named,
  upload: largestFile,
  reply: ProductOut,
});
export const copyProduct = endpoint('POST', '/api/v1/products/:id/copy', {
  summary: 'Copy everything but code, state and what was sold',
  access: managing,
  params: byId('product'),
  reply: ProductOut,
  once: true,
});
export const previewChange = endpoint('GET', '/api/v1/products/:id/preview', {
  summary:
    'What a lower price, or taking a product off sale, means for those who promote it; changes nothing',
  access: readers,
  params: byId('product'),
  query: closed({
    price: Type.Optional(decimal('Price', '199.00')),
    state: Type.Optional(oneOf('State', productStates)),
  }),
  reply: closed({
    told: Type.Integer({ description: 'affiliates who promote it and are told by mail' }),
    before: MoneyOut,
    after: MoneyOut,
  }),
});
export const moveProduct = endpoint('POST', '/api/v1/products/:id/state', {
  summary: 'Put live, pause, retire or bring back',
  access: managing,
  params: byId('product'),
  reply: ProductOut,
  once: true,
  body: closed({ state: oneOf('State', productStates), version: Version }),
});

import { Type } from '@sinclair/typebox';
import { endpoint, managing, readers } from './endpoint';
import { ById, closed, decimal, filtered, Id, Moment, MoneyOut, nullable, oneOf, page, searchText, Version, webAddress, whole, words, wordsRequired } from './shared';

export const productStates = ['draft', 'live', 'paused', 'retired'] as const;
/** `book`: order bands, which only the rate book can set; the product leaves them as they are */
export const rewardKinds = ['none', 'percent', 'flat', 'book'] as const;

const fields = {
  code: words('Code', 32, { least: 2, example: 'WHEEL-1', pattern: '^[A-Za-z0-9]+(-[A-Za-z0-9]+)*$' }),
  name: wordsRequired('Name', 120, 'Table-top wheel kit'),
  description: words('Description', 4000, { example: 'A wheel, a splash pan and a bat, ready to throw.' }),
  currency: words('Currency', 3, { least: 3, example: 'EUR' }),
  price: decimal('Price', '199.00'),
  refundDays: whole('Refund window', 0, 365, 14),
  salesPage: webAddress('Sales page', 'https://shop.quernstone.example/wheel', 0),
  rewardKind: oneOf('Commission kind', rewardKinds),
  reward: decimal('Commission', '12.5'),
};
export const ProductIn = closed(fields);
export const ProductEdit = closed({ ...fields, version: Version });
export type ProductIn = (typeof ProductIn)['static'];

export const ProductRow = closed({
  id: Id, code: Type.String(), name: Type.String(), state: oneOf('State', productStates), price: nullable(MoneyOut),
  rewardText: Type.String(), refundDays: Type.Integer(), orders30: Type.Integer(),
});
export const ProductOut = closed({
  id: Id, ...fields, state: oneOf('State', productStates), rewardText: Type.String(), joinAddress: Type.String(), createdAt: Moment, version: Version,
  conversion: nullable(Type.Integer({ description: 'orders ÷ clicks of the last 90 days, parts per million' })),
  readiness: Type.Array(closed({ field: Type.String(), label: Type.String(), ready: Type.Boolean() })),
});
export type ProductOut = (typeof ProductOut)['static'];

export const listProducts = endpoint('GET', '/api/v1/products', {
  summary: 'Products', access: readers, reply: page(ProductRow),
  query: filtered({ state: Type.Optional(oneOf('State', productStates)), q: searchText }),
});
export const readProduct = endpoint('GET', '/api/v1/products/:id', { summary: 'A product', access: readers, params: ById, reply: ProductOut });
export const createProduct = endpoint('POST', '/api/v1/products', { summary: 'Create a product as a draft', access: managing, body: ProductIn, reply: ProductOut, once: true });
export const editProduct = endpoint('PUT', '/api/v1/products/:id', { summary: 'Edit a product and its commission', access: managing, params: ById, body: ProductEdit, reply: ProductOut, once: true });
export const moveProduct = endpoint('POST', '/api/v1/products/:id/state', {
  summary: 'Put live, pause, retire or bring back', access: managing, params: ById, reply: ProductOut, once: true,
  body: closed({ state: oneOf('State', productStates), version: Version }),
});

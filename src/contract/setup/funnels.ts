import { Type } from '@sinclair/typebox';
import { endpoint, managing, readers } from '../endpoint';
import { byId, closed, decimal, idOf, MoneyOut, nullable, Version, words, wordsRequired } from '../shared';

const stepCode = words('Step', 40, {
  least: 2,
  example: 'after-wheel-1',
  pattern: '^[a-z0-9]+(-[a-z0-9]+)*$',
});
const Step = closed({
  code: stepCode,
  product: idOf('product'),
  price: decimal('Price at this step', '29.00'),
  onYes: nullable(stepCode),
  onNo: nullable(stepCode),
});
const fields = {
  name: wordsRequired('Name', 80, 'After the wheel'),
  opening: idOf('product'),
  first: nullable(stepCode),
  steps: Type.Array(Step, { maxItems: 20, title: 'Steps' }),
};
export const FunnelIn = closed(fields);
export const FunnelEdit = closed({ ...fields, version: Version });
export type FunnelIn = (typeof FunnelIn)['static'];
export const FunnelOut = closed({
  id: idOf('funnel'),
  ...fields,
  openingName: Type.String(),
  version: Version,
  /** each step as it does so far: buyers who took it of those who bought the opening product, and what it pays everybody */
  taken: Type.Array(
    closed({
      code: Type.String(),
      name: Type.String(),
      orders: Type.Integer(),
      value: MoneyOut,
      commission: MoneyOut,
      rate: Type.String(),
    }),
  ),
  openings: Type.Integer(),
  per100: nullable(closed({ value: MoneyOut, commission: MoneyOut, left: MoneyOut })),
});
export type FunnelOut = (typeof FunnelOut)['static'];
export const listFunnels = endpoint('GET', '/api/v1/funnels', {
  summary: 'Funnels',
  access: readers,
  reply: closed({ rows: Type.Array(FunnelOut) }),
});
export const createFunnel = endpoint('POST', '/api/v1/funnels', {
  summary: 'Create a funnel',
  access: managing,
  body: FunnelIn,
  reply: FunnelOut,
  once: true,
});
export const editFunnel = endpoint('PUT', '/api/v1/funnels/:id', {
  summary: 'Edit a funnel',
  access: managing,
  params: byId('funnel'),
  body: FunnelEdit,
  reply: FunnelOut,
  once: true,
});
export const removeFunnel = endpoint('POST', '/api/v1/funnels/:id/remove', {
  summary: 'Remove a funnel; its products stay, rates of its steps end',
  access: managing,
  params: byId('funnel'),
  body: closed({ version: Version }),
  once: true,
});

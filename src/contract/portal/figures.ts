import { Type } from '@sinclair/typebox';
import { figureGroups } from '../../core/figures/groups';
import { endpoint } from '../endpoint';
import { closed, MoneyOut, nullable, oneOf, words } from '../shared';

const query = closed({
  by: Type.Optional(oneOf('By', figureGroups)),
  from: Type.Optional(words('From', 10, { example: '2027-02-10' })),
  to: Type.Optional(words('To', 10, { example: '2027-03-12' })),
});
const Counted = {
  clicks: Type.Integer(),
  orders: Type.Integer(),
  value: MoneyOut,
  commission: MoneyOut,
};
export const FiguresOut = closed({
  from: Type.String(),
  to: Type.String(),
  rows: Type.Array(closed({ key: Type.String(), name: Type.String(), ...Counted })),
  total: closed(Counted),
  /** orders of 100 clicks, with the bounds it may well lie between; null without a click */
  conversion: nullable(closed({ ppm: Type.Integer(), low: Type.Integer(), high: Type.Integer() })),
});
export type FiguresOut = (typeof FiguresOut)['static'];
export const readOwnFigures = endpoint('GET', '/api/v1/portal/figures', {
  summary: 'Own clicks, orders and commission over some days: by day, link, creative, sub-id or product',
  access: 'affiliate',
  query,
  reply: FiguresOut,
});
export const exportOwnFigures = endpoint('GET', '/api/v1/portal/figures.csv', {
  summary: 'The same as CSV',
  access: 'affiliate',
  query,
  media: 'text/csv',
});

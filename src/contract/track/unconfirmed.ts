import { Type } from '@sinclair/typebox';
import { picturedStates } from '../../core/tracking/lists';
import { endpoint, managing, readers } from '../endpoint';
import { byId, closed, filtered, idOf, Moment, MoneyOut, nullable, oneOf, page, paragraphs } from '../shared';

export const PicturedRow = closed({
  id: idOf('pictured'),
  reference: Type.String(),
  payment: Type.String(),
  at: Moment,
  product: Type.String(),
  affiliate: nullable(Type.String()),
  affiliateId: nullable(idOf('affiliate')),
  reason: Type.String(),
  value: MoneyOut,
  base: nullable(MoneyOut),
  misfit: Type.String({
    description: 'what does not fit the product, or what was agreed of its payments; empty = it fits',
  }),
  signed: Type.Boolean({ description: 'a further payment that the shop signed; false: a picture alone' }),
  state: oneOf('State', picturedStates),
  order: nullable(idOf('order')),
  note: Type.String(),
  decidedBy: Type.String(),
});

export const listUnconfirmed = endpoint('GET', '/api/v1/unconfirmed', {
  summary:
    'Sales known by a picture alone, and payments that were not agreed, newest first: granted to nobody and in no figure',
  access: readers,
  reply: page(PicturedRow),
  query: filtered({
    state: Type.Optional(oneOf('State', picturedStates)),
    old: Type.Optional(Type.Boolean({ description: 'only those that have waited for more than 7 days' })),
  }),
});

export const confirmUnconfirmed = endpoint('POST', '/api/v1/unconfirmed/:id/confirm', {
  summary:
    'Say that an unconfirmed sale happened: it is recorded as the picture said, its commission after hold',
  access: managing,
  params: byId('pictured'),
  once: true,
  reply: closed({ order: idOf('order') }),
});

export const setUnconfirmedAside = endpoint('POST', '/api/v1/unconfirmed/:id/set-aside', {
  summary: 'Say that an unconfirmed sale did not happen; the signed report still counts if it comes',
  access: managing,
  params: byId('pictured'),
  once: true,
  body: closed({ note: paragraphs('Reason', 500, { least: 3, example: 'No such order in the shop' }) }),
  reply: closed({ state: Type.String() }),
});

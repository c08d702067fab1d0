import { Type } from '@sinclair/typebox';
import { endpoint, paying } from '../endpoint';
import { byId, closed, idOf, MoneyOut, paragraphs, words } from '../shared';

// control characters stop here: a reference ends up in files, mails and lists
// null says the same as leaving it out: a shop without a visit should not have to build another body
// The tracking contract, version 1: it may gain optional fields, it never changes otherwise.
export const declineCommission = endpoint('POST', '/api/v1/commissions/:id/decline', {
  summary: 'Decline a commission that has not been paid, with a reason the affiliate reads',
  access: paying,
  params: byId('commission'),
  once: true,
  body: closed({
    reason: paragraphs('Reason', 500, { least: 3, example: 'Own purchase, excluded by the policy' }),
  }),
  reply: closed({ state: Type.String() }),
});

export const correctCommission = endpoint('POST', '/api/v1/commissions/:id/correct', {
  summary: 'Correct a commission by a difference, up or down, with a reason the affiliate reads',
  access: paying,
  params: byId('commission'),
  once: true,
  body: closed({
    difference: words('Difference', 30, { least: 1, example: '-2.50' }),
    reason: paragraphs('Reason', 500, { least: 3, example: 'The agreed rate was 14 %' }),
  }),
  reply: closed({ state: Type.String(), left: MoneyOut }),
});

export const clearCommissions = endpoint('POST', '/api/v1/commissions/clear', {
  summary: 'Clear held commissions whose clearing date has passed',
  access: paying,
  once: true,
  body: closed({
    ids: Type.Array(idOf('commission'), { minItems: 1, maxItems: 1000, title: 'Commissions' }),
  }),
  reply: closed({
    cleared: Type.Integer(),
    passed: Type.Array(closed({ id: idOf('commission'), why: Type.String() })),
  }),
});

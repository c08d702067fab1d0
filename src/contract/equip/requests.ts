import { Type } from '@sinclair/typebox';
import { creativeKinds, requestStates } from '../../core/material/lists';
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
  Version,
  words,
} from '../shared';

const asked = {
  kind: oneOf('Kind', creativeKinds),
  size: words('Size', 12, { example: '160x600' }),
  subject: words('Subject', 40, { example: 'Easter' }),
  language: words('Language', 12, { example: 'fr', pattern: '^([a-z]{2,3}(-[A-Za-z0-9]{2,8})?)?$' }),
  words: paragraphs('What you need', 500, {
    least: 3,
    example: 'A tall one for the column beside my firing log.',
  }),
};
const Request = {
  id: idOf('request'),
  ...asked,
  product: nullable(closed({ id: idOf('product'), code: Type.String(), name: Type.String() })),
  at: Moment,
  state: oneOf('State', requestStates),
  answeredAt: nullable(Moment),
  creative: nullable(closed({ id: idOf('creative'), name: Type.String() })),
  answer: Type.String(),
};
export const RequestOut = closed({
  ...Request,
  affiliate: closed({ id: idOf('affiliate'), name: Type.String() }),
  answeredBy: Type.String(),
  version: Version,
});
export type RequestOut = (typeof RequestOut)['static'];
export const listRequests = endpoint('GET', '/api/v1/requests', {
  summary: 'What affiliates ask for, the open ones first come',
  access: readers,
  query: filtered({ state: Type.Optional(oneOf('State', requestStates)) }),
  reply: page(RequestOut),
});
export const answerRequest = endpoint('POST', '/api/v1/requests/:id/answer', {
  summary: 'Answer what an affiliate asks for, with a creative or with words',
  access: managing,
  once: true,
  params: byId('request'),
  body: closed({
    creative: nullable(idOf('creative')),
    answer: paragraphs('Words', 1000, { example: 'Here it is; tell us how it does.' }),
    version: Version,
  }),
  reply: RequestOut,
});
export const reopenRequest = endpoint('POST', '/api/v1/requests/:id/reopen', {
  summary: 'Take an answer back: it waits again',
  access: managing,
  once: true,
  params: byId('request'),
  reply: RequestOut,
});

export const OwnRequest = closed(Request);
export type OwnRequest = (typeof OwnRequest)['static'];
export const listOwnRequests = endpoint('GET', '/api/v1/portal/requests', {
  summary: 'What one has asked for, newest first, with the answers',
  access: 'affiliate',
  reply: closed({ rows: Type.Array(OwnRequest) }),
});
export const askForMaterial = endpoint('POST', '/api/v1/portal/requests', {
  summary: 'Ask for a size, a subject or a language that is missing',
  access: 'affiliate',
  once: true,
  body: closed({ ...asked, product: words('Product', 32, { example: 'WHEEL-1' }) }),
  reply: OwnRequest,
});
export const withdrawRequest = endpoint('POST', '/api/v1/portal/requests/:id/withdraw', {
  summary: 'Withdraw what one asked for',
  access: 'affiliate',
  once: true,
  params: byId('request'),
  reply: OwnRequest,
});

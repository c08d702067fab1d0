import { Type } from '@sinclair/typebox';
import { endpoint } from '../endpoint';
import { closed, filtered, idOf, Moment, page } from '../shared';

const OwnMessage = closed({
  id: idOf('message'),
  at: Moment,
  subject: Type.String(),
  body: Type.String(),
  isNew: Type.Boolean(),
});
export type OwnMessage = (typeof OwnMessage)['static'];
export const listOwnMessages = endpoint('GET', '/api/v1/portal/messages', {
  summary: 'What was written to one, newest first',
  access: 'affiliate',
  query: filtered({}),
  reply: page(OwnMessage),
});
export const countOwnMessages = endpoint('GET', '/api/v1/portal/messages/count', {
  summary: 'How many messages came since one read them last',
  access: 'affiliate',
  reply: closed({ count: Type.Integer() }),
});
export const readOwnMessages = endpoint('POST', '/api/v1/portal/messages/read', {
  summary: 'Say that one has read one’s messages',
  access: 'affiliate',
});

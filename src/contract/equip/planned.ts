import { Type } from '@sinclair/typebox';
import { endpoint, managing } from '../endpoint';
import { byId, closed, idOf, Moment, nullable, words } from '../shared';
import { CreativeEdit, CreativeOut } from './creatives';

const { version: _version, ...fields } = CreativeEdit.properties;

export const planChange = endpoint('POST', '/api/v1/creatives/:id/planned', {
  summary: 'Plan changes of a creative’s fields for a later moment',
  access: managing,
  once: true,
  params: byId('creative'),
  body: closed({ at: Moment, changes: Type.Partial(closed(fields), { title: 'Changes', minProperties: 1 }) }),
  reply: CreativeOut,
});
export const undoPlanned = endpoint('POST', '/api/v1/planned/:id/undo', {
  summary: 'Undo a planned change that has not happened',
  access: managing,
  once: true,
  params: byId('planned'),
  reply: closed({ subject: idOf('creative', 'coupon') }),
});

const many = Type.Array(idOf('creative'), { minItems: 1, maxItems: 500, title: 'Creatives' });
export const changeMany = endpoint('POST', '/api/v1/creatives/many', {
  summary: 'Change the same of many creatives: switch, audience, dates or subject',
  access: managing,
  once: true,
  body: closed({
    ids: many,
    changes: closed({
      active: Type.Optional(fields.active),
      audience: Type.Optional(fields.audience),
      from: Type.Optional(fields.from),
      until: Type.Optional(fields.until),
      subject: Type.Optional(fields.subject),
      removed: Type.Optional(Type.Boolean({ title: 'Away' })),
    }),
  }),
  reply: closed({
    act: Type.String({ description: 'by which it can be taken back' }),
    changed: Type.Integer(),
    same: Type.Integer({ description: 'that were so already' }),
    refused: Type.Array(closed({ id: idOf('creative'), name: Type.String(), why: Type.String() })),
  }),
});
export const undoMany = endpoint('POST', '/api/v1/creatives/many/undo', {
  summary: 'Take back an act on many creatives; what somebody changed since stays',
  access: managing,
  once: true,
  body: closed({ act: words('Act', 40, { least: 1 }) }),
  reply: closed({ undone: Type.Integer(), kept: Type.Array(Type.String()), at: nullable(Moment) }),
});

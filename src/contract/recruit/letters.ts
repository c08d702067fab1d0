import { Type } from '@sinclair/typebox';
import { letterKinds, templateUses } from '../../core/recruiting/lists';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  idOf,
  nullable,
  oneOf,
  paragraphs,
  Replaces,
  Version,
  words,
  wordsRequired,
} from '../shared';
import { Whom } from './roster';

const text = {
  subject: wordsRequired('Subject', 200, 'Wheels are back, {name}'),
  body: paragraphs('Message', 10_000, {
    least: 2,
    example: 'Hello {name},\n\nforty wheels leave the workshop on Monday. You earn {rate WHEEL-1} on each.',
  }),
};
const TemplateOut = closed({
  id: idOf('template'),
  use: oneOf('Use', templateUses),
  name: Type.String(),
  subject: Type.String(),
  body: Type.String(),
  version: Version,
});
export const listTemplates = endpoint('GET', '/api/v1/templates', {
  summary: 'Templates of messages and invitations',
  access: readers,
  reply: closed({ rows: Type.Array(TemplateOut) }),
});
export const saveTemplate = endpoint('POST', '/api/v1/templates', {
  summary: 'Keep a template by a name; one with the same name is replaced where its version is given',
  access: managing,
  once: true,
  body: closed({
    use: oneOf('Use', templateUses),
    name: wordsRequired('Name', 60, 'Back in stock'),
    subject: words('Subject', 200),
    body: text.body,
    replaces: Replaces,
  }),
  reply: TemplateOut,
});
export const removeTemplate = endpoint('POST', '/api/v1/templates/:id/remove', {
  summary: 'Remove a template',
  access: managing,
  once: true,
  params: byId('template'),
});

const Message = { ...Whom, ...text, kind: oneOf('Kind', letterKinds) };
export const previewMessage = endpoint('POST', '/api/v1/messages/preview', {
  summary: 'Who would get a message, and how it reads for one of them; changes nothing',
  access: managing,
  body: closed({ ...Message, for: Type.Optional(idOf('affiliate')) }),
  reply: closed({
    count: Type.Integer(),
    leftOut: Type.Array(closed({ why: Type.String(), count: Type.Integer() })),
    sample: nullable(
      closed({
        id: idOf('affiliate'),
        name: Type.String(),
        to: Type.String(),
        subject: Type.String(),
        body: Type.String(),
      }),
    ),
    some: Type.Array(closed({ id: idOf('affiliate'), name: Type.String() })),
  }),
});
export const sendMessage = endpoint('POST', '/api/v1/messages', {
  summary: 'Send a message to one, many or a segment',
  access: managing,
  once: true,
  body: closed(Message),
  reply: closed({ queued: Type.Integer(), leftOut: Type.Integer() }),
});
const byToken = closed({ token: words('Link', 120, { least: 20 }) });
const Choice = closed({
  programme: Type.String(),
  name: Type.String(),
  on: Type.Boolean({ description: 'true: gets letters' }),
});
export const readLetters = endpoint('GET', '/api/v1/letters/:token', {
  summary: 'Whether somebody gets letters, by the link at their foot',
  access: 'open',
  params: byToken,
  reply: Choice,
});
export const chooseLetters = endpoint('POST', '/api/v1/letters/:token', {
  summary: 'Get letters, or none',
  access: 'open',
  params: byToken,
  body: closed({ on: Type.Boolean({ title: 'Letters' }) }),
  reply: Choice,
});
export const chooseOwnLetters = endpoint('PUT', '/api/v1/portal/letters', {
  summary: 'Get letters, or none',
  access: 'affiliate',
  body: closed({ on: Type.Boolean({ title: 'Letters' }) }),
  reply: closed({ on: Type.Boolean() }),
});

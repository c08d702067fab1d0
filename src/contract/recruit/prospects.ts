import { Type } from '@sinclair/typebox';
import { inviteOutcomes, inviteStates } from '../../core/recruiting/lists';
import { prospectStates } from '../../core/recruiting/states';
import { endpoint, managing, readers } from '../endpoint';
import { closed, countsBy, filtered, idOf, Moment, nullable, oneOf, page, paragraphs } from '../shared';

/** Ids of prospects are the registry's. */
const PartnerId = Type.String({
  minLength: 2,
  maxLength: 20,
  pattern: '^[A-Za-z0-9-]+$',
  title: 'Partner',
  examples: ['P-104213'],
});
const ByPartner = closed({ id: PartnerId });

const InviteOut = closed({
  id: idOf('invite'),
  prospect: PartnerId,
  name: Type.String(),
  at: Moment,
  by: Type.String(),
  state: oneOf('State', inviteStates),
  stateAt: Moment,
  expiresAt: Moment,
  message: Type.String(),
  card: nullable(Type.String()),
  group: nullable(Type.String()),
  tags: Type.Array(Type.String()),
  product: nullable(Type.String()),
  fault: nullable(Type.String()),
  affiliate: nullable(idOf('affiliate')),
});
export const ProspectRow = closed({
  id: PartnerId,
  name: Type.String(),
  country: Type.String(),
  sites: Type.Array(Type.String()),
  kinds: Type.Array(Type.String()),
  audience: Type.Integer(),
  cleared: Type.String(),
  standing: nullable(Type.Integer()),
  refundRate: nullable(Type.Integer()),
  vouched: Type.Boolean(),
  state: oneOf('State', prospectStates),
  invite: nullable(oneOf('Invitation', inviteStates)),
  tags: Type.Array(closed({ id: idOf('set'), name: Type.String(), colour: Type.String() })),
  found: nullable(Type.String({ description: 'how a search found it' })),
  affiliate: nullable(idOf('affiliate')),
});
const Copy = closed({
  partners: Type.Integer(),
  doneAt: nullable(Moment),
  copying: Type.Boolean(),
  fault: nullable(Type.String()),
  faultAt: nullable(Moment),
  registry: Type.Boolean({ description: 'whether there is a registry at all' }),
});
export const listProspects = endpoint('GET', '/api/v1/prospects', {
  summary:
    'Partners of the registry, in our own copy: by id, any part of a name, a site or a keyword, with one wrong letter forgiven',
  access: readers,
  query: filtered({
    q: Type.Optional(Type.String({ maxLength: 200, title: 'Search' })),
    kind: Type.Optional(Type.String({ maxLength: 30 })),
    country: Type.Optional(Type.String({ maxLength: 2 })),
    standing: Type.Optional(Type.Integer({ minimum: 0, maximum: 100, title: 'Standing, at least' })),
    state: Type.Optional(oneOf('State', prospectStates)),
    vouched: Type.Optional(Type.Boolean()),
    tag: Type.Optional(idOf('set')),
  }),
  reply: closed({
    ...page(ProspectRow).properties,
    copy: Copy,
    invitesLeft: Type.Integer({
      description: 'messages that may still go today to people who have not joined',
    }),
  }),
});
export const readProspect = endpoint('GET', '/api/v1/prospects/:id', {
  summary: 'A partner of the registry, with its record and our invitations',
  access: readers,
  params: ByPartner,
  reply: closed({
    row: ProspectRow,
    intro: Type.String(),
    since: Type.String(),
    sales: Type.Integer(),
    refunds: Type.Integer(),
    vouched: Type.String({ description: 'what the vouching rests on; empty = none' }),
    parts: nullable(Type.Array(closed({ part: Type.String(), points: Type.Integer(), of: Type.Integer() }))),
    invites: Type.Array(InviteOut),
    mismatch: nullable(Type.String()),
  }),
});
export const tagProspects = endpoint('POST', '/api/v1/prospects/tags', {
  summary: 'Put a tag on partners before they join, or take it off',
  access: managing,
  once: true,
  body: closed({
    ids: Type.Array(PartnerId, { minItems: 1, maxItems: 500, title: 'Partners' }),
    tag: idOf('set'),
    on: Type.Boolean({ title: 'On' }),
  }),
  reply: closed({ changed: Type.Integer() }),
});
const Invitation = {
  ids: Type.Array(PartnerId, { minItems: 1, maxItems: 500, title: 'Partners' }),
  message: paragraphs('Message', 4000, {
    least: 10,
    example: 'We make table-top wheels and would like to send you one to try.',
  }),
  card: Type.Optional(idOf('set')),
  group: Type.Optional(idOf('set')),
  tags: Type.Optional(Type.Array(idOf('set'), { maxItems: 50, title: 'Tags' })),
  product: Type.Optional(idOf('product')),
  again: Type.Optional(Type.Boolean({ title: 'Invite again' })),
};
const Lines = Type.Array(
  closed({
    id: PartnerId,
    name: Type.String(),
    outcome: oneOf('Outcome', inviteOutcomes),
    said: Type.String(),
  }),
);
export const previewInvite = endpoint('POST', '/api/v1/prospects/invite/preview', {
  summary:
    'What inviting these would do, one by one, and how the message reads for the first; changes nothing',
  access: managing,
  body: closed(Invitation),
  reply: closed({ lines: Lines, sample: nullable(Type.String()), left: Type.Integer() }),
});
export const inviteProspects = endpoint('POST', '/api/v1/prospects/invite', {
  summary: 'Invite partners; card, group, tags and product take effect when they join',
  access: managing,
  once: true,
  body: closed(Invitation),
  reply: closed({ lines: Lines, invited: Type.Integer() }),
});
export const listInvites = endpoint('GET', '/api/v1/invites', {
  summary: 'Invitations, newest first',
  access: readers,
  query: filtered({ state: Type.Optional(oneOf('State', inviteStates)) }),
  reply: closed({ ...page(InviteOut).properties, counts: countsBy(inviteStates) }),
});
export const withdrawInvite = endpoint('POST', '/api/v1/invites/:id/withdraw', {
  summary: 'Take back an invitation that the registry has not taken yet',
  access: managing,
  once: true,
  params: closed({ id: idOf('invite') }),
  reply: InviteOut,
});
export const refreshProspects = endpoint('POST', '/api/v1/prospects/refresh', {
  summary: 'Read the registry again now',
  access: managing,
  reply: Copy,
});

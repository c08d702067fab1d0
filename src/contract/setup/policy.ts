import { Type } from '@sinclair/typebox';
import { differenceMarks, policyStates } from '../../core/recruiting/lists';
import { atNoticeEnd } from '../../core/recruiting/policy';
import { endpoint, managing, readers } from '../endpoint';
import { byId, closed, idOf, Moment, nullable, oneOf, paragraphs, Version, words } from '../shared';

const kinds = (title: string) =>
  Type.Array(words('Kind', 40, { least: 1, example: 'newsletter' }), { maxItems: 30, title });
export const policyFields = {
  general: paragraphs('General terms', 20_000, {
    example: 'Links are marked as advertising. Commission is paid in the month after it clears.',
  }),
  ownBrand: Type.Boolean({ title: 'Bidding on our name' }),
  misspellings: Type.Boolean({ title: 'Bidding on misspellings' }),
  directLinking: Type.Boolean({ title: 'Linking advertisements straight to us' }),
  search: paragraphs('On paid search', 4000, { example: 'Ask before you bid on a product’s name.' }),
  counts: paragraphs('What counts', 4000, { example: 'Paid orders from which nothing was given back' }),
  declined: paragraphs('What is declined', 4000, { example: 'Own purchases, orders that were never paid' }),
  branding: paragraphs('Name and marks', 4000, { example: 'Use our name as it is written here.' }),
  accepted: kinds('Looked for'),
  refused: kinds('Not taken'),
  kinds: paragraphs('On who can take part', 4000),
  ageRestricted: Type.Boolean({ title: 'Age-restricted goods' }),
  regulated: Type.Boolean({ title: 'Regulated trade' }),
  channels: paragraphs('Other channels', 1000, { example: 'our own newsletter, paid search' }),
  noticeWeeks: Type.Integer({ title: 'Notice', minimum: 1, maximum: 4, examples: [2] }),
  atEnd: oneOf('At the end of the notice', atNoticeEnd),
};
const Content = closed(policyFields);
const Section = closed({
  key: Type.String(),
  title: Type.String(),
  facts: Type.Array(closed({ text: Type.String(), yes: Type.Boolean() })),
  lines: Type.Array(Type.String()),
  text: Type.String(),
});
const Part = closed({ text: Type.String(), mark: oneOf('Mark', differenceMarks) });
const Change = closed({ key: Type.String(), title: Type.String(), parts: Type.Array(Part) });
export const PolicyVersion = closed({
  id: idOf('policy'),
  number: Type.Integer(),
  state: oneOf('State', policyStates),
  by: Type.String(),
  createdAt: Moment,
  publishedAt: nullable(Moment),
  holdsFrom: nullable(Moment),
  inNotice: Type.Boolean(),
  inForce: Type.Boolean(),
  accepted: Type.Integer(),
  outstanding: Type.Integer(),
  version: Version,
});
const Whole = closed({
  ...PolicyVersion.properties,
  content: Content,
  sections: Type.Array(Section),
  changes: Type.Array(Change),
  unacceptedSample: Type.Array(closed({ id: idOf('affiliate'), name: Type.String() })),
});
export const listPolicies = endpoint('GET', '/api/v1/policies', {
  summary: 'Versions of the policy, newest first, with the draft if there is one',
  access: readers,
  reply: closed({
    rows: Type.Array(PolicyVersion),
    live: Type.Record(Type.String(), Type.String()),
    kinds: Type.Array(Type.String()),
  }),
});
export const readPolicy = endpoint('GET', '/api/v1/policies/:id', {
  summary: 'A version as it reads now, and what differs from the one before',
  access: readers,
  params: byId('policy'),
  reply: Whole,
});
export const draftPolicy = endpoint('POST', '/api/v1/policies/draft', {
  summary: 'Begin a draft of the next version',
  access: managing,
  once: true,
  reply: Whole,
});
export const editPolicy = endpoint('PUT', '/api/v1/policies/:id', {
  summary: 'Change the draft',
  access: managing,
  once: true,
  params: byId('policy'),
  body: closed({ ...policyFields, version: Version }),
  reply: Whole,
});
export const dropPolicy = endpoint('POST', '/api/v1/policies/:id/drop', {
  summary: 'Throw the draft away',
  access: managing,
  once: true,
  params: byId('policy'),
});
export const publishPolicy = endpoint('POST', '/api/v1/policies/:id/publish', {
  summary: 'Publish the draft: every affiliate is told, and its notice begins',
  access: managing,
  once: true,
  params: byId('policy'),
  body: closed({ version: Version }),
  reply: Whole,
});

export const readPublicPolicy = endpoint('GET', '/api/v1/policy', {
  summary: 'The policy as everybody reads it',
  access: 'open',
  reply: nullable(
    closed({
      programme: Type.String(),
      number: Type.Integer(),
      holdsFrom: Moment,
      sections: Type.Array(Section),
    }),
  ),
});
const Own = closed({
  current: nullable(
    closed({
      id: idOf('policy'),
      number: Type.Integer(),
      holdsFrom: Moment,
      sections: Type.Array(Section),
      changes: Type.Array(Change),
      acceptedAt: nullable(Moment),
      inNotice: Type.Boolean(),
      atEnd: Type.String(),
      due: Moment,
    }),
  ),
});
export const readOwnPolicy = endpoint('GET', '/api/v1/portal/policy', {
  summary: 'The policy as an affiliate reads it, and whether it has accepted it',
  access: 'affiliate',
  reply: Own,
});
export const acceptPolicy = endpoint('POST', '/api/v1/portal/policy/accept', {
  summary: 'Accept a version',
  access: 'affiliate',
  once: true,
  body: closed({ policy: idOf('policy') }),
  reply: Own,
});

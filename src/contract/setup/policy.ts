import { Type } from '@sinclair/typebox';
import { differenceMarks, policyStates } from '../../core/recruiting/lists';
import { atNoticeEnd } from '../../core/recruiting/policy-reading';
import { practiceAnswers } from '../../core/recruiting/practices';
import { endpoint, managing, readers } from '../endpoint';
import { PracticeName, PracticeWho } from '../recruit/practices';
import {
  byId,
  closed,
  idOf,
  Moment,
  nullable,
  oneOf,
  paragraphs,
  Version,
  words,
  wordsRequired,
} from '../shared';

const kinds = (title: string) =>
  Type.Array(words('Kind', 40, { least: 1, example: 'newsletter' }), { maxItems: 30, title });
const Answer = oneOf('Answer', practiceAnswers);
const says = paragraphs('Sentence', 500, { example: 'Tell us which shop pages you compare.' });
export const PracticeIn = closed({
  key: PracticeName,
  name: wordsRequired('Practice', 120, 'Advertising in search on our name'),
  words: Type.Array(words('Words', 60, { least: 2, example: 'brand bidding' }), {
    maxItems: 20,
    title: 'Words that name it',
  }),
  answer: nullable(Answer),
  says,
  exceptions: Type.Array(closed({ who: PracticeWho, answer: Answer, says }), {
    maxItems: 20,
    title: 'Answers apart',
  }),
});
export const policyFields = {
  form: oneOf('Form', ['practices']),
  practices: Type.Array(PracticeIn, { maxItems: 60, title: 'Practices' }),
  counts: paragraphs('What counts', 4000, { example: 'Paid orders from which nothing was given back' }),
  declined: paragraphs('What does not count', 4000, {
    example: 'Own purchases, orders that were never paid',
  }),
  channels: paragraphs('Other channels', 1000, { example: 'our own newsletter, paid search' }),
  branding: paragraphs('How to speak of us', 4000, { example: 'Use our name as it is written here.' }),
  accepted: kinds('Looked for'),
  refused: kinds('Not taken'),
  ageRestricted: Type.Boolean({ title: 'Age-restricted goods' }),
  regulated: Type.Boolean({ title: 'Regulated trade' }),
  owed: paragraphs('What we owe you', 4000, {
    example: 'Lower rates are announced {notice} before; what has cleared is paid from {minimum} on.',
  }),
  general: paragraphs('Further terms', 60_000, {
    example: 'Links are marked as advertising wherever they stand.',
  }),
  noticeWeeks: Type.Integer({ title: 'Notice', minimum: 1, maximum: 4, examples: [2] }),
  atEnd: oneOf('At the end of the notice', atNoticeEnd),
};
const Content = closed(policyFields);
export const PracticeOut = closed({
  key: Type.String(),
  name: Type.String(),
  answer: Answer,
  says: Type.String(),
  own: Type.Boolean({ description: 'answered so for the reader’s own group or kind' }),
  otherwise: Type.Array(closed({ who: Type.String(), answer: Answer, says: Type.String() })),
});
const Section = closed({
  key: Type.String(),
  title: Type.String(),
  practices: Type.Array(PracticeOut),
  facts: Type.Array(closed({ text: Type.String(), yes: Type.Boolean() })),
  lines: Type.Array(Type.String()),
  text: Type.String(),
});
const Part = closed({ text: Type.String(), mark: oneOf('Mark', differenceMarks) });
const PracticeChange = closed({
  key: Type.String(),
  name: Type.String(),
  was: nullable(Answer),
  is: nullable(Answer),
  parts: Type.Array(Part),
});
const Changes = closed({
  practices: Type.Array(PracticeChange),
  sections: Type.Array(closed({ key: Type.String(), title: Type.String(), parts: Type.Array(Part) })),
});
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
  /** those who had not accepted it at the end of its notice; null before */
  closedFor: nullable(Type.Integer()),
  closedAt: nullable(Moment),
  version: Version,
});
const Whole = closed({
  ...PolicyVersion.properties,
  /** a version of the older form as it would be carried over */
  content: Content,
  sections: Type.Array(Section),
  changes: Changes,
  unacceptedSample: Type.Array(closed({ id: idOf('affiliate'), name: Type.String() })),
});
export const listPolicies = endpoint('GET', '/api/v1/policies', {
  summary: 'Versions of the policy, newest first, with the draft if there is one',
  access: readers,
  reply: closed({
    rows: Type.Array(PolicyVersion),
    live: Type.Record(Type.String(), Type.String()),
    kinds: Type.Array(Type.String()),
    groups: Type.Array(closed({ id: idOf('set'), name: Type.String() })),
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
export const readPublishing = endpoint('GET', '/api/v1/policies/:id/publishing', {
  summary:
    'What publishing the draft would bring about: who is told, from when it holds, what is empty, whom its practices are for',
  access: readers,
  params: byId('policy'),
  reply: closed({
    number: Type.Integer(),
    told: Type.Integer(),
    /** the beginning of the day on which it would hold, were it published now */
    holdsOn: Moment,
    gaps: Type.Array(closed({ key: Type.String(), name: Type.String() })),
    changes: Type.Integer(),
    practices: Type.Array(
      closed({
        key: Type.String(),
        name: Type.String(),
        was: nullable(Answer),
        is: nullable(Answer),
        users: Type.Integer({ description: 'affiliates with us who said that they use it' }),
        permitted: Type.Integer({ description: 'of all with us, those who were let in for it' }),
        waiting: Type.Integer({ description: 'open applications that speak of it' }),
        sample: Type.Array(closed({ id: idOf('affiliate'), name: Type.String() })),
      }),
    ),
  }),
});
export const publishPolicy = endpoint('POST', '/api/v1/policies/:id/publish', {
  summary: 'Publish the draft: every affiliate is told, and its notice begins',
  access: managing,
  once: true,
  params: byId('policy'),
  body: closed({
    version: Version,
    empty: Type.Array(Type.String({ maxLength: 60 }), {
      maxItems: 100,
      title: 'Empty',
      description: 'what was seen to be empty and stays so',
    }),
  }),
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
      takesEffect: Type.String({ description: 'the day of it, in words' }),
      inForce: Type.Boolean(),
      sections: Type.Array(Section),
    }),
  ),
});
const Current = closed({
  id: idOf('policy'),
  number: Type.Integer(),
  holdsFrom: Moment,
  sections: Type.Array(Section),
  changes: Changes,
  acceptedAt: nullable(Moment),
  inNotice: Type.Boolean(),
  atEnd: oneOf('At the end of the notice', atNoticeEnd),
  due: Moment,
});
const Own = closed({ current: nullable(Current) });
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

const byLink = closed({ token: words('Link', 160, { least: 20 }) });
const ByLink = closed({
  programme: Type.String(),
  contact: Type.String(),
  name: Type.String(),
  /** the version of the link is still the newest */
  current: nullable(Current),
  /** why nothing can be accepted by it; null where it can */
  over: nullable(Type.String()),
});
export const readPolicyByLink = endpoint('GET', '/api/v1/acceptance/:token', {
  summary: 'The policy as the one reads it whom the link was sent to',
  access: 'open',
  params: byLink,
  reply: ByLink,
});
export const acceptByLink = endpoint('POST', '/api/v1/acceptance/:token', {
  summary: 'Accept the version that the link was sent for',
  access: 'open',
  params: byLink,
  once: true,
  reply: ByLink,
});

import { Type } from '@sinclair/typebox';
import { timings } from '../../core/ledger/timing';
import { decisions, joinOutcomes } from '../../core/recruiting/lists';
import { practiceAnswers } from '../../core/recruiting/practices';
import { applicationStates } from '../../core/recruiting/states';
import { endpoint, managing, readers } from '../endpoint';
import {
  byId,
  closed,
  country,
  countsBy,
  email,
  filtered,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  paragraphs,
  searchText,
  words,
  wordsRequired,
} from '../shared';
import { PracticeName, PracticeOfOne, PracticeWho } from './practices';

/** A practice as whoever applies is asked about it. */
const PracticeAsked = closed({
  key: PracticeName,
  name: Type.String(),
  words: Type.Array(Type.String()),
  answer: oneOf('Answer', practiceAnswers),
  says: Type.String(),
  exceptions: Type.Array(
    closed({ who: PracticeWho, answer: oneOf('Answer', practiceAnswers), says: Type.String() }),
  ),
});

export const readJoinPage = endpoint('GET', '/api/v1/join', {
  summary: 'What the public join page shows',
  access: 'open',
  query: closed({
    product: Type.Optional(Type.String({ maxLength: 32, title: 'Product code' })),
    by: Type.Optional(Type.String({ maxLength: 60, title: 'Brought in by' })),
  }),
  reply: closed({
    programme: Type.String(),
    intro: Type.String(),
    summary: Type.String(),
    logo: nullable(Type.String()),
    contact: Type.String(),
    by: nullable(Type.String()),
    product: nullable(
      closed({
        code: Type.String(),
        name: Type.String(),
        description: Type.String(),
        price: Type.String(),
        reward: Type.String(),
        renewals: Type.String(),
      }),
    ),
    products: Type.Array(
      closed({
        ...{ code: Type.String(), name: Type.String(), price: Type.String() },
        ...{ reward: Type.String(), renewals: Type.String() },
      }),
    ),
    cards: Type.Array(closed({ id: idOf('set'), name: Type.String(), about: Type.String() })),
    self: nullable(
      closed({
        name: Type.String(),
        email: Type.String(),
        country: Type.String(),
        address: Type.String(),
        sites: Type.Array(Type.String()),
        channels: Type.String(),
      }),
    ),
    policy: nullable(Type.Integer({ description: 'number of the version that is accepted by applying' })),
    /** the group that exceptions of groups are for, where somebody is signed in */
    group: nullable(idOf('set')),
    practices: Type.Array(PracticeAsked),
  }),
});
export const Join = closed({
  name: wordsRequired('Name', 120, 'Loam Letters'),
  email: email(),
  country,
  address: words('Postal address', 300, { example: 'Rua do Forno 4, Barrancos' }),
  sites: Type.Array(
    words('Site address', 300, {
      least: 3,
      example: 'loamletters.example',
      pattern: '^([Hh][Tt][Tt][Pp][Ss]?://)?[^\\s/$.?#]+\\.[^\\s]{2,}$',
    }),
    { title: 'Sites', minItems: 1, maxItems: 10 },
  ),
  channels: words('How you promote', 300, { example: 'newsletter, video' }),
  note: paragraphs('Note', 5000, { example: 'What you would write about and for whom' }),
  product: words('Product code', 32),
  practices: Type.Optional(
    Type.Array(PracticeName, {
      title: 'Practices',
      description: 'those that are ticked; left out where nobody asked',
      maxItems: 60,
      uniqueItems: true,
    }),
  ),
  policy: Type.Optional(Type.Boolean({ title: 'Policy', description: 'that the policy is accepted' })),
  card: Type.Optional(words('Rate card', 40)),
  by: Type.Optional(words('Brought in by', 60)),
});
export const join = endpoint('POST', '/api/v1/join', {
  summary: 'Apply to the programme or for a product',
  access: 'open',
  body: Join,
  once: true,
  reply: closed({
    outcome: oneOf('Outcome', joinOutcomes),
    said: Type.String(),
  }),
});

/** Trust: let in for later products too, until a day; at sale only where it says so. */
export const Trust = closed({
  until: words('Until', 10, { example: '2027-12-31', pattern: '^(\\d{4}-\\d{2}-\\d{2})?$' }),
  atSale: Type.Boolean({ title: 'At sale' }),
});

export const ApplicationRow = closed({
  id: idOf('application'),
  affiliate: idOf('affiliate'),
  name: Type.String(),
  product: nullable(Type.String()),
  country: Type.String(),
  state: oneOf('State', applicationStates),
  createdAt: Moment,
  cleared: Type.String(),
  tenure: nullable(Type.String({ description: 'years and days as an affiliate' })),
  refundRate: nullable(Type.Integer()),
  standing: nullable(Type.Integer()),
  remarks: Type.Array(Type.String()),
  vouched: Type.Boolean(),
});
const Part = closed({ text: Type.String(), shared: Type.Boolean() });
export const Alike = closed({
  application: idOf('application'),
  affiliate: idOf('affiliate'),
  name: Type.String(),
  state: oneOf('State', applicationStates),
  at: Moment,
  likeness: Type.Integer({ description: 'percent of the runs of four words that both have' }),
  own: Type.Array(Part),
  theirs: Type.Array(Part),
});
export const Evidence = closed({
  standing: nullable(
    closed({
      points: Type.Integer(),
      parts: Type.Array(closed({ part: Type.String(), points: Type.Integer(), of: Type.Integer() })),
    }),
  ),
  claims: Type.Array(closed({ text: Type.String(), count: Type.Integer(), of: Type.String() })),
  unborne: nullable(Type.String()),
  alike: Type.Array(Alike),
  alikeMore: Type.Integer(),
  same: Type.Array(
    closed({ affiliate: idOf('affiliate'), name: Type.String(), state: Type.String(), why: Type.String() }),
  ),
  cleared: Type.String(),
  sales: Type.Integer(),
  refunds: Type.Integer(),
  refundRate: Type.Integer(),
  aboveLine: Type.Boolean(),
  line: Type.Integer(),
  mismatch: nullable(Type.String()),
  registry: nullable(
    closed({
      id: Type.String(),
      name: Type.String(),
      cleared: Type.String(),
      sales: Type.Integer(),
      refunds: Type.Integer(),
      refundRate: Type.Integer(),
      since: Type.String(),
      vouched: Type.String(),
    }),
  ),
  tenure: Type.String(),
  earlier: Type.Array(closed({ at: Moment, state: Type.String(), product: nullable(Type.String()) })),
});
export const ApplicationOut = closed({
  id: idOf('application'),
  affiliate: idOf('affiliate'),
  name: Type.String(),
  email: Type.String(),
  country: Type.String(),
  address: Type.String(),
  sites: Type.Array(Type.String()),
  channels: Type.String(),
  note: Type.String(),
  product: nullable(closed({ id: idOf('product'), code: Type.String(), name: Type.String() })),
  state: oneOf('State', applicationStates),
  createdAt: Moment,
  decidedAt: nullable(Moment),
  decidedBy: nullable(Type.String()),
  reason: nullable(Type.String()),
  timing: nullable(oneOf('Timing', timings)),
  rule: nullable(
    closed({
      sentence: Type.String(),
      facts: Type.Array(closed({ label: Type.String(), value: Type.String() })),
    }),
  ),
  questions: Type.Array(
    closed({
      id: idOf('question'),
      at: Moment,
      by: Type.String(),
      question: Type.String(),
      answer: nullable(Type.String()),
      answeredAt: nullable(Moment),
    }),
  ),
  practices: Type.Array(PracticeOfOne),
  practicesAsked: Type.Boolean({ description: 'whether the form asked to tick them' }),
  asksLeft: Type.Integer({ description: 'messages that may still go to people who have not joined today' }),
  evidence: Evidence,
  ifApproved: Type.String(),
  atSaleRisk: Type.String(),
  weak: Type.Boolean(),
  trust: nullable(closed({ until: nullable(Moment), atSale: Type.Boolean(), since: Moment })),
});
export const listApplications = endpoint('GET', '/api/v1/applications', {
  summary: 'Applications, oldest first while waiting',
  access: readers,
  query: filtered({
    state: Type.Optional(oneOf('State', applicationStates)),
    q: searchText,
    product: Type.Optional(idOf('product')),
  }),
  reply: closed({
    rows: Type.Array(ApplicationRow),
    next: nullable(Type.String()),
    counts: countsBy(applicationStates),
  }),
});
export const readApplication = endpoint('GET', '/api/v1/applications/:id', {
  summary: 'An application with its evidence',
  access: readers,
  params: byId('application'),
  reply: ApplicationOut,
});
export const decideApplications = endpoint('POST', '/api/v1/applications/decide', {
  summary: 'Approve or decline one or many',
  access: managing,
  once: true,
  body: closed({
    ids: Type.Array(idOf('application'), { minItems: 1, maxItems: 500, title: 'Applications' }),
    decision: oneOf('Decision', decisions),
    timing: Type.Optional(oneOf('Timing', timings)),
    reason: paragraphs('Reason', 500, { example: 'Coupon sites are not part of this programme' }),
    message: Type.Boolean({ title: 'Message' }),
    trust: Type.Optional(nullable(Trust)),
  }),
  reply: closed({
    decided: Type.Array(idOf('application')),
    passed: Type.Array(closed({ id: idOf('application'), why: Type.String() })),
  }),
});
export const weighDecision = endpoint('POST', '/api/v1/applications/weigh', {
  summary: 'What approving these at sale could lose: records, refund rates and the loss in 100 sales each',
  access: managing,
  body: closed({
    ids: Type.Array(idOf('application'), { minItems: 1, maxItems: 500, title: 'Applications' }),
  }),
  reply: closed({
    rows: Type.Array(
      closed({
        id: idOf('application'),
        name: Type.String(),
        cleared: Type.String(),
        sales: Type.Integer(),
        refundRate: Type.Integer(),
        weak: Type.Boolean(),
        loss: nullable(MoneyOut),
      }),
    ),
    weak: Type.Integer(),
    loss: MoneyOut,
  }),
});
export const changeDecision = endpoint('POST', '/api/v1/applications/:id/change', {
  summary: 'Change a decision later: from now on',
  access: managing,
  once: true,
  params: byId('application'),
  body: closed({
    decision: oneOf('Decision', decisions),
    timing: Type.Optional(oneOf('Timing', timings)),
    reason: paragraphs('Reason', 500, { example: 'The site has changed hands' }),
    message: Type.Boolean({ title: 'Message' }),
  }),
  reply: ApplicationOut,
});
const questionText = paragraphs('Question', 1000, {
  least: 3,
  example: 'Which of your sites would carry the links?',
});
export const askApplicant = endpoint('POST', '/api/v1/applications/:id/ask', {
  summary: 'Ask an applicant something before deciding; the answer comes back to the application',
  access: managing,
  params: byId('application'),
  once: true,
  body: closed({ question: questionText }),
  reply: ApplicationOut,
});
export const answerText = paragraphs('Answer', 5000, {
  least: 1,
  example: 'The first one, in the Friday letter',
  pattern: '\\S',
});
const byToken = closed({ token: words('Link', 120, { least: 20 }) });
const Question = closed({
  programme: Type.String(),
  contact: Type.String(),
  name: Type.String(),
  question: Type.String(),
  at: Moment,
  answer: nullable(Type.String()),
  open: Type.Boolean(),
});
export const readQuestion = endpoint('GET', '/api/v1/answers/:token', {
  summary: 'A question as the applicant reads it, by the link of the message',
  access: 'open',
  params: byToken,
  reply: Question,
});
export const answerQuestion = endpoint('POST', '/api/v1/answers/:token', {
  summary: 'Answer it',
  access: 'open',
  params: byToken,
  body: closed({
    answer: answerText,
  }),
  reply: Question,
});
export const reopenApplications = endpoint('POST', '/api/v1/applications/reopen', {
  summary: 'Take a decision back while its message has not left',
  access: managing,
  once: true,
  body: closed({ ids: Type.Array(idOf('application'), { minItems: 1, maxItems: 500 }) }),
  reply: closed({
    reopened: Type.Array(idOf('application')),
    passed: Type.Array(closed({ id: idOf('application'), why: Type.String() })),
  }),
});

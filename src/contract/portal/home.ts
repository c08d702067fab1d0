import { Type } from '@sinclair/typebox';
import { comingKinds } from '../../core/figures/coming';
import { timings } from '../../core/ledger/timing';
import { endpoint } from '../endpoint';
import { answerText } from '../recruit/applications';
import { byId, closed, idOf, Moment, MoneyOut, nullable, oneOf } from '../shared';

const Place = closed({ id: idOf('set'), name: Type.String(), about: Type.String() });
export const OwnPlaces = closed({
  card: nullable(Place),
  group: nullable(Place),
  coming: nullable(Place),
  from: Moment,
  choices: Type.Array(Place),
});
export type OwnPlaces = (typeof OwnPlaces)['static'];
export const chooseCard = endpoint('PUT', '/api/v1/portal/card', {
  summary: 'Choose another rate card, from tomorrow on',
  access: 'affiliate',
  body: closed({ card: idOf('set') }),
  reply: OwnPlaces,
  once: true,
});

const Going = closed({
  clicks: Type.Integer(),
  orders: Type.Integer(),
  /** orders of 100 clicks, with the bounds it may well lie between; null without a click */
  conversion: nullable(closed({ ppm: Type.Integer(), low: Type.Integer(), high: Type.Integer() })),
  sentBack: Type.Integer(),
});
const Question = closed({
  id: idOf('question'),
  by: Type.String(),
  question: Type.String(),
  at: Moment,
  product: Type.String({ description: 'what the application is for' }),
});
const HomeLink = closed({
  product: Type.String(),
  code: Type.String(),
  price: Type.String(),
  reward: Type.String(),
  renewals: Type.String(),
  timing: oneOf('Payment timing', timings),
  link: Type.String(),
  earned30: MoneyOut,
  /** commission of 100 clicks in 30 days; null without a click */
  per100: nullable(MoneyOut),
});
const Coming = closed({
  kind: oneOf('Kind', comingKinds),
  at: nullable(Moment),
  amount: MoneyOut,
  isRest: Type.Boolean(),
});
export const PortalHome = closed({
  links: Type.Array(HomeLink),
  balances: closed({ held: MoneyOut, cleared: MoneyOut, inRun: MoneyOut, paid: MoneyOut }),
  /** held, cleared and on its way together */
  due: MoneyOut,
  earned30: MoneyOut,
  /** what of it are shares of others' sales */
  shares30: MoneyOut,
  coming: Type.Array(Coming),
  clearsUntil: nullable(Moment),
  minimum: nullable(MoneyOut),
  going: closed({ now: Going, before: Going }),
  visits: Type.Array(closed({ at: Moment, product: Type.String(), counted: nullable(Type.String()) })),
  detailsComplete: Type.Boolean(),
  policy: nullable(closed({ number: Type.Integer(), at: nullable(Moment) })),
  questions: Type.Array(Question),
  waiting: Type.Array(Type.String()),
  places: OwnPlaces,
  referral: nullable(
    closed({ address: Type.String(), said: Type.String(), count: Type.Integer(), earned: MoneyOut }),
  ),
  owns: Type.Array(closed({ product: Type.String(), percent: Type.String() })),
  promotes: Type.Boolean(),
});
export type PortalHome = (typeof PortalHome)['static'];
export const readPortalHome = endpoint('GET', '/api/v1/portal/home', {
  summary: 'What an affiliate earned, what comes, what is to be done, its links',
  access: 'affiliate',
  reply: PortalHome,
});
export const answerOwnQuestion = endpoint('POST', '/api/v1/portal/questions/:id/answer', {
  summary: 'Answer a question on one’s own application',
  access: 'affiliate',
  params: byId('question'),
  body: closed({
    answer: answerText,
  }),
});

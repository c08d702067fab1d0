import { Type, type TSchema } from '@sinclair/typebox';
import { waitingKinds } from '../../core/figures/waiting';
import { inviteStates } from '../../core/recruiting/lists';
import { affiliateStates, applicationStates } from '../../core/recruiting/states';
import { endpoint, readers } from '../endpoint';
import { closed, countsBy, Moment, MoneyOut, nullable, oneOf } from '../shared';

const Figures = closed({
  clicks: Type.Integer(),
  orders: Type.Integer(),
  value: Type.Integer(),
  renewals: Type.Integer(),
  firstValue: Type.Integer(),
  granted: Type.Integer(),
  corrected: Type.Integer(),
  reversed: Type.Integer(),
  conversion: nullable(Type.Integer()),
  averageOrder: nullable(Type.Integer()),
  epc: nullable(Type.Integer()),
  shareReversed: nullable(Type.Integer()),
});
/** A part of the page; null where it could not be read. */
const part = <T extends Record<string, TSchema>>(fields: T) => nullable(closed(fields));
const Missing = closed({ text: Type.String(), to: Type.String() });
export const TodayOut = closed({
  now: Moment,
  joinAddress: Type.String(),
  waiting: Type.Array(
    closed({
      kind: oneOf('Kind', waitingKinds),
      count: Type.Integer(),
      text: Type.String(),
      more: Type.String(),
      amount: nullable(MoneyOut),
      to: Type.String(),
      act: Type.String(),
      mark: Type.String(),
    }),
  ),
  performance: part({
    week: Figures,
    month: Figures,
    trend: Type.Array(closed({ day: Type.String(), ...Figures.properties })),
  }),
  owed: part({
    held: MoneyOut,
    cleared: MoneyOut,
    past75: MoneyOut,
    inRun: MoneyOut,
    negative: MoneyOut,
    total: MoneyOut,
    exposure: MoneyOut,
  }),
  people: part({
    affiliates: countsBy(affiliateStates),
    applications: countsBy(applicationStates),
    invitations: countsBy(inviteStates),
  }),
  next: nullable(Type.Array(Type.String())),
  missing: Type.Array(Missing),
});
export type TodayOut = (typeof TodayOut)['static'];
export const readToday = endpoint('GET', '/api/v1/today', {
  summary: 'What waits, what is due, how it goes',
  access: readers,
  reply: TodayOut,
});
export const readCounts = endpoint('GET', '/api/v1/counts', {
  summary: 'What waits for a person, by place',
  access: readers,
  reply: countsBy(waitingKinds),
});
export const readMissing = endpoint('GET', '/api/v1/missing', {
  summary: 'What a programme still needs before it goes live, in the order to do it',
  access: readers,
  reply: closed({ rows: Type.Array(Missing) }),
});
export const search = endpoint('GET', '/api/v1/search', {
  summary: 'Find products, affiliates, orders, applications and payments',
  access: readers,
  query: closed({ q: Type.String({ minLength: 1, maxLength: 100, title: 'Search' }) }),
  reply: closed({
    rows: Type.Array(
      closed({ kind: Type.String(), title: Type.String(), sub: Type.String(), to: Type.String() }),
    ),
  }),
});

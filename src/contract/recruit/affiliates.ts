import { Type } from '@sinclair/typebox';
import { commissionKinds, commissionStates } from '../../core/ledger/commission';
import { timings } from '../../core/ledger/timing';
import { messageStates, settableStates } from '../../core/recruiting/lists';
import { affiliateStates } from '../../core/recruiting/states';
import { rungs } from '../../core/terms/rate';
import { endpoint, managing, paying, readers } from '../endpoint';
import {
  byId,
  closed,
  filtered,
  idOf,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  paragraphs,
  Version,
} from '../shared';
import { PracticeOfOne } from './practices';

export const CommissionRow = closed({
  id: idOf('commission'),
  kind: oneOf('Kind', commissionKinds),
  order: idOf('order'),
  reference: Type.String(),
  product: Type.String(),
  affiliate: idOf('affiliate'),
  affiliateName: Type.String(),
  soldAt: Moment,
  value: MoneyOut,
  granted: MoneyOut,
  left: MoneyOut,
  state: oneOf('State', commissionStates),
  stateSince: Moment,
  clearsAt: Moment,
  timing: oneOf('Timing', timings),
});
/** Entries of an affiliate's history that come with its record. */
export const historyRows = 50;
export const HistoryRow = closed({
  id: idOf('audit'),
  at: Moment,
  by: Type.String(),
  action: Type.String(),
  before: Type.Unknown(),
  after: Type.Unknown(),
});
export type HistoryRow = (typeof HistoryRow)['static'];
export const AffiliateOut = closed({
  id: idOf('affiliate'),
  handle: Type.String(),
  name: Type.String(),
  email: Type.String(),
  country: Type.String(),
  address: Type.String(),
  sites: Type.Array(Type.String()),
  state: oneOf('State', affiliateStates),
  timing: oneOf('Timing', timings),
  createdAt: Moment,
  joinedAt: nullable(Moment),
  version: Version,
  payout: closed({ holder: Type.String(), iban: Type.String(), complete: Type.Boolean() }),
  balances: closed({
    held: MoneyOut,
    cleared: MoneyOut,
    inRun: MoneyOut,
    paid: MoneyOut,
    exposure: MoneyOut,
  }),
  figures: closed({
    clicks: Type.Integer(),
    orders: Type.Integer(),
    refunds: Type.Integer(),
    conversion: nullable(Type.Integer()),
    epc: nullable(Type.Integer()),
    shareReversed: nullable(Type.Integer()),
  }),
  terms: Type.Array(
    closed({
      product: idOf('product'),
      code: Type.String(),
      name: Type.String(),
      reward: Type.String(),
      renewals: Type.String(),
      locked: Type.Boolean(),
      raised: Type.Boolean(),
      rung: nullable(oneOf('Rung', rungs)),
      timing: oneOf('Payment timing', timings),
      link: nullable(Type.String()),
    }),
  ),
  commissions: Type.Array(CommissionRow),
  history: Type.Array(HistoryRow),
  messages: Type.Array(
    closed({
      id: idOf('message'),
      at: Moment,
      subject: Type.String(),
      body: Type.String(),
      fault: nullable(Type.String()),
      state: oneOf('State', messageStates),
    }),
  ),
  kind: Type.String(),
  lookedAfter: nullable(closed({ id: idOf('staff'), name: Type.String() })),
  newsletters: Type.Boolean(),
  mailFault: nullable(Type.String()),
  audience: Type.String(),
  prospect: nullable(Type.String()),
  trust: nullable(closed({ until: nullable(Moment), atSale: Type.Boolean(), since: Moment })),
  practices: Type.Array(PracticeOfOne),
  policy: nullable(closed({ number: Type.Integer(), at: nullable(Moment) })),
  applications: Type.Array(
    closed({ id: idOf('application'), at: Moment, state: Type.String(), product: nullable(Type.String()) }),
  ),
});
export const listHistory = endpoint('GET', '/api/v1/affiliates/:id/history', {
  summary: 'What was done to an affiliate, newest first',
  access: readers,
  params: byId('affiliate'),
  query: filtered({}),
  reply: page(HistoryRow),
});
export const readAffiliate = endpoint('GET', '/api/v1/affiliates/:id', {
  summary: 'An affiliate: terms, balances, figures, history',
  access: readers,
  params: byId('affiliate'),
  reply: AffiliateOut,
});
export const moveAffiliate = endpoint('POST', '/api/v1/affiliates/:id/state', {
  summary: 'Pause, resume, end or block',
  access: managing,
  params: byId('affiliate'),
  reply: AffiliateOut,
  once: true,
  body: closed({
    state: oneOf('State', settableStates),
    reason: paragraphs('Reason', 500),
    version: Version,
  }),
});
export const giveUpBalance = endpoint('POST', '/api/v1/affiliates/:id/give-up', {
  summary: 'Write off a negative balance that will not be netted any more',
  access: paying,
  params: byId('affiliate'),
  reply: AffiliateOut,
  once: true,
  body: closed({
    reason: paragraphs('Reason', 500, { least: 3, example: 'Left the programme; too small to ask for' }),
  }),
});
export const setTiming = endpoint('PUT', '/api/v1/affiliates/:id/timing', {
  summary: 'At sale or after hold, from now on',
  access: managing,
  params: byId('affiliate'),
  reply: AffiliateOut,
  once: true,
  body: closed({ timing: oneOf('Timing', timings), version: Version }),
});

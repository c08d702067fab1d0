import { Type } from '@sinclair/typebox';
import { commissionKinds, commissionStates } from '../../core/ledger/commission';
import { paymentStates } from '../../core/payouts/lists';
import { endpoint } from '../endpoint';
import { WorkingOut } from '../setup/terms';
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
  Version,
  words,
} from '../shared';

const EarningRow = closed({
  id: idOf('commission'),
  kind: oneOf('Kind', commissionKinds),
  order: idOf('order'),
  soldAt: Moment,
  products: Type.String(),
  value: MoneyOut,
  granted: MoneyOut,
  left: MoneyOut,
  state: oneOf('State', commissionStates),
  clearsAt: Moment,
  declined: nullable(Type.String()),
});
const earnedIn = {
  from: Type.Optional(words('From', 10, { example: '2027-02-10' })),
  to: Type.Optional(words('To', 10, { example: '2027-03-12' })),
};
const earned = { ...earnedIn, state: Type.Optional(oneOf('State', commissionStates)) };
export const listEarnings = endpoint('GET', '/api/v1/portal/earnings', {
  summary: 'Own orders and commissions, newest first, of a time or in a state',
  access: 'affiliate',
  query: filtered(earned),
  reply: page(EarningRow),
});
const EarningSum = { count: Type.Integer(), granted: MoneyOut, left: MoneyOut };
export const EarningSums = closed({
  states: Type.Array(closed({ state: oneOf('State', commissionStates), ...EarningSum })),
  total: closed(EarningSum),
});
export type EarningSums = (typeof EarningSums)['static'];
export const sumEarnings = endpoint('GET', '/api/v1/portal/earnings/sums', {
  summary: 'What one earned by what was sold in a time: by state, granted and left of it',
  access: 'affiliate',
  query: closed(earnedIn),
  reply: EarningSums,
});
export const exportEarnings = endpoint('GET', '/api/v1/portal/earnings.csv', {
  summary: 'Own orders and commissions as CSV',
  access: 'affiliate',
  query: closed(earned),
  media: 'text/csv',
});
export const readEarning = endpoint('GET', '/api/v1/portal/earnings/:id', {
  summary: 'The working of one’s own commission',
  access: 'affiliate',
  params: byId('commission'),
  reply: closed({ row: EarningRow, working: WorkingOut }),
});
export const listOwnPayments = endpoint('GET', '/api/v1/portal/payments', {
  summary: 'Own payments',
  access: 'affiliate',
  reply: closed({
    rows: Type.Array(
      closed({
        id: idOf('payment'),
        run: Type.Integer(),
        amount: MoneyOut,
        state: oneOf('State', paymentStates),
        at: Moment,
        promisedAt: nullable(Moment),
        reason: nullable(Type.String()),
      }),
    ),
  }),
});
export const ownStatement = endpoint('GET', '/api/v1/portal/payments/:id/statement.csv', {
  summary: 'Own statement',
  access: 'affiliate',
  params: byId('payment'),
  media: 'text/csv',
});
const details = {
  holder: words('Account holder', 70, { least: 1, example: 'Mara Lindqvist-Okello', pattern: '\\S' }),
  iban: words('IBAN', 50, { least: 5, example: 'PT50 0002 0123 1234 5678 9015 4' }),
  address: words('Address', 140, { least: 1, example: 'Rua do Forno 4, Barrancos', pattern: '\\S' }),
};
export const readDetails = endpoint('GET', '/api/v1/portal/payout-details', {
  summary: 'Own payout details',
  access: 'affiliate',
  reply: closed({
    holder: Type.String(),
    iban: Type.String(),
    address: Type.String(),
    letters: Type.Boolean(),
    version: Version,
  }),
});
export const setDetails = endpoint('PUT', '/api/v1/portal/payout-details', {
  summary: 'Set own payout details',
  access: 'affiliate',
  body: closed({ ...details, version: Version, password: words('Your password', 200, { least: 1 }) }),
  reply: readDetails.reply,
});

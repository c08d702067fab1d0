import { Type } from '@sinclair/typebox';
import { commissionKinds, commissionStates } from '../../core/ledger/commission';
import { timings } from '../../core/ledger/timing';
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
const Place = closed({ id: idOf('set'), name: Type.String(), about: Type.String() });
const OwnPlaces = closed({
  card: nullable(Place),
  group: nullable(Place),
  coming: nullable(Place),
  from: Moment,
  choices: Type.Array(Place),
});
export const chooseCard = endpoint('PUT', '/api/v1/portal/card', {
  summary: 'Choose another rate card, from tomorrow on',
  access: 'affiliate',
  body: closed({ card: idOf('set') }),
  reply: OwnPlaces,
  once: true,
});
export const readPortalHome = endpoint('GET', '/api/v1/portal/home', {
  summary: 'An affiliate’s links, balances and last days',
  access: 'affiliate',
  reply: closed({
    links: Type.Array(
      closed({
        product: Type.String(),
        code: Type.String(),
        price: Type.String(),
        reward: Type.String(),
        renewals: Type.String(),
        timing: oneOf('Payment timing', timings),
        link: Type.String(),
      }),
    ),
    balances: closed({ held: MoneyOut, cleared: MoneyOut, inRun: MoneyOut, paid: MoneyOut }),
    clicks30: Type.Integer(),
    orders30: Type.Integer(),
    visits: Type.Array(closed({ at: Moment, product: Type.String(), counted: nullable(Type.String()) })),
    detailsComplete: Type.Boolean(),
    policy: nullable(closed({ number: Type.Integer(), at: nullable(Moment) })),
    waiting: Type.Array(Type.String()),
    places: OwnPlaces,
    referral: nullable(
      closed({ address: Type.String(), said: Type.String(), count: Type.Integer(), earned: MoneyOut }),
    ),
    owns: Type.Array(closed({ product: Type.String(), percent: Type.String() })),
    promotes: Type.Boolean(),
  }),
});
export const listEarnings = endpoint('GET', '/api/v1/portal/earnings', {
  summary: 'Own orders and commissions',
  access: 'affiliate',
  query: filtered({}),
  reply: page(EarningRow),
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

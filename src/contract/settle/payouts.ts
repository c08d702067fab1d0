import { Type } from '@sinclair/typebox';
import { paymentStates, runStates, shownPaymentStates } from '../../core/payouts/lists';
import { outReasons } from '../../core/payouts/plan';
import { endpoint, paying, readers } from '../endpoint';
import {
  byId,
  closed,
  decimal,
  filtered,
  idOf,
  listBytes,
  Moment,
  MoneyOut,
  nullable,
  oneOf,
  page,
  paragraphs,
  searchText,
  Version,
  words,
} from '../shared';

export const RunRow = closed({
  id: idOf('run'),
  number: Type.Integer(),
  state: oneOf('State', runStates),
  cutoff: Moment,
  createdAt: Moment,
  createdBy: Type.String(),
  payees: Type.Integer(),
  total: MoneyOut,
  done: nullable(
    Type.Integer({
      description: 'while the run is on its way to the next state: payees that are there already',
    }),
  ),
  settled: Type.Integer(),
  failed: Type.Integer(),
  sentAt: nullable(Moment),
  promisedAt: nullable(Moment),
  overdue: Type.Boolean(),
});
export const PaymentRow = closed({
  id: nullable(idOf('payment')),
  affiliate: idOf('affiliate'),
  name: Type.String(),
  amount: MoneyOut,
  items: Type.Integer(),
  holder: Type.String(),
  iban: Type.String(),
  state: oneOf('State', shownPaymentStates),
  reason: nullable(Type.String()),
});
export type PaymentRow = (typeof PaymentRow)['static'];
export const LeftOutRow = closed({
  affiliate: idOf('affiliate'),
  name: Type.String(),
  amount: MoneyOut,
  why: Type.String(),
  reason: oneOf('Reason', outReasons),
  byHand: Type.Boolean(),
});
export type LeftOutRow = (typeof LeftOutRow)['static'];
export const LeftOutSum = closed({
  reason: oneOf('Reason', outReasons),
  said: Type.String(),
  count: Type.Integer(),
  amount: MoneyOut,
});
export type LeftOutSum = (typeof LeftOutSum)['static'];
export const RunOut = closed({
  ...RunRow.properties,
  minimum: MoneyOut,
  approvedBy: nullable(Type.String()),
  sentBy: nullable(Type.String()),
  deliveredAt: nullable(Moment),
  version: Version,
  payments: Type.Array(PaymentRow, {
    description: 'the first of them, by name; all by pages from /payments',
  }),
  leftOut: Type.Array(LeftOutRow, { description: 'the first of them; all by pages from /left-out' }),
  leftOutSums: Type.Array(LeftOutSum),
  needsSecond: nullable(Type.String()),
  notApproved: nullable(Type.String({ description: 'why an approval was taken back before it was through' })),
  bank: Type.Boolean(),
});
export type RunOut = (typeof RunOut)['static'];

const step = (path: string, summary: string) =>
  endpoint('POST', `/api/v1/payouts/:id/${path}`, {
    summary,
    access: paying,
    params: byId('run'),
    body: closed({ version: Version }),
    reply: RunOut,
    once: true,
  });

export const listRuns = endpoint('GET', '/api/v1/payouts', {
  summary: 'Payout runs, newest first',
  access: readers,
  query: filtered({ state: Type.Optional(oneOf('State', runStates)) }),
  reply: page(RunRow),
});
export const readRun = endpoint('GET', '/api/v1/payouts/:id', {
  summary: 'A payout run: payees, amounts, who is left out and why',
  access: readers,
  params: byId('run'),
  reply: RunOut,
});
export const listRunPayments = endpoint('GET', '/api/v1/payouts/:id/payments', {
  summary: 'The payees of a run, by name',
  access: readers,
  params: byId('run'),
  query: filtered({ q: searchText, state: Type.Optional(oneOf('State', paymentStates)) }),
  reply: page(PaymentRow),
});
export const listLeftOut = endpoint('GET', '/api/v1/payouts/:id/left-out', {
  summary: 'Who is left out of a draft and why, those first about whom something can be done',
  access: readers,
  params: byId('run'),
  query: filtered({ reason: Type.Optional(oneOf('Reason', outReasons)) }),
  reply: page(LeftOutRow),
});
export const createRun = endpoint('POST', '/api/v1/payouts', {
  summary: 'Draft a run up to a cut-off day, inclusive',
  access: paying,
  once: true,
  reply: RunOut,
  body: closed({
    cutoff: words('Cut-off day', 10, { least: 10, example: '2027-03-12', pattern: '^\\d{4}-\\d{2}-\\d{2}$' }),
    minimum: decimal('Minimum', '25.00'),
  }),
});
export const excludePayee = endpoint('POST', '/api/v1/payouts/:id/exclude', {
  summary: 'Leave a payee out of a draft, or take it in again',
  access: paying,
  params: byId('run'),
  once: true,
  reply: RunOut,
  body: closed({ affiliate: idOf('affiliate'), exclude: Type.Boolean(), version: Version }),
});
export const approveRun = endpoint('POST', '/api/v1/payouts/:id/approve', {
  summary:
    'Approve a draft: amounts are taken into the run. Refused if the total is no longer the one that was looked at.',
  access: paying,
  params: byId('run'),
  once: true,
  reply: RunOut,
  body: closed({
    version: Version,
    total: Type.Integer({
      title: 'Total',
      minimum: 0,
      examples: [320418],
      description: 'minor units, as shown',
    }),
  }),
});
export const reopenRun = step('reopen', 'Take an approved run back to draft');
export const discardRun = step('discard', 'Discard a draft');
export const sendRun = step('send', 'Send: write the payment file, once');
export const deliverRun = endpoint('POST', '/api/v1/payouts/:id/deliver', {
  summary: 'Hand the file to the connected bank; again is harmless',
  access: paying,
  params: byId('run'),
  body: closed({ version: Version }),
  reply: RunOut,
});
export const runXml = endpoint('GET', '/api/v1/payouts/:id/file.xml', {
  summary: 'The pain.001.001.09 file of a sent run',
  access: paying,
  params: byId('run'),
  media: 'application/xml',
});
export const runCsv = endpoint('GET', '/api/v1/payouts/:id/file.csv', {
  summary: 'The same payments as CSV',
  access: paying,
  params: byId('run'),
  media: 'text/csv',
});
export const readStatusReport = endpoint('POST', '/api/v1/payouts/status', {
  summary:
    'Read a status report: pain.002.001.10, or CSV with end_to_end_id, status, reason. Reading one again changes nothing',
  access: paying,
  most: listBytes,
  body: closed({
    name: words('File name', 200, { least: 1, example: 'status.xml' }),
    content: paragraphs('Status report', 5_000_000, { least: 1 }),
  }),
  reply: closed({
    settled: Type.Integer(),
    failed: Type.Integer(),
    returned: Type.Integer(),
    unchanged: Type.Integer(),
    unknown: Type.Array(Type.String()),
    said: Type.String(),
  }),
});
export const collectStatus = endpoint('POST', '/api/v1/payouts/collect', {
  summary: 'Fetch status reports from the connected bank',
  access: paying,
  reply: readStatusReport.reply,
});
export const settleByHand = endpoint('POST', '/api/v1/payments/:id/settle', {
  summary: 'Settle a sent payment by hand, with the bank’s reference',
  access: paying,
  params: byId('payment'),
  once: true,
  reply: RunOut,
  body: closed({ reference: words('Bank reference', 100, { least: 3, example: 'BK-2027-0312-7' }) }),
});
export const statement = endpoint('GET', '/api/v1/payments/:id/statement.csv', {
  summary: 'A payee’s statement, whose lines sum to the payment',
  access: readers,
  params: byId('payment'),
  media: 'text/csv',
});

import { Type } from '@sinclair/typebox';
import { commissionStates } from '../../core/ledger/commission';
import { accounts, entryEvents } from '../../core/ledger/entry';
import { endpoint, readers } from '../endpoint';
import { CommissionRow } from '../recruit/affiliates';
import { closed, filtered, idOf, Moment, MoneyOut, nullable, oneOf, page } from '../shared';

export const readBalances = endpoint('GET', '/api/v1/ledger', {
  summary: 'Balances of the accounts',
  access: readers,
  reply: closed({
    accounts: Type.Array(closed({ account: oneOf('Account', accounts), balance: MoneyOut })),
    negative: MoneyOut,
    exposure: MoneyOut,
    whole: Type.Boolean(),
    aged: closed({ past75: MoneyOut, past90: MoneyOut }),
  }),
});
export const listEntries = endpoint('GET', '/api/v1/ledger/entries', {
  summary: 'The journal, newest first',
  access: readers,
  query: filtered({
    affiliate: Type.Optional(idOf('affiliate')),
    event: Type.Optional(oneOf('Event', entryEvents)),
  }),
  reply: page(
    closed({
      id: idOf('entry'),
      at: Moment,
      event: oneOf('Event', entryEvents),
      memo: Type.String(),
      by: Type.String(),
      order: nullable(idOf('order')),
      run: nullable(idOf('run')),
      lines: Type.Array(
        closed({
          account: oneOf('Account', accounts),
          affiliate: nullable(Type.String()),
          debit: nullable(MoneyOut),
          credit: nullable(MoneyOut),
        }),
      ),
    }),
  ),
});
export const listCommissions = endpoint('GET', '/api/v1/commissions', {
  summary: 'Commissions by state',
  access: readers,
  reply: page(CommissionRow),
  query: filtered({
    state: Type.Optional(oneOf('State', commissionStates)),
    affiliate: Type.Optional(idOf('affiliate')),
    due: Type.Optional(Type.Boolean()),
  }),
});

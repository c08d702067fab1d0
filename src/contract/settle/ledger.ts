import { Type } from '@sinclair/typebox';
import { endpoint, readers } from '../endpoint';
import { CommissionRow } from '../recruit/affiliates';
import { closed, filtered, Id, Moment, MoneyOut, nullable, oneOf, page, words } from '../shared';

export const readBalances = endpoint('GET', '/api/v1/ledger', {
  summary: 'Balances of the accounts',
  access: readers,
  reply: closed({
    accounts: Type.Array(closed({ account: Type.String(), balance: MoneyOut })),
    negative: MoneyOut,
    exposure: MoneyOut,
    whole: Type.Boolean(),
    aged: closed({ past75: MoneyOut, past90: MoneyOut }),
  }),
});
export const listEntries = endpoint('GET', '/api/v1/ledger/entries', {
  summary: 'The journal, newest first',
  access: readers,
  query: filtered({ affiliate: Type.Optional(Id), event: Type.Optional(words('Event', 40)) }),
  reply: page(
    closed({
      id: Id,
      at: Moment,
      event: Type.String(),
      memo: Type.String(),
      by: Type.String(),
      order: nullable(Type.String()),
      run: nullable(Type.String()),
      lines: Type.Array(
        closed({
          account: Type.String(),
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
    state: Type.Optional(oneOf('State', ['held', 'cleared', 'in-run', 'paid', 'declined', 'reversed'])),
    affiliate: Type.Optional(Id),
    due: Type.Optional(Type.Boolean()),
  }),
});

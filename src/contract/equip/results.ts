import { Type } from '@sinclair/typebox';
import { endpoint, readers } from '../endpoint';
import { byId, closed, idOf, Moment, MoneyOut, nullable } from '../shared';

const Share = closed({ ppm: Type.Integer(), low: Type.Integer(), high: Type.Integer() });

/** What came of a creative in the last days. */
export const ResultsOut = closed({
  days: Type.Integer(),
  clicks: Type.Integer(),
  orders: Type.Integer({ description: 'first sales' }),
  renewals: Type.Integer(),
  conversion: nullable(Share),
  commission: MoneyOut,
  /** commission of 100 clicks */
  epc: nullable(MoneyOut),
  affiliates: Type.Integer({ description: 'whose links of it were clicked' }),
  lastUsed: nullable(Moment),
  best: Type.Array(
    closed({ id: idOf('affiliate'), name: Type.String(), clicks: Type.Integer(), orders: Type.Integer() }),
  ),
});
export type ResultsOut = (typeof ResultsOut)['static'];

export const readCreativeResults = endpoint('GET', '/api/v1/creatives/:id/results', {
  summary: 'What came of a creative in the last 90 days',
  access: readers,
  params: byId('creative'),
  reply: ResultsOut,
});

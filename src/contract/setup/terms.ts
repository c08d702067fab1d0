import { Type } from '@sinclair/typebox';
import { entryEvents } from '../../core/ledger/entry';
import { consideredOutcomes, sumWeights } from '../../core/terms/lists';
import { closed, idOf, Moment, MoneyOut, nullable, oneOf } from '../shared';

/** A line of a working in words and columns. */
export const PresentedLine = closed({
  product: Type.String(),
  locked: Type.Boolean(),
  rungs: Type.Array(
    closed({
      rung: Type.String(),
      rows: Type.Array(
        closed({ text: Type.String(), outcome: oneOf('Outcome', consideredOutcomes), why: Type.String() }),
      ),
    }),
  ),
  sums: Type.Array(
    closed({
      label: Type.String(),
      figure: Type.String(),
      weight: oneOf('Weight', sumWeights),
    }),
  ),
  reason: nullable(Type.String()),
});

/** A working as people read it: every rung with what was considered, then the column of sums. Made by the server from the stored data. */
export const WorkingOut = closed({
  credit: closed({
    who: nullable(Type.String()),
    reason: Type.String(),
    considered: Type.Array(
      closed({
        visit: Type.String(),
        who: Type.String(),
        at: Moment,
        outcome: Type.String({ description: 'in words' }),
      }),
    ),
  }),
  exchange: nullable(Type.String()),
  lines: Type.Array(PresentedLine),
  total: nullable(MoneyOut),
  changes: Type.Array(closed({ at: Moment, what: Type.String(), amount: MoneyOut })),
  left: MoneyOut,
});
export type WorkingOut = (typeof WorkingOut)['static'];

export const LifeRow = closed({
  id: idOf('entry'),
  at: Moment,
  event: oneOf('Event', entryEvents),
  memo: Type.String(),
  by: Type.String(),
  amount: MoneyOut,
});

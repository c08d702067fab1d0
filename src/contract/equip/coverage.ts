import { Type } from '@sinclair/typebox';
import { creativeKinds } from '../../core/material/lists';
import { endpoint, readers } from '../endpoint';
import { closed, countsBy, idOf, Moment, nullable } from '../shared';

const Row = closed({
  product: nullable(idOf('product')),
  code: Type.String(),
  name: Type.String(),
  sizes: Type.Array(
    closed({ size: Type.String(), width: Type.Integer(), height: Type.Integer(), count: Type.Integer() }),
  ),
  kinds: countsBy(creativeKinds),
  total: Type.Integer(),
});
export type CoverageRow = (typeof Row)['static'];
export const CoverageOut = closed({
  rows: Type.Array(Row),
  /** lines of what else is missing, each with where it is filled */
  missing: Type.Array(closed({ text: Type.String(), to: Type.String(), act: Type.String() })),
  lastCoupon: nullable(Moment),
});
export type CoverageOut = (typeof CoverageOut)['static'];
export const readCoverage = endpoint('GET', '/api/v1/coverage', {
  summary: 'What material there is for each product, and what is missing',
  access: readers,
  reply: CoverageOut,
});

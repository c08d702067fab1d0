import { Type } from '@sinclair/typebox';
import type { Audience } from '../../core/material/audience';
import { closed, idOf } from '../shared';

/** Whom a creative or a coupon is for. */
export const AudienceIn = Type.Unsafe<Audience>({
  ...Type.Union([
    closed({ kind: Type.Literal('everybody') }),
    closed({ kind: Type.Literal('group'), set: idOf('set') }),
    closed({ kind: Type.Literal('tag'), set: idOf('set') }),
    closed({ kind: Type.Literal('segment'), segment: idOf('segment') }),
    closed({
      kind: Type.Literal('named'),
      affiliates: Type.Array(idOf('affiliate'), { minItems: 1, maxItems: 200 }),
    }),
  ]),
  title: 'Audience',
});

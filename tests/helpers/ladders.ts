import fc from 'fast-check';
import { tieWith } from '../../src/core/terms/conflict';
import { type OrderLine } from '../../src/core/terms/order';
import { rungs, type Rate } from '../../src/core/terms/rate';
import { say, sayTerms } from './terms';

export const texts = {
  who: fc.constantFrom('own', 't1', 't2', 'G', 'makers', 'other'),
  what: fc.constantFrom('', ' on A', ' on kind one-off', ' on step s1'),
};
export const reward = fc.oneof(
  fc.integer({ min: 0, max: 100 }).map((p) => `${p} %`),
  fc.integer({ min: 1, max: 900 }).map((c) => `${(c / 100).toFixed(2)} flat`),
  fc.constant('from 5.00 10 %, from 20.00 30 %'),
);
export const span = fc
  .tuple(fc.integer({ min: 0, max: 30 }), fc.option(fc.integer({ min: 1, max: 30 }), { nil: null }))
  .map(([from, length]) => ` | from ${from}${length === null ? '' : ` | until ${from + length}`}`);
export const anyRate = fc
  .record({ rung: fc.constantFrom(...rungs), ...texts, reward, span })
  .map(({ rung, who, what, reward: pays, span: when }) => {
    if (rung === 'product') return say(`product${what.includes('step') ? what : ' A'}: ${pays}${when}`);
    if (rung === 'programme') return say(`programme${what.includes('kind') ? what : ''}: ${pays}${when}`);
    return say(`${rung} ${who}${what}: ${pays}${when}`);
  });
export const anyUplift = fc
  .record({
    ...texts,
    rung: fc.constantFrom('', ' group', ' card', ' personal'),
    mode: fc.constantFrom('up to', 'plus'),
    reward: fc.oneof(
      fc.integer({ min: 1, max: 60 }).map((p) => `${p} %`),
      fc.integer({ min: 1, max: 900 }).map((c) => `${(c / 100).toFixed(2)} flat`),
    ),
    span,
  })
  .map(({ who, what, rung, mode, reward: pays, span: when }) =>
    say(`uplift${rung ? `${rung} ${who}` : ''}${what}: ${mode} ${pays}${when}`),
  );
export const anyTerms = fc
  .record({
    card: fc.constantFrom('', 'card makers'),
    tags: fc.constantFrom('', 'tags t1', 'tags t2 t1'),
    group: fc.constantFrom('', 'group G', 'group G paused'),
  })
  .map(({ card, tags, group }) => sayTerms([card, tags, group].filter(Boolean).join(', ')));
export const anyLine = fc
  .record({
    product: fc.constantFrom('prd_A', 'prd_B'),
    amount: fc.integer({ min: 0, max: 5000 }),
    locked: fc.boolean(),
    step: fc.constantFrom(undefined, 's1'),
  })
  .map(({ product, amount, locked, step }): OrderLine => ({
    product,
    kind: 'one-off',
    name: product,
    quantity: 1,
    amount,
    discount: 0,
    approved: true,
    locked,
    ...(step ? { step } : {}),
  }));
/** Only sets that could be saved: no ties. */
export const saveable = (rates: Rate[]) =>
  rates.reduce<Rate[]>((kept, r) => (tieWith(r, kept) ? kept : [...kept, r]), []);
export const anyRates = fc.array(anyRate, { maxLength: 14 }).map(saveable);
export const orderOf = (lines: OrderLine[], at: number) => ({
  event: 'sale' as const,
  at,
  currency: 'EUR',
  base: 'EUR',
  rateMicros: 1,
  lines,
});
export const rowsOf = (lines: OrderLine[]) => lines.map((l) => ({ line: l, base: l.amount }));

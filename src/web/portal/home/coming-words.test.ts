import { expect, it } from 'vitest';
import { comingFoot, comingWords } from './coming-words';

const day = (at: number) => `day ${at}`;
const column = (
  kind: 'paid' | 'in-run' | 'cleared' | 'held' | 'expected',
  at: number | null,
  isRest = false,
) => ({
  ...{ kind, at, isRest },
  amount: { amount: 100, currency: 'EUR' },
});

it.each([
  [column('paid', 3), 'day 3', 'Paid day 3'],
  [column('in-run', null), 'on its way', 'On its way'],
  [column('cleared', null), 'next payout', 'In the next payout'],
  [column('held', 5), 'day 5', 'Held until the week of day 5'],
  [column('held', 5, true), 'day 5 on', 'Held until the week of day 5 on'],
  [column('expected', 9), 'day 9', 'To be expected in the week of day 9'],
])('%j', (shown, foot, words) => {
  expect(comingFoot(shown, day)).toBe(foot);
  expect(comingWords(shown, day)).toBe(words);
});

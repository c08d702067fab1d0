import { expect, it } from 'vitest';
import { actionWords, changeWords } from './audit-words';

it('an action reads as a sentence', () => {
  expect([actionWords('run-sent'), actionWords('landing-host-added'), actionWords('x')]).toEqual([
    'Payout run sent',
    'Landing host added',
    'X',
  ]);
});
const written = { base: 'EUR', moment: (at: number) => `moment ${at}` };
it.each([
  [
    { active: true, until: null, texts: { words: 'Old', around: '' } },
    { active: false, until: 9, texts: { words: 'New', around: '' } },
    'active: yes → no, until: — → moment 9, words: Old → New',
  ],
  [
    { audience: { kind: 'everybody' }, products: ['prd_a', 'prd_b'] },
    { audience: { kind: 'named', affiliates: ['aff_1', 'aff_2'] }, products: ['prd_a'] },
    'audience: everybody → 2 affiliates, products: prd_a, prd_b → prd_a',
  ],
  [{ from: 1 }, { from: 2 }, 'from: moment 1 → moment 2'],
  [
    { state: 'draft' },
    { state: 'approved', total: 217_894, payees: 15 },
    'state: draft → approved, total: €2,178.94, payees: 15',
  ],
  [
    { reward: { type: 'percent', ppm: 300_000 } },
    { reward: { type: 'percent', ppm: 350_000 }, from: 5 },
    'reward: 30 % → 35 %',
  ],
  [null, { reward: { type: 'flat-order', amount: 500 }, affiliate: 'aff_1' }, 'reward: €5.00'],
  [{ reason: null }, { state: 'approved', reason: null }, 'state: approved'],
  [{ name: 'A' }, { name: '' }, 'name: A → —'],
  [undefined, undefined, ''],
])('%j → %j', (before, after, said) => {
  expect(changeWords(before, after, written)).toBe(said);
});

import { expect, it } from 'vitest';
import { usualPracticeList } from '../../../src/core/recruiting/practices';
import { answered, draft, owner, prepare, type Fault, type Publishing } from './world';

prepare();

const save = async (content: object) => {
  const d = await draft();
  return owner.put<Fault>(`/api/v1/policies/${d.id}`, { ...d.content, ...content, version: d.version });
};
const faults = async (content: object) => (await save(content)).body.errors.map((e) => e.pointer);
const first = { key: 'resale', name: 'Resale', words: [], answer: 'welcome', says: '', exceptions: [] };
it('before it is published: says all that is wrong at once, each at its field', async () => {
  expect(
    await faults({
      practices: [
        { ...first, says: '{rate NOPE-1}' },
        { ...first, key: 'children', name: 'resale' },
        {
          ...first,
          key: 'comparison',
          name: 'C',
          exceptions: [{ who: 'set_gone', answer: 'welcome', says: '' }],
        },
        {
          ...first,
          key: 'cash-return',
          name: 'D',
          answer: null,
          exceptions: [{ who: 'blog', answer: 'welcome', says: '' }],
        },
      ],
      owed: '{payday}',
      accepted: ['blog'],
      refused: ['blog'],
    }),
  ).toEqual([
    '/owed',
    '/practices/0/says',
    '/practices/2/exceptions/0/who',
    '/practices/1/name',
    '/practices/3/answer',
    '/refused',
  ]);
});
it.each([
  ['an unknown practice', { practices: [{ ...first, key: 'telepathy' }] }, '/practices/0/key'],
  ['an unknown answer', { practices: [{ ...first, answer: 'perhaps' }] }, '/practices/0/answer'],
  ['a name of nothing but spaces', { practices: [{ ...first, name: '  ' }] }, '/practices/0/name'],
  [
    'an exception for nobody known',
    { practices: [{ ...first, exceptions: [{ who: 'plumber', answer: 'welcome', says: '' }] }] },
    '/practices/0/exceptions/0/who',
  ],
  [
    '61 practices',
    { practices: Array.from({ length: 61 }, (_, i) => ({ ...first, key: `prc_${i}`, name: `P ${i}` })) },
    '/practices',
  ],
  ['further terms of 60,001 characters', { general: 'x'.repeat(60_001) }, '/general'],
])('before it is published: refuses %s', async (_, content, pointer) => {
  expect(await faults(content)).toContain(pointer);
});
it('before it is published: refuses characters that cannot be shown', async () => {
  expect((await save({ general: 'a\u0007b' })).status).toBe(422);
});
it('before it is published: asks for what is empty, and takes it where it was seen', async () => {
  const d = await draft();
  const publishing = (empty: string[], version = d.version) =>
    owner.post<Fault>(`/api/v1/policies/${d.id}/publish`, { version, empty });
  expect((await publishing([])).body.errors.map((e) => e.pointer)).toEqual(['/general']);
  const saved = await owner.put<{ version: number }>(`/api/v1/policies/${d.id}`, {
    ...d.content,
    practices: answered(d.content, { 'cash-return': 'ask-first' }),
    version: d.version,
  });
  const refused = await publishing(['counts', 'declined'], saved.body.version);
  expect([refused.status, refused.body.errors.length]).toEqual([422, usualPracticeList.length - 1 + 3]);
  expect(refused.body.errors.at(-1)!.detail).toContain('Further terms');
  const view = (await owner.get<Publishing>(`/api/v1/policies/${d.id}/publishing`)).body;
  expect(view).toMatchObject({ number: 1, told: 2 });
  expect(view.gaps).toHaveLength(usualPracticeList.length - 1 + 5);
});

import { afterAll, beforeAll, beforeEach, expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import type { FunnelIn, FunnelOut } from '../../src/contract/setup/funnels';
import { type Id } from '../../src/core/text/id';
import { startServer, type TestServer } from '../helpers/server';

interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string; example?: string }[];
  current?: FunnelOut;
}
let s: TestServer;
let owner: Client;
const ids: Record<string, Id<'product'>> = {};
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  for (const code of ['WHEEL-1', 'APRON-1', 'ROLL-1', 'GONE-1']) {
    await s.product(code, { price: '40.00' });
    ids[code] = s.app.sqlite
      .prepare('SELECT id FROM products WHERE code = ?')
      .pluck()
      .get(code) as Id<'product'>;
  }
});
afterAll(() => s.close());
beforeEach(() => {
  s.app.sqlite.exec('DELETE FROM funnel_steps; DELETE FROM funnels');
});

const step = (code: string, more: Partial<FunnelIn['steps'][number]> = {}) => ({
  code,
  product: ids['APRON-1']!,
  price: '29.00',
  onYes: null,
  onNo: null,
  ...more,
});
const typed = (more: Partial<FunnelIn> = {}): FunnelIn => ({
  name: 'After the wheel',
  opening: ids['WHEEL-1']!,
  first: 'apron',
  steps: [step('apron', { onYes: 'roll' }), step('roll', { product: ids['ROLL-1']!, price: '' })],
  ...more,
});
const create = (more: Partial<FunnelIn> = {}) =>
  owner.post<FunnelOut & Fault>('/api/v1/funnels', typed(more));
const faultsOf = async (more: Partial<FunnelIn>) =>
  (await create(more)).body.errors.map((e) => `${e.pointer}: ${e.detail}`);
const list = async () => (await owner.get<{ rows: FunnelOut[] }>('/api/v1/funnels')).body.rows;
const audited = () => s.app.sqlite.prepare('SELECT action FROM audit ORDER BY rowid DESC').pluck().get();

it('is kept with its steps in their order, each at its own price or at the product’s', async () => {
  const { status, body } = await create();
  expect(status).toBe(200);
  expect(body).toMatchObject({
    name: 'After the wheel',
    openingName: 'Product WHEEL-1',
    first: 'apron',
    version: 1,
  });
  expect(body.steps.map((x) => [x.code, x.price, x.onYes, x.onNo])).toEqual([
    ['apron', '29.00', 'roll', null],
    ['roll', '', null, null],
  ]);
  expect(await list()).toEqual([body]);
  expect(audited()).toBe('funnel-created');
});

it('says everything that does not fit at once', async () => {
  const gone = (await owner.get<{ version: number }>(`/api/v1/products/${ids['GONE-1']}`)).body;
  await owner.post(`/api/v1/products/${ids['GONE-1']}/state`, { state: 'retired', version: gone.version });
  expect(
    await faultsOf({
      opening: 'prd_none',
      steps: [
        step('apron', { product: 'prd_none' }),
        step('gone', { product: ids['GONE-1']! }),
        step('dear', { price: 'a lot' }),
      ],
    }),
  ).toEqual(
    expect.arrayContaining([
      '/opening: The opening product does not exist',
      '/steps: Step apron offers a product that does not exist',
      '/steps: Step gone offers Product GONE-1, which was retired',
      expect.stringContaining('/steps: Step dear, price: “a lot” is not an amount'),
    ]),
  );
  expect(await list()).toEqual([]);
});

it('never leads round in a circle, nor to a step that there is not', async () => {
  expect(await faultsOf({ steps: [step('apron', { onYes: 'apron' })] })).toHaveLength(1);
  expect(await faultsOf({ steps: [step('apron', { onNo: 'nowhere' })] })).toHaveLength(1);
  expect(await faultsOf({ first: 'nowhere' })).not.toEqual([]);
});

it('a product opens one, and the code of a step is of one', async () => {
  await create();
  expect(await faultsOf({ steps: [step('other')], first: 'other' })).toEqual([
    '/opening: Product WHEEL-1 opens the funnel After the wheel already; a product opens one',
  ]);
  expect(await faultsOf({ opening: ids['ROLL-1']!, steps: [step('apron')] })).toEqual([
    '/steps: The code apron belongs to a step of another funnel',
  ]);
});

it('two who edit one: the second is told, with what is there', async () => {
  const { id } = (await create()).body;
  const edit = (name: string, version: number) =>
    owner.put<FunnelOut & Fault>(`/api/v1/funnels/${id}`, { ...typed({ name }), version });
  expect((await edit('First', 1)).body).toMatchObject({ name: 'First', version: 2 });
  const late = await edit('Second', 1);
  expect([late.status, late.body.code, late.body.current?.name]).toEqual([409, 'stale', 'First']);
  expect((await list())[0]!.name).toBe('First');
});

/** A special rate on a step, straight into the book. */
async function rateOn(code: string): Promise<void> {
  await owner.post('/api/v1/draft/rates', {
    column: { of: 'everyone' },
    row: { of: 'step', id: code },
    event: 'sale',
    mode: 'base',
    reward: { kind: 'percent', value: '25' },
  });
  const { version } = (await owner.get<{ version: number }>('/api/v1/draft')).body;
  expect((await owner.post('/api/v1/draft/save', { version })).status).toBe(200);
}
const openRates = (code: string) =>
  s.app.sqlite
    .prepare("SELECT count(*) FROM rates WHERE json_extract(what, '$.step') = ? AND valid_until IS NULL")
    .pluck()
    .get(code) as number;

it('a step that is taken out takes its rates along; removed, all of them, and its products stay', async () => {
  const { id } = (await create()).body;
  await rateOn('apron');
  await rateOn('roll');
  expect([openRates('apron'), openRates('roll')]).toEqual([1, 1]);
  const edited = await owner.put<FunnelOut>(`/api/v1/funnels/${id}`, {
    ...typed({ steps: [step('apron')] }),
    version: 1,
  });
  expect([edited.body.version, openRates('apron'), openRates('roll')]).toEqual([2, 1, 0]);

  const remove = (version: number) => owner.post<Fault>(`/api/v1/funnels/${id}/remove`, { version });
  expect((await remove(1)).body.code).toBe('stale');
  expect((await remove(2)).status).toBe(200);
  expect([await list(), openRates('apron'), audited()]).toEqual([[], 0, 'funnel-removed']);
  expect((await remove(3)).status).toBe(404);
  expect(
    s.app.sqlite.prepare("SELECT count(*) FROM products WHERE code IN ('APRON-1', 'ROLL-1')").pluck().get(),
  ).toBe(2);
  // what opened it opens another one now, with the same codes
  expect((await create()).status).toBe(200);
});

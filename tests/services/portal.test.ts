import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import type { TodayOut } from '../../src/contract/lookback/today';
import { startServer, type TestServer } from '../helpers/server';

interface Home {
  links: { code: string; link: string; reward: string; timing: string; price: string }[];
  balances: Record<string, { amount: number }>;
  going: { now: { clicks: number; orders: number } };
  visits: { product: string; counted: string | null }[];
  detailsComplete: boolean;
  waiting: string[];
}
interface Working {
  credit: { who: string; reason: string; considered: { who: string; outcome: string }[] };
  lines: {
    reason: string | null;
    sums: { label: string; figure: string; weight: string }[];
    rungs: { rung: string; rows: { text: string; outcome: string }[] }[];
  }[];
  changes: { what: string; amount: { amount: number } }[];
  total: { amount: number };
  left: { amount: number };
}

let s: TestServer;
let ann: Awaited<ReturnType<TestServer['affiliate']>>;
let bob: Awaited<ReturnType<TestServer['affiliate']>>;
beforeAll(async () => {
  s = await startServer();
  await s.product('WHEEL-1', { price: '199.00', reward: '12' });
  await s.product('APRON-1', { price: '46.00', rewardKind: 'flat', reward: '5.00' });
  ann = await s.affiliate('Ann Ash');
  bob = await s.affiliate('Bob Bisque', { product: 'APRON-1', details: false });
});
afterAll(() => s.close());
const now = () => new Date(s.app.clock.now()).toISOString();
const home = async (affiliate: typeof ann) => (await affiliate.client.get<Home>('/api/v1/portal/home')).body;

it('an affiliate’s own side: has a link for what it is approved for, with what it earns', async () => {
  expect((await home(ann)).links.map((l) => [l.code, l.reward, l.timing, l.price])).toEqual([
    ['APRON-1', '€5.00 an order', 'after-hold', '€46.00'],
    ['WHEEL-1', '12 %', 'after-hold', '€199.00'],
  ]);
  expect((await home(bob)).links.map((l) => l.code)).toEqual(['APRON-1']);
  expect((await home(bob)).detailsComplete).toBe(false);
});
it('an affiliate’s own side: gets a link for a product that goes live later, if approved for everything', async () => {
  await s.product('KILN-S');
  expect((await home(ann)).links.map((l) => l.code)).toContain('KILN-S');
  expect((await home(bob)).links.map((l) => l.code)).not.toContain('KILN-S');
});
it('an affiliate’s own side: counts visits and says which are not counted', async () => {
  await s.visit(await ann.link('WHEEL-1'));
  await s.visit(await ann.link('WHEEL-1'), { 'user-agent': 'Examplebot/1.0' });
  const { going, visits } = await home(ann);
  expect(going.now.clicks).toBe(1);
  expect(visits.map((v) => v.counted).sort()).toEqual([null, 'the visitor looks automated']);
});
it('an affiliate’s own side: earns only on what it is approved for', async () => {
  const visit = await s.visit(await bob.link('APRON-1'));
  const lines = [
    { product: 'WHEEL-1', quantity: 1, amount: '199.00' },
    { product: 'APRON-1', quantity: 1, amount: '46.00' },
  ];
  const answer = (await s.report('orders', { order: 'P-1', placedAt: now(), currency: 'EUR', lines, visit }))
    .body;
  expect(answer.commissions[0]!.amount.value).toBe('5.00');
  const [row] = (await bob.client.get<{ rows: { id: string }[] }>('/api/v1/portal/earnings')).body.rows;
  const { working } = (await bob.client.get<{ working: Working }>(`/api/v1/portal/earnings/${row!.id}`)).body;
  expect(working.lines.map((l) => l.reason)).toEqual(['not approved for this product', null]);
});
it('an affiliate’s own side: sees a working that adds up by hand, and no other affiliate’s name', async () => {
  // one browser follows both links: the last visit wins, the other is looked at
  const buyer = new Client(s.address);
  const first = await buyer.get(await bob.link('APRON-1'));
  const visitor = /gvv=(vtr_\w+)/.exec(first.headers.get('set-cookie')!)![1];
  await buyer.get(await ann.link('WHEEL-1'));
  await s.report('orders', {
    order: 'P-2',
    placedAt: now(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 2, amount: '398.00', discount: '39.80' }],
    visitor,
  });
  const [row] = (await ann.client.get<{ rows: { id: string }[] }>('/api/v1/portal/earnings')).body.rows;
  const { working } = (await ann.client.get<{ working: Working }>(`/api/v1/portal/earnings/${row!.id}`)).body;
  expect(working.lines[0]!.sums.map((r) => `${r.label} ${r.figure}`)).toEqual([
    'Price paid, 2 units €398.00',
    'Discount −€39.80',
    'Commissionable €358.20',
    '× 12 %, rounded €42.98',
    'Uplift: none on this day —',
    'Commission €42.98',
  ]);
  expect(working.credit.considered.map((c) => [c.who, c.outcome])).toEqual([
    ['Ann Ash', 'credited: the last visit inside the window'],
    ['another affiliate', 'an earlier visit'],
  ]);
  expect(JSON.stringify(working)).not.toContain('Bob');
  expect(working.lines[0]!.rungs.find((r) => r.rung === 'Product')!.rows).toMatchObject([
    { text: '12 %', outcome: 'wins' },
  ]);
});
it('an affiliate’s own side: sees each change since', async () => {
  await s.report('refunds', {
    refund: 'PR-2',
    order: 'P-2',
    at: now(),
    kind: 'chargeback',
    lines: [{ product: 'WHEEL-1', amount: '158.20' }],
  });
  const { rows } = (
    await ann.client.get<{ rows: { id: string; granted: { amount: number }; left: { amount: number } }[] }>(
      '/api/v1/portal/earnings',
    )
  ).body;
  expect(rows[0]).toMatchObject({ granted: { amount: 4298 }, left: { amount: 2400 } });
  const { working } = (await ann.client.get<{ working: Working }>(`/api/v1/portal/earnings/${rows[0]!.id}`))
    .body;
  expect(working.changes).toMatchObject([{ what: 'Chargeback PR-2', amount: { amount: -1898 } }]);
  expect(working.total.amount + working.changes.reduce((sum, c) => sum + c.amount.amount, 0)).toBe(
    working.left.amount,
  );
});
it('an affiliate’s own side: an application on its way is named', async () => {
  await bob.client.post('/api/v1/join', {
    name: 'Bob',
    email: 'bobbisque@bobbisque.example',
    country: 'PT',
    address: '',
    sites: ['bob.example'],
    channels: '',
    note: '',
    product: '',
  });
  expect((await home(bob)).waiting).toEqual(['the whole programme']);
});

describe('Today', () => {
  it('counts what happened, with what was taken back', async () => {
    const today = (await (await s.as('viewer')).get<TodayOut>('/api/v1/today')).body;
    expect(today.performance!.week).toMatchObject({ orders: 2, granted: 4798, reversed: 1898 });
    expect(today.owed!.held.amount).toBe(2900);
    expect(today.performance!.trend.at(-1)!.clicks).toBe(today.performance!.week.clicks);
    expect(today.performance!.week.conversion).toBe(
      Math.round((2 / today.performance!.week.clicks) * 1_000_000),
    );
    expect(today.waiting.map((w) => w.kind)).toContain('applications');
    expect(
      (await (await s.as('viewer')).get<Record<string, number>>('/api/v1/counts')).body.applications,
    ).toBe(1);
  });
  it('says what is missing before anything has been sold', async () => {
    const fresh = await startServer();
    const { missing, waiting, performance } = (await (await fresh.as('owner')).get<TodayOut>('/api/v1/today'))
      .body;
    expect(missing.map((m) => m.text)).toEqual([
      'Put a first product live',
      'No order has arrived from the shop yet',
    ]);
    expect([waiting, performance!.week.conversion]).toEqual([[], null]);
    await fresh.close();
  });
});

it('rate cards that affiliates choose: one at sign-up, another from the next day on; names of tags are never shown', async () => {
  const t = await startServer();
  const owner = await t.as('owner');
  await t.product('WHEEL-1');
  const make = async (kind: string, name: string, more = {}) =>
    (await owner.post<{ id: string }>('/api/v1/sets', { of: kind, name, about: '', ...more })).body.id;
  const [makers, media, closed, tag] = [
    await make('card', 'Makers', { openJoin: true }),
    await make('card', 'Media', { openChange: true }),
    await make('card', 'Inner'),
    await make('tag', 'ask before paying'),
  ];
  expect(
    (await owner.get<{ cards: { name: string }[] }>('/api/v1/join')).body.cards.map((c) => c.name),
  ).toEqual(['Makers']);
  const apply = (card: string) =>
    owner.post<{ errors?: { pointer: string }[] }>('/api/v1/join', {
      name: 'Mara',
      email: 'mara@potters.example',
      country: 'PT',
      address: '',
      sites: ['potters.example'],
      channels: '',
      note: 'x',
      product: '',
      card,
    });
  expect((await apply(closed)).body.errors![0]!.pointer).toBe('/card');
  expect((await apply(makers)).status).toBe(200);
  const mara = t.app.sqlite.prepare("SELECT id FROM affiliates WHERE name = 'Mara'").pluck().get() as string;
  expect((await owner.get<{ card: string }>(`/api/v1/affiliates/${mara}/places`)).body.card).toBe(makers);
  const iris = await t.affiliate('Iris');
  await owner.put(`/api/v1/affiliates/${iris.id}/places`, { tags: [tag] });
  const home = async () =>
    await iris.client.get<{
      places: {
        card: { name: string };
        coming: { name: string } | null;
        choices: { id: string; name: string }[];
      };
    }>('/api/v1/portal/home');
  expect((await home()).body.places).toMatchObject({
    card: { name: 'Standard' },
    coming: null,
    choices: [{ name: 'Media' }],
  });
  expect((await home()).text).not.toContain('ask before paying');
  await iris.client.put('/api/v1/portal/card', { card: media });
  expect((await home()).body.places).toMatchObject({
    card: { name: 'Standard' },
    coming: { name: 'Media' },
  });
  expect(
    (await iris.client.put<{ errors?: { pointer: string }[] }>('/api/v1/portal/card', { card: closed })).body
      .errors![0]!.pointer,
  ).toBe('/card');
  t.days(1);
  expect((await home()).body.places).toMatchObject({ card: { name: 'Media' }, coming: null });
  await t.close();
});

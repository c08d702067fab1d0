import { describe, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { answer, link, now, order, prepare, s } from './world';

prepare();

const pixel = (query: Record<string, string>) =>
  new Client(s.address).get(`/px/${s.key.id}.gif?${new URLSearchParams(query).toString()}`);
interface Unconfirmed {
  id: string;
  reference: string;
  misfit: string;
  state: string;
  affiliate: string | null;
  value: { amount: number };
  order: string | null;
}
const unconfirmed = async (state = 'open') =>
  (await (await s.as('viewer')).get<{ rows: Unconfirmed[] }>(`/api/v1/unconfirmed?state=${state}`)).body.rows;
const recorded = (reference: string) =>
  s.app.sqlite.prepare('SELECT count(*) FROM orders WHERE reference = ?').pluck().get(reference) as number;
it('the fallback picture proves nothing: it grants, takes and delivers nothing, and is in no list of sales', async () => {
  const bought = await s.product('PIC-1', { price: '50.00', stock: '3' });
  const eager = await s.affiliate('Eager Eve', { timing: 'at-sale' });
  const visit = await s.visit(await eager.link('PIC-1'));
  const shown = await pixel({ order: 'P-1', amount: '50.00', currency: 'EUR', product: 'PIC-1', visit });
  expect([shown.headers.get('content-type'), shown.headers.get('x-gravenel-outcome')]).toEqual([
    expect.stringContaining('image/gif'),
    'unconfirmed',
  ]);
  expect(
    (await pixel({ order: 'P-1', amount: '50.00', currency: 'EUR', product: 'PIC-1', visit })).headers.get(
      'x-gravenel-outcome',
    ),
  ).toBe('already-recorded');
  expect(
    (await pixel({ order: 'P-1', amount: '60.00', currency: 'EUR', product: 'PIC-1', visit })).headers.get(
      'x-gravenel-outcome',
    ),
  ).toBe('contradicts');
  expect([
    recorded('P-1'),
    s.app.sqlite.prepare('SELECT sold FROM products WHERE id = ?').pluck().get(bought),
  ]).toEqual([0, 0]);
  expect((await unconfirmed())[0]).toMatchObject({
    reference: 'P-1',
    affiliate: 'Eager Eve',
    misfit: '',
    value: { amount: 5000 },
  });
  const refund = await answer(
    s.report('refunds', { refund: 'RP-1', order: 'P-1', at: now(), kind: 'refund', full: true }),
  );
  expect(refund).toMatchObject({
    status: 422,
    detail: expect.stringContaining('known by a picture alone and unconfirmed'),
  });
  // the signed report is complete, whatever the picture said
  expect(
    await answer(
      s.report('orders', {
        order: 'P-1',
        placedAt: now(),
        currency: 'EUR',
        lines: [{ product: 'PIC-1', quantity: 2, amount: '100.00' }],
        visit,
      }),
    ),
  ).toMatchObject({
    status: 201,
    outcome: 'recorded',
    commissions: [{ amount: { value: '10.00' }, state: 'cleared' }],
  });
  expect(s.app.sqlite.prepare('SELECT sold FROM products WHERE id = ?').pluck().get(bought)).toBe(2);
  expect((await unconfirmed('reported'))[0]).toMatchObject({ reference: 'P-1' });
  expect((await unconfirmed()).some((r) => r.reference === 'P-1')).toBe(false);
  expect((await (await s.as('viewer')).get<{ doubled: number }>('/api/v1/connection')).body.doubled).toBe(1);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});
it('the fallback picture becomes a sale when a person says so, once; the signed report counts it as the same', async () => {
  const visit = await s.visit(await (await s.affiliate('Hasty Hal', { timing: 'at-sale' })).link('WHEEL-1'));
  await pixel({ order: 'P-2', amount: '597.00', currency: 'EUR', product: 'WHEEL-1', visit });
  const row = (await unconfirmed()).find((r) => r.reference === 'P-2')!;
  expect(row.misfit).toBe('€597.00 is the price of 3 units, €199.00 each; a picture reports one');
  const manager = await s.as('manager');
  const confirm = () => manager.post<{ order: string }>(`/api/v1/unconfirmed/${row.id}/confirm`);
  expect((await (await s.as('viewer')).post(`/api/v1/unconfirmed/${row.id}/confirm`)).status).toBe(403);
  const [one, two] = await Promise.all([confirm(), confirm()]);
  expect([one.status, two.status].sort()).toEqual([200, 409]);
  expect(
    s.app.sqlite
      .prepare(
        "SELECT c.timing, c.state, c.granted FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = 'P-2'",
      )
      .get(),
  ).toEqual({ timing: 'after-hold', state: 'held', granted: 7164 });
  const signed = {
    order: 'P-2',
    placedAt: now(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 3, amount: '597.00' }],
    visit,
  };
  expect(await answer(s.report('orders', signed))).toMatchObject({
    status: 201,
    outcome: 'recorded',
    commissions: [{ amount: { value: '71.64' }, state: 'held' }],
  });
  expect(await answer(s.report('orders', signed))).toMatchObject({ status: 200 });
  expect([recorded('P-2'), brokenInvariants(s.app.sqlite)]).toEqual([1, []]);
});
it('the fallback picture is set aside with a reason, waits a week for Today, and leaves every sum as it was', async () => {
  const sums = () =>
    s.app.sqlite
      .prepare(
        'SELECT (SELECT count(*) FROM orders) o, (SELECT count(*) FROM commissions) c, (SELECT count(*) FROM entries) e',
      )
      .get();
  const before = sums();
  await pixel({ order: 'P-3', amount: '1.00', currency: 'EUR', product: 'WHEEL-1' });
  await pixel({ order: 'P-4', amount: '199.00', currency: 'EUR', product: 'WHEEL-1' });
  const manager = await s.as('manager');
  const aside = (await unconfirmed()).find((r) => r.reference === 'P-3')!;
  expect(aside.misfit).toContain('less than the price');
  expect(
    (await manager.post(`/api/v1/unconfirmed/${aside.id}/set-aside`, { note: 'No such order in the shop' }))
      .status,
  ).toBe(200);
  const waiting = async () =>
    (await manager.get<{ waiting: { kind: string; text: string }[] }>('/api/v1/today')).body.waiting
      .filter((w) => w.kind === 'sales')
      .map((w) => w.text);
  expect(await waiting()).toEqual([]);
  s.days(7);
  expect(await waiting()).toEqual(['1 sale unconfirmed for 7 days']);
  s.days(-7);
  expect(sums()).toEqual(before);
  expect(
    (
      await pixel({ order: 'P-T', amount: '199.00', currency: 'EUR', product: 'WHEEL-1', test: '1' })
    ).headers.get('x-gravenel-outcome'),
  ).toBe('already-recorded');
  expect((await unconfirmed()).some((r) => r.reference === 'P-T')).toBe(false);
});
it('the fallback picture and the double connection: is taken only with a key for which pictures are switched on', async () => {
  const owner = await s.as('owner');
  const { id } = (await owner.post<{ id: string }>('/api/v1/connection/keys', { label: 'Other shop' })).body;
  const shown = await new Client(s.address).get(
    `/px/${id}.gif?order=P-9&amount=199.00&currency=EUR&product=WHEEL-1`,
  );
  expect([shown.status, shown.headers.get('x-gravenel-outcome')]).toEqual([200, 'refused']);
  expect((await unconfirmed()).some((r) => r.reference === 'P-9')).toBe(false);
  expect((await owner.put(`/api/v1/connection/keys/${id}/pictures`, { on: true })).body).toEqual({
    id,
    pictures: true,
  });
  expect(
    (
      await new Client(s.address).get(`/px/${id}.gif?order=P-9&amount=199.00&currency=EUR&product=WHEEL-1`)
    ).headers.get('x-gravenel-outcome'),
  ).toBe('unconfirmed');
});
it('the fallback picture and the double connection: compares the values of both ways', async () => {
  await s.report('orders', order('Q-41'));
  await pixel({ order: 'Q-41', amount: '149.00', currency: 'EUR', product: 'WHEEL-1' });
  const [row] = (await (await s.as('viewer')).get<{ rows: { said: string }[] }>('/api/v1/reports?q=Q-41'))
    .body.rows;
  expect(row!.said).toContain('the amounts differ: 199.00 counts, 149.00 came by the other way');
});

describe('the redirect', () => {
  it('stores the visit before it answers and passes its id on', async () => {
    const led = await new Client(s.address).get(`${link}?s1=spring&s2=x`);
    expect(led.status).toBe(302);
    const to = new URL(led.headers.get('location')!);
    expect(to.pathname).toBe('/p/WHEEL-1');
    const row = s.app.sqlite.prepare('SELECT * FROM visits WHERE id = ?').get(to.searchParams.get('gvn')) as {
      sub_ids: string;
    };
    expect(JSON.parse(row.sub_ids)).toEqual(['spring', 'x', null, null, null]);
  });
  it('an unknown link is a plain page, and no other place can be led to', async () => {
    expect((await new Client(s.address).get('/go/nothere1')).status).toBe(404);
    expect((await new Client(s.address).get(`${link}?to=https://elsewhere.example/`)).status).toBe(404);
    expect((await new Client(s.address).get(`${link}?to=javascript:alert(1)`)).status).toBe(404);
    expect(
      (
        await new Client(s.address).get(`${link}?to=https://shop.quernstone.example/p/OTHER?a=1%23top`)
      ).headers.get('location'),
    ).toMatch(/\/p\/OTHER\?a=1&gvn=vis_\w+#top$/);
  });
  it('a program that walks pages is recorded apart', async () => {
    const visit = await s.visit(link, { 'user-agent': 'Examplebot/1.0' });
    expect(await answer(s.report('orders', order('Q-50', { visit, placedAt: now() })))).toMatchObject({
      credited: null,
      reason: expect.stringContaining('looks automated'),
    });
  });
  it('a paused affiliate’s link leads on and earns nothing', async () => {
    const pause = await s.affiliate('Pausing Potter');
    const own = await pause.link('WHEEL-1');
    const owner = await s.as('owner');
    const { version } = (await owner.get<{ version: number }>(`/api/v1/affiliates/${pause.id}`)).body;
    await owner.post(`/api/v1/affiliates/${pause.id}/state`, { state: 'paused', reason: '', version });
    const visit = await s.visit(own);
    expect(await answer(s.report('orders', order('Q-51', { visit, placedAt: now() })))).toMatchObject({
      credited: null,
      reason: expect.stringContaining('the affiliate is paused'),
    });
  });
});

it('leaves every invariant whole', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

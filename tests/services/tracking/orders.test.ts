import { expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { answer, link, now, order, prepare, s } from './world';

prepare();

it('orders: is recorded with its credit and commission', async () => {
  const visit = await s.visit(link);
  const a = await answer(s.report('orders', order('Q-1', { visit, placedAt: now() })));
  expect(a).toMatchObject({
    status: 201,
    outcome: 'recorded',
    order: 'Q-1',
    credited: { affiliate: 'loam-letters', by: 'visit' },
  });
  expect(a.commissions).toEqual([
    {
      id: expect.stringMatching(/^com_/),
      affiliate: 'loam-letters',
      amount: { value: '23.88', currency: 'EUR' },
      state: 'held',
      clearsOn: '2027-03-29',
    },
  ]);
});
it('orders: the same again counts once, however its amount is written', async () => {
  const body = order('Q-2', { visit: await s.visit(link) });
  const first = await answer(s.report('orders', body));
  const again = await answer(
    s.report('orders', {
      ...body,
      placedAt: '2027-03-12T10:00:00+01:00',
      lines: [{ product: 'wheel-1', quantity: 1, amount: '199' }],
    }),
  );
  expect(again).toMatchObject({ status: 200, outcome: 'already-recorded' });
  expect(again.commissions).toEqual(first.commissions);
});
it('orders: a contradiction changes nothing and keeps both versions', async () => {
  await s.report('orders', order('Q-3'));
  const other = await answer(
    s.report('orders', order('Q-3', { lines: [{ product: 'WHEEL-1', quantity: 1, amount: '99.00' }] })),
  );
  expect(other).toMatchObject({ status: 409, code: 'contradicts' });
  const rows = (
    await (await s.as('owner')).get<{ rows: { outcome: string; id: string }[] }>('/api/v1/reports?q=Q-3')
  ).body.rows;
  expect(rows.map((r) => r.outcome)).toEqual(['contradicts', 'recorded']);
});
it('orders: takes no control characters in a reference, by a picture neither', async () => {
  const a = await answer(s.report('orders', order('Q-\u0000')));
  expect([a.status, a.errors.map((e) => e.pointer)]).toEqual([422, ['/order']]);
  expect(await answer(s.report('orders', order(' ')))).toMatchObject({ status: 422 });
  const shown = await new Client(s.address).get(
    `/px/${s.key.id}.gif?order=%0d%0aQ-1&amount=199.00&currency=EUR&product=WHEEL-1`,
  );
  expect(shown.headers.get('x-gravenel-outcome')).toBe('refused');
});
it('orders: two payments of one order are two', async () => {
  await s.report('orders', order('Q-4', { payment: 'Q-4-1' }));
  expect(await answer(s.report('orders', order('Q-4', { payment: 'Q-4-2' })))).toMatchObject({
    status: 201,
  });
});
it('orders: without a visit, nobody is credited, and it says why', async () => {
  expect(await answer(s.report('orders', order('Q-5')))).toMatchObject({
    status: 201,
    credited: null,
    commissions: [],
    reason: expect.stringContaining('carries no visit'),
  });
  expect(await answer(s.report('orders', order('Q-6', { visit: 'vis_nonsense' })))).toMatchObject({
    credited: null,
    reason: expect.stringContaining('not known here'),
  });
});
it('orders: a visit outside the window does not earn', async () => {
  const visit = await s.visit(link);
  s.days(31);
  const a = await answer(s.report('orders', order('Q-7', { visit, placedAt: now() })));
  s.days(-31);
  expect(a).toMatchObject({
    credited: null,
    reason: expect.stringContaining('outside the window of 30 days by 1 day'),
  });
});
it('orders: falls back on the visitor’s last stored visit', async () => {
  const led = await new Client(s.address).get(link);
  const visitor = /gvv=(vtr_\w+)/.exec(led.headers.get('set-cookie') ?? '')![1];
  expect(await answer(s.report('orders', order('Q-8', { visitor, placedAt: now() })))).toMatchObject({
    credited: { by: 'visitor' },
  });
});
it('orders: a test order is marked and pays nothing', async () => {
  const a = await answer(s.report('orders', order('Q-9', { visit: await s.visit(link), test: true })));
  expect(a).toMatchObject({ status: 201, commissions: [], reason: expect.stringContaining('test order') });
});
it('orders: several lines make one commission, a flat reward counting once', async () => {
  const lines = [
    { product: 'WHEEL-1', quantity: 1, amount: '199.00', discount: '19.90' },
    { product: 'APRON-1', quantity: 2, amount: '92.00' },
  ];
  const a = await answer(s.report('orders', order('Q-10', { visit: await s.visit(link), lines })));
  expect(a.commissions[0]!.amount.value).toBe('26.49'); // 12 % of 179.10 = 21.49, and 5.00
});
it('orders: a discount of the whole order is shared over its lines; null says nothing', async () => {
  const lines = [
    { product: 'WHEEL-1', quantity: 1, amount: '100.00' },
    { product: 'WHEEL-1', quantity: 1, amount: '50.00' },
  ];
  const a = await answer(
    s.report(
      'orders',
      order('Q-14', {
        visit: await s.visit(link),
        lines,
        discount: '10.00',
        coupon: null,
        customer: null,
        channel: null,
      }),
    ),
  );
  expect(a.commissions[0]!.amount.value).toBe('16.80'); // 12 % of 93.33 = 11.20, 12 % of 46.67 = 5.60
  expect(await answer(s.report('orders', order('Q-15', { lines, discount: '150.01' })))).toMatchObject({
    status: 422,
    errors: [{ pointer: '/discount' }],
  });
});
it('orders: an order in another currency needs a rate and keeps it', async () => {
  const visit = await s.visit(link);
  const yen = order('Q-11', {
    visit,
    currency: 'JPY',
    placedAt: now(),
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '5000' }],
  });
  expect(await answer(s.report('orders', yen))).toMatchObject({
    status: 422,
    errors: [
      { pointer: '/currency', detail: expect.stringContaining('No exchange rate between JPY and EUR') },
    ],
  });
  await (
    await s.as('finance')
  ).put('/api/v1/settings/exchange', { currency: 'JPY', day: '2027-03-01', rate: '160' });
  expect((await answer(s.report('orders', yen))).commissions[0]!.amount).toEqual({
    value: '3.75',
    currency: 'EUR',
  }); // R14
});
it('orders: a product retired while the buyer pays still earns for the visit before it', async () => {
  const id = await s.product('SOON-1');
  const loam = await s.affiliate('Retiring Reader');
  const visit = await s.visit(await loam.link('SOON-1'));
  const owner = await s.as('owner');
  const { version } = (await owner.get<{ version: number }>(`/api/v1/products/${id}`)).body;
  await owner.post(`/api/v1/products/${id}/state`, { state: 'retired', version });
  const lines = [{ product: 'SOON-1', quantity: 1, amount: '100.00' }];
  expect(
    (await answer(s.report('orders', order('Q-12', { visit, lines, placedAt: now() })))).commissions[0]
      ?.amount.value,
  ).toBe('10.00');
  const late = await s.visit(link);
  expect(
    (await answer(s.report('orders', order('Q-13', { visit: late, lines, placedAt: now() })))).commissions,
  ).toEqual([]);
});

it('leaves every invariant whole', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

import { describe, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { sign } from '../../../src/server/track/reports/signature';
import { answer, link, now, order, prepare, s } from './world';

prepare();

it('bad reports: names every field at fault at once, each with an example', async () => {
  const a = await answer(
    s.report('orders', {
      placedAt: 'yesterday',
      currency: 'EUR',
      lines: [{ product: 'WHEEL-1', quantity: 0, amount: '199.00' }],
      colour: 'red',
    }),
  );
  expect(a.status).toBe(422);
  expect(a.errors.map((e) => e.pointer).sort()).toEqual([
    '/colour',
    '/lines/0/quantity',
    '/order',
    '/placedAt',
  ]);
  expect(a.errors.find((e) => e.pointer === '/order')).toMatchObject({
    detail: 'Order is missing',
    example: 'Q-10042',
  });
});
it.each([
  [{ lines: [{ product: 'NOPE', quantity: 1, amount: '1.00' }] }, '/lines/0/product', /not known here/],
  [
    { lines: [{ product: 'WHEEL-1', quantity: 1, amount: '1.999' }] },
    '/lines/0/amount',
    /at most 2 decimals/,
  ],
  [{ lines: [{ product: 'WHEEL-1', quantity: 1, amount: '-5' }] }, '/lines/0/amount', /negative/],
  [{ lines: [{ product: 'WHEEL-1', quantity: 1, amount: '99999999999999' }] }, '/lines/0/amount', /at most/],
  [
    { lines: [{ product: 'WHEEL-1', quantity: 1, amount: '5.00', discount: '6.00' }] },
    '/lines/0/discount',
    /more than the amount/,
  ],
  [{ lines: [] }, '/lines', /at least 1/],
  [{ currency: 'XXX' }, '/currency', /not known/],
  [{ placedAt: '2099-01-01T00:00:00Z' }, '/placedAt', /in the future/],
  [
    { currency: 'JPY', lines: [{ product: 'WHEEL-1', quantity: 1, amount: '50.25' }] },
    '/lines/0/amount',
    /no decimals/,
  ],
] as [object, string, RegExp][])('bad reports: %j is refused at its field', async (more, pointer, reason) => {
  const a = await answer(s.report('orders', order('Q-BAD', more)));
  expect(a.status).toBe(422);
  expect(a.errors.find((e) => e.pointer === pointer)?.detail).toMatch(reason);
});
it('bad reports: is refused unless signed, lately, with a known key', async () => {
  const body = order('Q-20');
  const bad = async (headers: Record<string, string>) => answer(s.report('orders', body, headers));
  expect(await bad({ 'webhook-signature': 'v1,AAAA' })).toMatchObject({
    status: 401,
    code: 'not-signed',
    detail: expect.stringContaining('does not fit'),
  });
  expect(await bad({ 'x-gravenel-key': 'nobody' })).toMatchObject({
    status: 401,
    detail: expect.stringContaining('not known here'),
  });
  const old = String(Math.floor(Date.now() / 1000) - 400);
  expect(
    await bad({
      'webhook-timestamp': old,
      'webhook-id': 'old',
      'webhook-signature': sign(s.key.secret, 'old', old, JSON.stringify(body)),
    }),
  ).toMatchObject({ status: 401, detail: expect.stringMatching(/40\d seconds old/) });
  expect((await new Client(s.address).post('/api/track/v1/orders', body)).body).toMatchObject({
    detail: 'Missing header: x-gravenel-key, webhook-id, webhook-timestamp, webhook-signature',
  });
});
it('bad reports: a message id with another body is refused', async () => {
  const stamp = String(Math.floor(Date.now() / 1000));
  const signed = (body: object) => ({
    'webhook-id': 'fixed',
    'webhook-timestamp': stamp,
    'webhook-signature': sign(s.key.secret, 'fixed', stamp, JSON.stringify(body)),
  });
  const first = order('Q-21');
  const second = order('Q-22');
  expect((await s.report('orders', first, signed(first))).status).toBe(201);
  expect((await s.report('orders', first, signed(first))).status).toBe(200);
  expect(await answer(s.report('orders', second, signed(second)))).toMatchObject({
    status: 401,
    detail: expect.stringContaining('another body'),
  });
});
it('bad reports: JSON that is none is malformed', async () => {
  expect((await s.report('orders', '{"order":')).status).toBe(400);
});

describe('refunds', () => {
  const refund = (reference: string, field: string, more: object) => ({
    refund: reference,
    order: field,
    at: now(),
    kind: 'refund',
    ...more,
  });
  it('takes back in parts exactly what was granted', async () => {
    await s.report(
      'orders',
      order('Q-30', {
        visit: await s.visit(link),
        lines: [{ product: 'WHEEL-1', quantity: 1, amount: '1.00' }],
      }),
    );
    const part = async (n: number, amount: string) =>
      (
        await answer(
          s.report('refunds', refund(`R-30-${n}`, 'Q-30', { lines: [{ product: 'WHEEL-1', amount }] })),
        )
      ).commissions[0]!.amount.value;
    expect([await part(1, '0.33'), await part(2, '0.33'), await part(3, '0.34')]).toEqual([
      '0.08',
      '0.04',
      '0.00',
    ]);
  });
  it('once per reference; other values contradict', async () => {
    await s.report('orders', order('Q-31', { visit: await s.visit(link) }));
    const body = refund('R-31', 'Q-31', { full: true });
    expect(await answer(s.report('refunds', body))).toMatchObject({
      status: 201,
      commissions: [{ amount: { value: '0.00' }, state: 'reversed' }],
    });
    expect(await answer(s.report('refunds', body))).toMatchObject({
      status: 200,
      outcome: 'already-recorded',
    });
    expect((await s.report('refunds', { ...body, kind: 'chargeback' })).status).toBe(409);
  });
  it.each([
    [
      { lines: [{ product: 'WHEEL-1', amount: '200.00' }] },
      '/lines/0/amount',
      /more than the 199.00 EUR left/,
    ],
    [{ lines: [{ product: 'APRON-1', amount: '1.00' }] }, '/lines/0/product', /not in order/],
    [{}, '/full', /say full, or name the lines/],
    [{ full: true, lines: [{ product: 'WHEEL-1', amount: '1.00' }] }, '/lines', /exclude each other/],
    [{ order: 'Q-NOPE', full: true }, '/order', /not known here/],
  ] as [object, string, RegExp][])('%j is refused at its field', async (more, pointer, reason) => {
    await s.report('orders', order('Q-32'));
    const a = await answer(
      s.report('refunds', { ...refund(`R-${JSON.stringify(more).length}`, 'Q-32', more) }),
    );
    expect(a.status).toBe(422);
    expect(a.errors[0]).toMatchObject({ pointer, detail: expect.stringMatching(reason) });
  });
});

it('leaves every invariant whole', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

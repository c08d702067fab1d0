import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { sign } from '../../src/server/track/reports/signature';
import { startServer, type TestServer } from '../helpers/server';

interface Answer {
  outcome: string;
  order: string;
  credited: { affiliate: string; by: string } | null;
  reason: string;
  commissions: {
    id: string;
    affiliate: string;
    amount: { value: string; currency: string };
    state: string;
    clearsOn: string;
  }[];
}
interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string; example?: string }[];
}

let s: TestServer;
let link: string;
beforeAll(async () => {
  s = await startServer();
  await s.product('WHEEL-1', { price: '199.00', reward: '12' });
  await s.product('APRON-1', { price: '46.00', rewardKind: 'flat', reward: '5.00' });
  const loam = await s.affiliate('Loam Letters');
  link = await loam.link('WHEEL-1');
});
afterAll(() => s.close());

const now = () => new Date(s.app.clock.now()).toISOString();
const order = (reference: string, more: object = {}) => ({
  order: reference,
  placedAt: '2027-03-12T09:00:00+00:00',
  currency: 'EUR',
  lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }],
  ...more,
});
const answer = async (sent: Promise<{ status: number; body: object }>) => {
  const a = await sent;
  return { status: a.status, ...(a.body as Answer & Fault) };
};

describe('orders', () => {
  it('is recorded with its credit and commission', async () => {
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
  it('the same again counts once, however its amount is written', async () => {
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
  it('a contradiction changes nothing and keeps both versions', async () => {
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
  it('takes no control characters in a reference, by a picture neither', async () => {
    const a = await answer(s.report('orders', order('Q-\u0000')));
    expect([a.status, a.errors.map((e) => e.pointer)]).toEqual([422, ['/order']]);
    expect(await answer(s.report('orders', order(' ')))).toMatchObject({ status: 422 });
    const shown = await new Client(s.address).get(
      `/px/${s.key.id}.gif?order=%0d%0aQ-1&amount=199.00&currency=EUR&product=WHEEL-1`,
    );
    expect(shown.headers.get('x-gravenel-outcome')).toBe('refused');
  });
  it('two payments of one order are two', async () => {
    await s.report('orders', order('Q-4', { payment: 'Q-4-1' }));
    expect(await answer(s.report('orders', order('Q-4', { payment: 'Q-4-2' })))).toMatchObject({
      status: 201,
    });
  });
  it('without a visit, nobody is credited, and it says why', async () => {
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
  it('a visit outside the window does not earn', async () => {
    const visit = await s.visit(link);
    s.days(31);
    const a = await answer(s.report('orders', order('Q-7', { visit, placedAt: now() })));
    s.days(-31);
    expect(a).toMatchObject({
      credited: null,
      reason: expect.stringContaining('outside the window of 30 days by 1 day'),
    });
  });
  it('falls back on the visitor’s last stored visit', async () => {
    const led = await new Client(s.address).get(link);
    const visitor = /gvv=(vtr_\w+)/.exec(led.headers.get('set-cookie') ?? '')![1];
    expect(await answer(s.report('orders', order('Q-8', { visitor, placedAt: now() })))).toMatchObject({
      credited: { by: 'visitor' },
    });
  });
  it('a test order is marked and pays nothing', async () => {
    const a = await answer(s.report('orders', order('Q-9', { visit: await s.visit(link), test: true })));
    expect(a).toMatchObject({ status: 201, commissions: [], reason: expect.stringContaining('test order') });
  });
  it('several lines make one commission, a flat reward counting once', async () => {
    const lines = [
      { product: 'WHEEL-1', quantity: 1, amount: '199.00', discount: '19.90' },
      { product: 'APRON-1', quantity: 2, amount: '92.00' },
    ];
    const a = await answer(s.report('orders', order('Q-10', { visit: await s.visit(link), lines })));
    expect(a.commissions[0]!.amount.value).toBe('26.49'); // 12 % of 179.10 = 21.49, and 5.00
  });
  it('a discount of the whole order is shared over its lines; null says nothing', async () => {
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
  it('an order in another currency needs a rate and keeps it', async () => {
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
  it('a product retired while the buyer pays still earns for the visit before it', async () => {
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
});

describe('bad reports', () => {
  it('names every field at fault at once, each with an example', async () => {
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
    [
      { lines: [{ product: 'WHEEL-1', quantity: 1, amount: '99999999999999' }] },
      '/lines/0/amount',
      /at most/,
    ],
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
  ] as [object, string, RegExp][])('%j is refused at its field', async (more, pointer, reason) => {
    const a = await answer(s.report('orders', order('Q-BAD', more)));
    expect(a.status).toBe(422);
    expect(a.errors.find((e) => e.pointer === pointer)?.detail).toMatch(reason);
  });
  it('is refused unless signed, lately, with a known key', async () => {
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
  it('a message id with another body is refused', async () => {
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
  it('JSON that is none is malformed', async () => {
    expect((await s.report('orders', '{"order":')).status).toBe(400);
  });
});

describe('refunds', () => {
  const refund = (reference: string, of: string, more: object) => ({
    refund: reference,
    order: of,
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

describe('the fallback picture and the double connection', () => {
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
    (await (await s.as('viewer')).get<{ rows: Unconfirmed[] }>(`/api/v1/unconfirmed?state=${state}`)).body
      .rows;
  const recorded = (reference: string) =>
    s.app.sqlite.prepare('SELECT count(*) FROM orders WHERE reference = ?').pluck().get(reference) as number;
  it('proves nothing: it grants nothing, takes no stock, delivers nothing, and stands in no list of sales', async () => {
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
    expect((await (await s.as('viewer')).get<{ doubled: number }>('/api/v1/connection')).body.doubled).toBe(
      1,
    );
    expect(brokenInvariants(s.app.sqlite)).toEqual([]);
  });
  it('becomes a sale when a person says so, after hold always, once; the signed report then counts it as the same', async () => {
    const visit = await s.visit(
      await (await s.affiliate('Hasty Hal', { timing: 'at-sale' })).link('WHEEL-1'),
    );
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
    expect(
      await answer(
        s.report('orders', { ...signed, lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }] }),
      ),
    ).toMatchObject({ status: 409, detail: expect.stringContaining('confirmed by a person') });
    expect(await answer(s.report('orders', signed))).toMatchObject({
      status: 201,
      outcome: 'recorded',
      commissions: [{ amount: { value: '71.64' }, state: 'held' }],
    });
    expect(await answer(s.report('orders', signed))).toMatchObject({ status: 200 });
    expect([recorded('P-2'), brokenInvariants(s.app.sqlite)]).toEqual([1, []]);
  });
  it('is set aside with a reason, waits a week before it stands on Today, and leaves every sum as it was', async () => {
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
  it('is taken only with a key for which pictures are switched on', async () => {
    const owner = await s.as('owner');
    const { id } = (await owner.post<{ id: string }>('/api/v1/connection/keys', { label: 'Other shop' }))
      .body;
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
  it('compares the values of both ways', async () => {
    await s.report('orders', order('Q-41'));
    await pixel({ order: 'Q-41', amount: '149.00', currency: 'EUR', product: 'WHEEL-1' });
    const [row] = (await (await s.as('viewer')).get<{ rows: { said: string }[] }>('/api/v1/reports?q=Q-41'))
      .body.rows;
    expect(row!.said).toContain('the amounts differ: 199.00 counts, 149.00 came by the other way');
  });
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

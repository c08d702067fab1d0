import { createServer, request } from 'node:http';
import { pino } from 'pino';
import { describe, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { sign } from '../../../src/server/track/reports/signature';
import { alive, all, mara, one, owner, prepare, s, type Fault } from './world';

prepare();

it('small doors: one signed message makes one quote', async () => {
  const headers = () => {
    const text = JSON.stringify({ product: 'WHEEL-1', quantity: 1 });
    const timestamp = String(Math.floor(Date.now() / 1000));
    return {
      text,
      send: (id: string) =>
        new Client(s.address).send<{ quote: string }>('POST', '/api/track/v1/quotes', text, {
          'x-gravenel-key': s.key.id,
          'webhook-id': id,
          'webhook-timestamp': timestamp,
          'webhook-signature': sign(s.key.secret, id, timestamp, text),
        }),
    };
  };
  const { send } = headers();
  const answers = [
    await send('quote-1'),
    await send('quote-1'),
    await send('quote-1'),
    await send('quote-2'),
  ];
  expect(answers.map((a) => a.status)).toEqual([201, 200, 200, 201]);
  expect(new Set(answers.map((a) => a.body.quote)).size).toBe(2);
  expect(one('SELECT count(*) FROM quotes')).toBe(2);
});
it('small doors: cursors that are none, odd paths and encodings are 4xx with a sentence', async () => {
  const cursor = (value: unknown) => Buffer.from(JSON.stringify(value)).toString('base64url');
  for (const after of [
    'x',
    cursor([{}, 'x']),
    cursor([[1], 'x']),
    cursor([null, 'x']),
    cursor([true, 'x']),
    cursor(['a', 1]),
  ]) {
    for (const path of [
      '/api/v1/affiliates',
      '/api/v1/orders',
      '/api/v1/audit',
      '/api/v1/prospects?q=kiln',
      '/api/v1/applications',
      '/api/v1/reports',
    ])
      expect(
        (await owner.get(`${path}${path.includes('?') ? '&' : '?'}after=${after}`)).status,
        `${path} ${after}`,
      ).toBe(422);
  }
  const raw = (path: string) =>
    new Promise<number>((done, failed) => {
      request({ host: '127.0.0.1', port: new URL(s.address).port, path, method: 'GET' }, (res) => {
        res.resume();
        done(res.statusCode ?? 0);
      })
        .on('error', failed)
        .end();
    });
  for (const path of [
    '/api/v1/products/%',
    '/api/v1/answers/%E0%A4%A',
    '/%00',
    '/assets/..%2f..%2fpackage.json',
    '/api/v1/__proto__',
    '//',
    '/go/%',
    '/px/%.gif',
    '/get/%',
    '/api/v1/letters/..',
  ]) {
    const status = await raw(path);
    expect(status < 500, `${path} ${status}`).toBe(true);
  }
  expect((await owner.get('/api/v1/affiliates?sort=nothing')).status).toBe(422);
  expect(await alive()).toBe(200);
});
it('small doors: tokens are in no line of the log', async () => {
  const lines: string[] = [];
  const { log } = s.app;
  s.app.log = pino({ level: 'info' }, { write: (line) => lines.push(line) });
  const token = 'a'.repeat(43);
  const client = new Client(s.address);
  for (const path of [
    `/api/v1/answers/${token}`,
    `/answer/${token}`,
    `/letters/${token}`,
    `/api/v1/letters/${token}`,
    `/get/${token}`,
    `/portal/password?token=${token}`,
    `/password?token=${token}`,
    `/go/${token}`,
  ])
    await client.send('GET', path);
  s.app.log = log;
  expect(lines.length).toBeGreaterThan(5);
  expect(lines.join('\n')).not.toContain('aaaa');
});
it('small doors: looking as an affiliate is in the audit, once an hour', async () => {
  for (let i = 0; i < 3; i += 1)
    await owner.send('GET', '/api/v1/portal/home', undefined, { 'x-gravenel-as': mara.id });
  expect(all("SELECT by FROM audit WHERE action = 'portal-looked-at' AND subject = ?", mara.id)).toEqual([
    one("SELECT id FROM staff WHERE role = 'owner'"),
  ]);
});
it('small doors: a page whose name was made to lead here changes nothing', async () => {
  const port = new URL(s.address).port;
  const call = (host: string, origin: string) =>
    new Promise<number>((done, failed) => {
      const r = request(
        { host: '127.0.0.1', port, path: '/api/v1/session', method: 'DELETE', headers: { host, origin } },
        (res) => {
          res.resume();
          done(res.statusCode ?? 0);
        },
      );
      r.on('error', failed);
      r.end();
    });
  expect(await call(`evil.example:${port}`, `http://evil.example:${port}`)).toBe(403);
  expect(await call(`127.0.0.1:${port}`, s.address)).toBe(200);
  expect(await call(`localhost:${port}`, `http://localhost:${port}`)).toBe(200);
});
it('small doors: stand-ins answer to their own address only', async () => {
  const call = (host: string) =>
    new Promise<number>((done, failed) => {
      request(
        { host: '127.0.0.1', port: new URL(s.standins).port, path: '/mailroom', headers: { host } },
        (res) => {
          res.resume();
          done(res.statusCode ?? 0);
        },
      )
        .on('error', failed)
        .end();
    });
  expect([await call('evil.example'), await call(new URL(s.standins).host)]).toEqual([421, 200]);
});
it('small doors: every wrong value is named at once, also what only shows once the rest has its shape', async () => {
  const report = await s.report('orders', {
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [
      { product: 'WHEEL-1', quantity: 1, amount: '12.345' },
      { product: 'NOPE', quantity: 0, amount: '1.00' },
    ],
  });
  expect(report.body.errors.map((e) => e.pointer).sort()).toEqual([
    '/lines/0/amount',
    '/lines/1/product',
    '/lines/1/quantity',
    '/order',
  ]);
  expect(one("SELECT count(*) FROM orders WHERE reference = 'Q-10042'")).toBe(0);
  const product = await owner.post<Fault>('/api/v1/products', {
    code: '',
    name: 'X',
    description: '',
    currency: 'EUR',
    price: '1.234',
    refundDays: 9999,
    salesPage: '',
    rewardKind: 'percent',
    reward: '200',
  });
  expect(product.body.errors.map((e) => e.pointer).sort()).toEqual([
    '/code',
    '/price',
    '/refundDays',
    '/reward',
  ]);
  expect(one("SELECT count(*) FROM products WHERE name = 'X'")).toBe(0);
});

describe('a disk that is full', () => {
  it('is said with 503, nothing is half written, and all goes on when there is room', async () => {
    const pages = s.app.sqlite.pragma('page_count', { simple: true }) as number;
    const before = one('SELECT count(*) FROM products');
    s.app.sqlite.pragma(`max_page_count = ${pages}`);
    const big = {
      code: 'FULL-1',
      name: 'Full',
      description: 'x'.repeat(3900),
      currency: 'EUR',
      price: '1.00',
      refundDays: 14,
      salesPage: '',
      rewardKind: 'percent',
      reward: '10',
    };
    let refused: { status: number; body: Fault } | null = null;
    for (let i = 0; i < 60 && refused?.status !== 503; i += 1)
      refused = await owner.post<Fault>('/api/v1/products', { ...big, code: `FULL-${i}` });
    expect(refused).toMatchObject({
      status: 503,
      body: { code: 'unavailable', detail: expect.stringContaining('The disk is full') as string },
    });
    const report = await s.report('orders', {
      order: 'FULL-1',
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines: Array.from({ length: 150 }, () => ({ product: 'WHEEL-1', quantity: 1, amount: '1.00' })),
    });
    expect([report.status, one("SELECT count(*) FROM orders WHERE reference = 'FULL-1'")]).toEqual([503, 0]);
    s.app.sqlite.pragma('max_page_count = 1073741823');
    expect(one<number>('SELECT count(*) FROM products')).toBeGreaterThanOrEqual(before as number);
    expect(s.app.sqlite.pragma('integrity_check', { simple: true })).toBe('ok');
    expect((await owner.post('/api/v1/products', { ...big, code: 'ROOM-1' })).status).toBe(200);
  });
});

describe('pages that are looked at', () => {
  it('are outside: what leads inside, straight or by redirects, is not asked for', async () => {
    let asked = 0;
    const inside = createServer((_req, res) => {
      asked += 1;
      res.end('secret');
    });
    await new Promise<void>((resolve) => {
      inside.listen(0, '127.0.0.1', resolve);
    });
    const { port } = inside.address() as { port: number };
    const id = await s.product('SSRF-1', {
      salesPage: `http://127.0.0.1:${port}/`,
      mobilePage: `http://localhost:${port}/`,
      fallbackPage: `http://[::1]:${port}/`,
      furtherPages: `http://0x7f000001:${port}/\nhttp://2130706433:${port}/\nhttp://169.254.169.254/latest/`,
    });
    const { pages } = (
      await owner.post<{ pages: { ok: boolean; said: string }[] }>(`/api/v1/products/${id}/check-pages`)
    ).body;
    inside.close();
    expect(asked).toBe(0);
    expect(pages.map((p) => p.said)).toEqual(
      pages.map(() => 'leads into a private network, where nothing is asked for'),
    );
  });
});

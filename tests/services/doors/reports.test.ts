import { expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { forgetReports } from '../../../src/server/track/reports/log';
import { password, startServer } from '../../helpers/server';
import { all, from, one, owner, prepare, s, type Fault } from './world';

prepare();

const attempt = (client: Client, guess: string, email = 'viewer@quernstone.example') =>
  client.post<Fault>('/api/v1/session', { email, password: guess });
it('throttles: two hundred guesses at once are six', async () => {
  const guesses = await Promise.all(
    Array.from({ length: 200 }, (_, i) =>
      attempt(from(`198.51.${i}.7`), `guess number ${i}`, 'tom@nobody.example'),
    ),
  );
  const counts = guesses.reduce<Record<number, number>>(
    (n, g) => ({ ...n, [g.status]: (n[g.status] ?? 0) + 1 }),
    {},
  );
  expect(counts).toEqual({ 401: 6, 429: 194 });
});
it('throttles: what others try does not lock out a device that has signed in before', async () => {
  const own = from('203.0.113.5');
  expect((await attempt(own, password)).status).toBe(200);
  for (let i = 0; i < 8; i += 1) await attempt(from(`198.51.100.${i}`), 'a wrong guess');
  expect((await attempt(from('203.0.113.77'), password)).status).toBe(429);
  await own.send('DELETE', '/api/v1/session');
  expect((await attempt(own, password)).status).toBe(200);
  // but its own guesses count
  const wrong: number[] = [];
  for (let i = 0; i < 8; i += 1) wrong.push((await attempt(own, 'a wrong guess')).status);
  expect(wrong).toEqual([401, 401, 401, 401, 401, 401, 429, 429]);
});
it('throttles: a made-up device cookie is a stranger’s', async () => {
  const thief = from('203.0.113.9');
  const tries: number[] = [];
  for (let i = 0; i < 7; i += 1)
    tries.push(
      (
        await thief.send(
          'POST',
          '/api/v1/session',
          { email: 'finance@quernstone.example', password: 'guess' },
          {
            cookie: `gravenel_desk_device=${one("SELECT id FROM staff WHERE email = 'finance@quernstone.example'")}.nonce${i}.${'0'.repeat(64)}`,
          },
        )
      ).status,
    );
  expect(tries.at(-1)).toBe(429);
});
it('throttles: one address guesses forty times, whoever it guesses for', async () => {
  const statuses: number[] = [];
  for (let i = 0; i < 42; i += 1)
    statuses.push((await attempt(from('203.0.113.40'), 'guess', `p${i}@nobody.example`)).status);
  expect([statuses.filter((x) => x === 401).length, statuses.at(-1)]).toEqual([40, 429]);
});
it('throttles: a stranger who sends the key’s name silences nobody', async () => {
  process.env.GRAVENEL_REPORTS_PER_MINUTE = '20';
  const small = await startServer({ trustProxy: ['127.0.0.1'] });
  delete process.env.GRAVENEL_REPORTS_PER_MINUTE;
  try {
    await small.product('WHEEL-1');
    const stranger = () =>
      fetch(`${small.address}/api/track/v1/orders`, {
        method: 'POST',
        body: '{}',
        headers: {
          'x-gravenel-key': small.key.id,
          'webhook-id': 'x',
          'webhook-timestamp': String(Math.floor(Date.now() / 1000)),
          'webhook-signature': 'v1,x',
          'x-forwarded-for': '198.51.100.66',
        },
      });
    const statuses: number[] = [];
    for (let i = 0; i < 30; i += 1) statuses.push((await stranger()).status);
    expect([statuses.filter((x) => x === 401).length, statuses.filter((x) => x === 429).length]).toEqual([
      20, 10,
    ]);
    const order = (i: number, address: string) =>
      small.report(
        'orders',
        {
          order: `T-${i}`,
          placedAt: new Date(small.app.clock.now()).toISOString(),
          currency: 'EUR',
          lines: [{ product: 'WHEEL-1', quantity: 1, amount: '1.00' }],
        },
        { 'x-forwarded-for': address },
      );
    expect((await order(0, '203.0.113.1')).status).toBe(201);
    // of one key, from however many addresses
    const own: number[] = [];
    for (let i = 1; i < 25; i += 1) own.push((await order(i, `203.0.113.${i + 1}`)).status);
    expect([own.filter((x) => x === 201).length, own.at(-1)]).toEqual([19, 429]);
  } finally {
    await small.close();
  }
});
it('throttles: who is behind no trusted proxy cannot choose an address', async () => {
  const bare = await startServer();
  try {
    const tries: number[] = [];
    for (let i = 0; i < 42; i += 1)
      tries.push(
        (
          await new Client(bare.address).send(
            'POST',
            '/api/v1/session',
            { email: `p${i}@nobody.example`, password: 'guess' },
            { 'x-forwarded-for': `198.51.100.${i}` },
          )
        ).status,
      );
    expect(tries.at(-1)).toBe(429);
  } finally {
    await bare.close();
  }
});

const unsigned = (key: string, address: string) =>
  fetch(`${s.address}/api/track/v1/orders`, {
    method: 'POST',
    body: JSON.stringify({ order: 'X' }),
    headers: {
      'x-gravenel-key': key,
      'webhook-id': 'x',
      'webhook-timestamp': String(Math.floor(Date.now() / 1000)),
      'webhook-signature': 'v1,x',
      'x-forwarded-for': address,
    },
  });
it('the log of reports: counts unknown keys, wrong signatures and pictures by address and minute', async () => {
  const rows = () => one<number>('SELECT count(*) FROM reports');
  const total = () => one<number>('SELECT coalesce(sum(count), 0) FROM reports');
  const [before, was] = [rows(), total()];
  for (let i = 0; i < 60; i += 1) await unsigned(`made-up-${i}`, '198.51.100.200');
  for (let i = 0; i < 30; i += 1) await unsigned(s.key.id, '198.51.100.201');
  for (let i = 0; i < 60; i += 1)
    await fetch(`${s.address}/px/made-up-${i}.gif?order=P-${i}`, {
      headers: { 'x-forwarded-for': '198.51.100.202' },
    });
  expect(total() - was).toBe(150);
  // a minute may end in between
  expect(rows() - before).toBeLessThanOrEqual(6);
  const listed = (
    await owner.get<{ rows: { count: number; outcome: string; said: string }[] }>(
      '/api/v1/reports?outcome=not-signed',
    )
  ).body.rows;
  expect(listed.reduce((n, r) => n + r.count, 0)).toBeGreaterThanOrEqual(90);
});
it('the log of reports: takes so many new sales by picture from one address, and no more', async () => {
  const shown = async (order: string) =>
    (
      await fetch(`${s.address}/px/${s.key.id}.gif?order=${order}&amount=1.00&currency=EUR&product=WHEEL-1`, {
        headers: { 'x-forwarded-for': '198.51.100.210' },
      })
    ).headers.get('x-gravenel-outcome');
  const outcomes: (string | null)[] = [];
  for (let i = 0; i < 70; i += 1) outcomes.push(await shown(`PX-${i}`));
  expect([outcomes.filter((o) => o === 'unconfirmed').length, outcomes.at(-1)]).toEqual([60, 'refused']);
  expect(one("SELECT count(*) FROM pictured WHERE reference LIKE 'PX-%'")).toBe(60);
  // what is known already is still answered
  expect(await shown('PX-3')).toBe('already-recorded');
});
it('the log of reports: is kept as long as the settings say', async () => {
  const { version, name, contact, intro, summary, rate, windowDays, landingHosts } = (
    await owner.get<Record<string, never>>('/api/v1/settings')
  ).body as Record<string, unknown>;
  expect(
    (
      await owner.put<Fault>('/api/v1/settings/programme', {
        name,
        contact,
        intro,
        summary,
        rate,
        windowDays,
        landingHosts,
        logDays: 5,
        version,
      })
    ).body.errors[0]!.pointer,
  ).toBe('/logDays');
  expect(
    (
      await owner.put('/api/v1/settings/programme', {
        name,
        contact,
        intro,
        summary,
        rate,
        windowDays,
        landingHosts,
        logDays: 30,
        version,
      })
    ).status,
  ).toBe(200);
  await s.report('orders', {
    order: 'KEPT-1',
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '1.00' }],
  });
  const orders = one('SELECT count(*) FROM orders');
  s.days(31);
  await s.report('orders', {
    order: 'KEPT-2',
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '1.00' }],
  });
  expect(forgetReports(s.app)).toBeGreaterThan(60);
  expect(all('SELECT reference FROM reports')).toEqual(['KEPT-2']);
  expect([
    one("SELECT count(*) FROM pictured WHERE reference LIKE 'PX-%'"),
    one<number>('SELECT count(*) FROM orders'),
  ]).toEqual([0, (orders as number) + 1]);
});

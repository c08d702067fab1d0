import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import type { AnyEndpoint } from '../../src/contract/endpoint';
import { endpoints } from '../../src/contract/index';
import { roles, type Role } from '../../src/core/access/lists';
import { everyId } from '../helpers/every';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let affiliate: Awaited<ReturnType<TestServer['affiliate']>>;
let other: Awaited<ReturnType<TestServer['affiliate']>>;
let order = '';
let payment = '';
beforeAll(async () => {
  s = await startServer();
  await s.product('WHEEL-1');
  affiliate = await s.affiliate('Loam Letters', { timing: 'at-sale' });
  other = await s.affiliate('Kiln Diaries');
  await s.report('orders', {
    order: 'Q-1',
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 2, amount: '200.00' }],
    visit: await s.visit(await affiliate.link('WHEEL-1')),
  });
  const finance = await s.as('finance');
  const day = new Date(s.app.clock.now()).toISOString().slice(0, 10);
  const run = (
    await finance.post<{ id: string; version: number; total: { amount: number } }>('/api/v1/payouts', {
      cutoff: day,
      minimum: '',
    })
  ).body;
  await finance.post(`/api/v1/payouts/${run.id}/approve`, { version: run.version, total: run.total.amount });
  await finance.post(`/api/v1/payouts/${run.id}/send`, { version: run.version + 1 });
  order = (await affiliate.client.get<{ rows: { id: string }[] }>('/api/v1/portal/earnings')).body.rows[0]!
    .id;
  payment = (await affiliate.client.get<{ rows: { id: string }[] }>('/api/v1/portal/payments')).body.rows[0]!
    .id;
  await Promise.all(roles.map((r) => s.as(r)));
});
afterAll(() => s.close());

const pathOf = (end: AnyEndpoint) => end.path.replace(':id', 'xxx_doesnotexist0');
const mays = (end: AnyEndpoint, role: Role) =>
  Array.isArray(end.access) && (end.access as readonly Role[]).includes(role);
// signing in and out would end the sessions that the walk uses
const walked = endpoints.filter(([, end]) => !end.path.endsWith('/session') && !end.path.endsWith('/set-up'));

describe('every call, by everybody', () => {
  it('walks all of the contract', () => {
    expect(walked.length).toBeGreaterThan(50);
  });
  it.each(walked)('%s', async (_, end) => {
    const send = async (client: Client) =>
      (await client.send(end.method, pathOf(end), end.method === 'GET' ? undefined : {})).status;
    const expected = (allowed: boolean, refusal: number) => (status: number) =>
      allowed ? status !== 401 && status !== 403 : status === refusal;
    const nobody = await send(new Client(s.address));
    expect(expected(end.access === 'open', 401)(nobody), `nobody got ${nobody}`).toBe(true);
    const asAffiliate = await send(affiliate.client);
    expect(
      expected(end.access === 'open' || end.access === 'affiliate', 401)(asAffiliate),
      `an affiliate got ${asAffiliate}`,
    ).toBe(true);
    for (const role of roles) {
      const status = await send(await s.as(role));
      const allowed = end.access === 'open' || mays(end, role);
      expect(expected(allowed, end.access === 'affiliate' ? 401 : 403)(status), `${role} got ${status}`).toBe(
        true,
      );
    }
  });
  it('every served route is in the contract, and every call of the contract is served', () => {
    const known = endpoints.map(([, e]) => `${e.method} ${e.path}`);
    expect(new Set(known).size).toBe(known.length);
    // beside the contract: what shops, buyers and browsers ask for
    const besides = [
      'GET /api/openapi.json',
      'GET /api/v1/qr.svg',
      'GET /button.js',
      'GET /docs/errors',
      'GET /feeds/:name',
      'GET /feeds/:secret/:name',
      'GET /get/:token',
      'GET /get/:token/file',
      'GET /gravenel.js',
      'GET /material/:name',
      'GET /pictures/:name',
      'GET /px/:key',
      ...['orders', 'refunds', 'renewals', 'leads', 'quotes'].map((call) => `POST /api/track/v1/${call}`),
    ];
    expect(s.routes.filter((r) => !besides.includes(r)).sort()).toEqual([...known].sort());
  });
});

/** What a call of affiliates has to be sent to be looked at: its fields' own examples. */
function leastBody({ access, body }: AnyEndpoint): object {
  if (access !== 'affiliate' || !body.properties) return {};
  const fields = Object.entries(body.properties as Record<string, { examples?: unknown[] }>);
  return Object.fromEntries(
    fields.flatMap(([field, { examples }]) => (examples ? [[field, examples[0]]] : [])),
  );
}

it('real ids open nothing to whom a call is not for', async () => {
  const s = await startServer();
  const real = await everyId(s);
  const stranger = await s.affiliate('Somebody Else');
  const written = () => s.app.sqlite.prepare('SELECT count(*) FROM audit').pluck().get();
  let tried = 0;
  for (const [name, end] of walked.filter(([, e]) => e.path.includes(':') && e.access !== 'open')) {
    const path = real.pathOf(end);
    const before = written();
    const ask = async (client: Client) =>
      (await client.send(end.method, path, end.method === 'GET' ? undefined : leastBody(end))).status;
    expect(await ask(new Client(s.address)), `${name} by nobody`).toBe(401);
    // an affiliate's own calls know nobody else's records
    expect(await ask(stranger.client), `${name} by another affiliate`).toBe(
      end.access === 'affiliate' ? 404 : 401,
    );
    for (const role of roles) {
      if (end.access !== 'affiliate' && mays(end, role)) continue;
      expect(await ask(await s.as(role)), `${name} by ${role}`).toBe(end.access === 'affiliate' ? 401 : 403);
    }
    expect(written(), `${name} was done`).toBe(before);
    // and the path leads to something: whoever may, finds it
    if (end.method === 'GET')
      expect(
        (
          await (end.access === 'affiliate' ? real.mine.client : await s.as('owner')).get(
            `${path}${end.path.endsWith('lines/:order') ? '?position=0' : ''}`,
          )
        ).status,
        `${name} by who may`,
      ).toBe(200);
    tried += 1;
  }
  expect(tried).toBeGreaterThan(40);
  await s.close();
});

describe('other people’s data', () => {
  it('does not exist for another affiliate', async () => {
    for (const path of [
      `/api/v1/portal/earnings/${order}`,
      `/api/v1/portal/payments/${payment}/statement.csv`,
    ]) {
      expect((await affiliate.client.get(path)).status, path).toBe(200);
      expect((await other.client.get(path)).status, path).toBe(404);
    }
    expect((await other.client.get<{ rows: unknown[] }>('/api/v1/portal/earnings')).body.rows).toEqual([]);
    expect((await other.client.get<{ rows: unknown[] }>('/api/v1/portal/payments')).body.rows).toEqual([]);
  });
  it('what finance may not see of the rest it still reads, and what a manager may not pay it cannot', async () => {
    const manager = await s.as('manager');
    expect((await manager.get('/api/v1/payouts')).status).toBe(200);
    expect((await manager.post('/api/v1/payouts', { cutoff: '2027-03-12', minimum: '' })).status).toBe(403);
  });
});

describe('where a request comes from', () => {
  it('refuses a change that another site asks for', async () => {
    const owner = await s.as('owner');
    const from = (headers: Record<string, string>) =>
      owner.send('POST', '/api/v1/connection/keys', { label: 'x' }, headers);
    expect((await from({ origin: 'https://elsewhere.example' })).body).toMatchObject({
      status: 403,
      code: 'wrong-origin',
    });
    expect((await from({ origin: 'null' })).status).toBe(403);
    expect((await from({})).status).toBe(200);
    const bare = await fetch(`${s.address}/api/v1/session`, {
      method: 'POST',
      headers: { 'sec-fetch-site': 'cross-site', 'content-type': 'application/json' },
      body: '{}',
    });
    expect(bare.status).toBe(403);
  });
  it('sends a policy without inline scripts and no cookie that scripts can read', async () => {
    const page = await new Client(s.address).get('/api/v1/session');
    expect(page.headers.get('content-security-policy')).toMatch(/script-src 'self';/);
    expect(page.headers.get('content-security-policy')).not.toMatch(/script-src[^;]*unsafe/);
    const signed = await new Client(s.address).post('/api/v1/session', {
      email: 'viewer@quernstone.example',
      password: 'clay on the wheel at dawn',
    });
    expect(signed.headers.getSetCookie().find((c) => c.startsWith('gravenel_desk='))).toMatch(
      /HttpOnly; SameSite=Lax/,
    );
  });
});

it('signing in: is throttled per account after six failures, and says how long', async () => {
  const client = new Client(s.address);
  const attempt = (password: string) =>
    client.post('/api/v1/session', { email: 'throttled@quernstone.example', password });
  for (let i = 0; i < 6; i += 1) expect((await attempt('wrong wrong wrong')).status).toBe(401);
  const seventh = await attempt('wrong wrong wrong');
  expect(seventh.status).toBe(429);
  expect(Number(seventh.headers.get('retry-after'))).toBeGreaterThan(600);
  expect(seventh.body).toMatchObject({ code: 'too-many' });
});
it('signing in: an invitation works once', async () => {
  expect(
    (
      await new Client(s.address).post('/api/v1/portal/password', {
        token: 'a'.repeat(43),
        password: 'long enough words',
      })
    ).body,
  ).toMatchObject({ status: 422, errors: [{ pointer: '/token' }] });
});
it('signing in: set-up is refused once there is a programme', async () => {
  const again = {
    merchant: 'X',
    contact: 'x@x.example',
    currency: 'EUR',
    zone: 'UTC',
    owner: 'X',
    email: 'x@x.example',
    password: 'long enough words',
    tryOut: false,
  };
  expect((await new Client(s.address).post('/api/v1/set-up', again)).status).toBe(409);
  expect((await (await s.as('owner')).get<{ rows: unknown[] }>('/api/v1/staff')).body.rows).toHaveLength(4);
});
it('signing in: closing an account ends its sessions', async () => {
  const owner = await s.as('owner');
  const made = await owner.post<{ id: string; version: number }>('/api/v1/staff', {
    name: 'Tom',
    email: 'tom@quernstone.example',
    role: 'viewer',
    password: 'long enough words',
  });
  const tom = new Client(s.address);
  await tom.post('/api/v1/session', { email: 'tom@quernstone.example', password: 'long enough words' });
  expect((await tom.get('/api/v1/products')).status).toBe(200);
  await owner.put(`/api/v1/staff/${made.body.id}`, {
    role: 'viewer',
    active: false,
    version: made.body.version,
  });
  expect((await tom.get('/api/v1/products')).status).toBe(401);
});
it('signing in: the last owner stays', async () => {
  const owner = await s.as('owner');
  const me = (
    await owner.get<{ rows: { id: string; role: string; version: number }[] }>('/api/v1/staff')
  ).body.rows.find((r) => r.role === 'owner')!;
  expect(
    (await owner.put(`/api/v1/staff/${me.id}`, { role: 'viewer', active: true, version: me.version })).status,
  ).toBe(409);
});

describe('secrets at rest', () => {
  it('keeps no session token, no invitation and no signing secret readable', () => {
    const dump = JSON.stringify([
      s.app.sqlite.prepare('SELECT * FROM sessions').all(),
      s.app.sqlite.prepare('SELECT * FROM invitations').all(),
      s.app.sqlite.prepare('SELECT * FROM keys').all(),
      s.app.sqlite.prepare('SELECT body FROM messages').all(),
      s.app.sqlite.prepare('SELECT * FROM answers').all(),
      s.app.sqlite.prepare('SELECT * FROM audit').all(),
    ]);
    expect(dump).not.toContain(s.key.secret);
    expect(dump).not.toContain('clay on the wheel');
    expect(dump).not.toMatch(/token=/);
    expect(
      (s.app.sqlite.prepare('SELECT token_hash h FROM sessions LIMIT 1').get() as { h: string }).h,
    ).toMatch(/^[0-9a-f]{64}$/);
  });
});

import { createServer, request } from 'node:http';
import { gzipSync } from 'node:zlib';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { jobs, startJobs } from '../../src/server/jobs/jobs';
import { newPasswordLink } from '../../src/server/registers/access/links';
import { deliverWaiting } from '../../src/server/registers/outbox/delivery';
import { runJob } from '../../src/server/registers/programme/job';
import { theTerms } from '../../src/server/setup/terms/store';
import { forgetReports } from '../../src/server/track/reports/log';
import { sign } from '../../src/server/track/reports/signature';
import { password, startServer, type TestServer } from '../helpers/server';

interface Fault {
  status: number;
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}

let s: TestServer;
let owner: Client;
let mara: Awaited<ReturnType<TestServer['affiliate']>>;
beforeAll(async () => {
  s = await startServer({ trustProxy: ['127.0.0.1'] });
  owner = await s.as('owner');
  await s.product('WHEEL-1');
  mara = await s.affiliate('Mara Loam');
});
afterAll(() => s.close());

/** A client that a trusted proxy names another address for. */
const from = (address: string) => {
  const client = new Client(s.address);
  const send = client.send.bind(client);
  client.send = ((method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
    send(method, path, body, { 'x-forwarded-for': address, ...headers })) as typeof client.send;
  return client;
};
const one = <T>(sql: string, ...values: unknown[]) =>
  s.app.sqlite
    .prepare(sql)
    .pluck()
    .get(...values) as T;
const all = <T>(sql: string, ...values: unknown[]) =>
  s.app.sqlite
    .prepare(sql)
    .pluck()
    .all(...values) as T[];
const alive = async () => (await new Client(s.address).get('/api/v1/clock')).status;

describe('one request ends nothing', () => {
  it('a link of a paused product without a page says so, and the server runs on', async () => {
    const id = await s.product('EMPTY-1');
    const link = await mara.link('EMPTY-1');
    const { version } = (await owner.get<{ version: number }>(`/api/v1/products/${id}`)).body;
    const paused = (
      await owner.post<{ version: number }>(`/api/v1/products/${id}/state`, { state: 'paused', version })
    ).body;
    const saved = await owner.put(`/api/v1/products/${id}`, {
      code: 'EMPTY-1',
      name: 'Empty',
      description: 'A thing.',
      currency: 'EUR',
      price: '100.00',
      refundDays: 14,
      salesPage: '',
      rewardKind: 'percent',
      reward: '10',
      version: paused.version,
    });
    expect(saved.status).toBe(200);
    const answer = await new Client(s.address).send('GET', link);
    expect([answer.status, answer.text.includes('not on sale')]).toEqual([404, true]);
    expect(await alive()).toBe(200);
  });
  it('what a redirect throws is a counted 503', async () => {
    const link = await mara.link('WHEEL-1');
    const before = s.app.faults.since(60_000).find((f) => f.place === 'redirect')?.count ?? 0;
    const { clock } = s.app;
    s.app.clock = {
      ...clock,
      now: () => {
        throw new Error('a clock that breaks');
      },
    };
    const answer = await new Client(s.address).send('GET', link);
    s.app.clock = clock;
    expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, '2']);
    expect(s.app.faults.since(60_000).find((f) => f.place === 'redirect')?.count).toBe(before + 1);
    expect(
      (await owner.get<{ waiting: { kind: string; text: string }[] }>('/api/v1/today')).body.waiting,
    ).toContainEqual(expect.objectContaining({ kind: 'faults', text: 'Something failed here' }));
  });
  it('a job that throws, now or later, stops no other and runs again', async () => {
    const ran: string[] = [];
    const bad = {
      name: 'bad',
      every: 5,
      work: () => {
        throw new Error('at once');
      },
    };
    const later = { name: 'later', every: 5, work: () => Promise.reject(new Error('later')) };
    const good = {
      name: 'good',
      every: 5,
      work: () => {
        ran.push('good');
      },
    };
    const stop = startJobs(s.app, [bad, later, good]);
    await expect.poll(() => ran.length).toBeGreaterThan(3);
    await stop();
    const count = (place: string) => s.app.faults.since(60_000).find((f) => f.place === place)?.count ?? 0;
    expect([count('job bad') > 1, count('job later') > 1]).toEqual([true, true]);
    expect(new Set(jobs.map((j) => j.name)).size).toBe(jobs.length);
    for (const job of jobs.filter((j) => j.name !== 'registry')) await runJob(s.app, job);
    expect(
      s.app.faults.since(60_000).filter((f) => f.place.startsWith('job ') && !/bad|later/.test(f.place)),
    ).toEqual([]);
  });
});

describe('bodies of people whom nobody knows', () => {
  const post = (path: string, body: string | Buffer, headers: Record<string, string> = {}) =>
    fetch(s.address + path, {
      method: 'POST',
      body: body as BodyInit,
      headers: { 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID(), ...headers },
    });
  it('are small: 64 kB, of a sign-in 4 kB', async () => {
    expect((await post('/api/v1/join', JSON.stringify({ note: 'x'.repeat(70_000) }))).status).toBe(413);
    expect((await post('/api/v1/join', JSON.stringify({ note: 'x'.repeat(60_000) }))).status).toBe(422);
    expect(
      (await post('/api/v1/session', JSON.stringify({ email: 'a@b.example', password: 'x'.repeat(5_000) })))
        .status,
    ).toBe(413);
    expect(
      (await post('/api/v1/session', JSON.stringify({ email: 'a@b.example', password: 'x'.repeat(190) })))
        .status,
    ).toBe(401);
  });
  it('full of faults cost a short answer that names twenty at the most', async () => {
    const sites = Array.from({ length: 150 }, () => '?');
    const answer = await post(
      '/api/v1/join',
      JSON.stringify({ name: '', email: '', country: '', sites, more: 1 }),
    );
    const text = await answer.text();
    expect([answer.status, text.length < 8_000]).toEqual([422, true]);
    expect((JSON.parse(text) as Fault).errors.length).toBeLessThanOrEqual(20);
    const many = await post(
      '/api/v1/join',
      JSON.stringify({ sites: Array.from({ length: 15_000 }, () => '?') }),
    );
    expect(((await many.json()) as Fault).errors).toEqual([
      { pointer: '/sites', detail: 'Sites takes at most 200' },
    ]);
  });
  it('that are at fault drop nothing that is kept in memory, and do nothing', async () => {
    await mara.client.get('/api/v1/portal/home');
    const [terms, rows] = [theTerms(s.app), one('SELECT count(*) FROM applications')];
    expect(terms).not.toBeNull();
    expect(
      (
        await post(
          '/api/v1/join',
          JSON.stringify({
            name: '',
            email: 'x@x.example',
            country: 'PT',
            address: '',
            sites: ['x.example'],
            channels: '',
            note: 'A note.',
            product: 'WHEEL-1',
          }),
        )
      ).status,
    ).toBe(422);
    expect([theTerms(s.app) === terms, one('SELECT count(*) FROM applications')]).toEqual([true, rows]);
  });
  it('that are nested deep, hold too many values, are packed or in another alphabet are refused with a sentence', async () => {
    const deep = `${'['.repeat(5_000)}${']'.repeat(5_000)}`;
    expect(((await (await post('/api/v1/join', deep)).json()) as Fault).detail).toContain(
      'nested deeper than 8 levels',
    );
    expect(
      (
        (await (
          await post(
            '/api/v1/join',
            JSON.stringify(Object.fromEntries(Array.from({ length: 4_000 }, (_, i) => [`k${i}`, 1]))),
          )
        ).json()) as Fault
      ).detail,
    ).toContain('more than 3000 values');
    expect(
      (await (await post('/api/v1/join', gzipSync('{}'), { 'content-encoding': 'gzip' })).json()) as Fault,
    ).toMatchObject({ status: 400, detail: expect.stringContaining('packed') as string });
    expect(
      (await (
        await post('/api/v1/join', '{}', { 'content-type': 'application/json; charset=koi8-r' })
      ).json()) as Fault,
    ).toMatchObject({ status: 400, detail: expect.stringContaining('UTF-8') as string });
    expect((await post('/api/v1/join', '{"a":')).status).toBe(400);
  });
  it('are not read before it is known who asks and that it may', async () => {
    // a body that never ends is answered all the same
    const early = (method: string, path: string, cookie = '') =>
      new Promise<number>((done, failed) => {
        const call = request(
          `${s.address}${path}`,
          {
            method,
            headers: {
              'content-type': 'application/octet-stream',
              'content-length': '20000000',
              ...(cookie ? { cookie } : {}),
            },
          },
          (res) => {
            done(res.statusCode ?? 0);
            res.resume();
            call.destroy();
          },
        );
        call.on('error', failed);
        call.write('x');
      });
    expect(await early('PUT', '/api/v1/settings/logo?name=x.png')).toBe(401);
    expect(await early('POST', '/api/v1/set-up')).toBe(409);
    const viewer = await s.as('viewer');
    expect((await viewer.send('PUT', '/api/v1/settings/logo?name=x.png', undefined)).status).toBe(403);
  });
  it('hold no characters that cannot be shown, in any field; one-line fields hold one line', async () => {
    const join = {
      name: 'A\u0007nn',
      email: 'ann@ann.example',
      country: 'PT',
      address: 'x\u202Ey',
      sites: ['ann.example'],
      channels: '',
      note: 'fine\nin lines',
      product: '',
    };
    expect(
      ((await (await post('/api/v1/join', JSON.stringify(join))).json()) as Fault).errors.map((e) => [
        e.pointer,
        e.detail,
      ]),
    ).toEqual([
      ['/name', 'Name holds a character that can be neither shown nor printed (U+0007); take it out'],
      [
        '/address',
        'Postal address holds a character that can be neither shown nor printed (U+202E); take it out',
      ],
    ]);
    expect(
      (
        (await (
          await post('/api/v1/join', JSON.stringify({ ...join, name: 'Ann\nBob', address: '' }))
        ).json()) as Fault
      ).errors.map((e) => e.detail),
    ).toEqual(['Name takes one line, without line breaks and tabs']);
    expect((await owner.get<Fault>('/api/v1/affiliates?q=%00')).body.errors[0]!.pointer).toBe('/q');
    expect(
      (
        await s.report('orders', {
          order: 'A\u0085B',
          placedAt: new Date(s.app.clock.now()).toISOString(),
          currency: 'EUR',
          lines: [{ product: 'WHEEL-1', quantity: 1, amount: '1.00' }],
        })
      ).status,
    ).toBe(422);
  });
});

describe('throttles', () => {
  const attempt = (client: Client, guess: string, email = 'viewer@quernstone.example') =>
    client.post<Fault>('/api/v1/session', { email, password: guess });
  it('two hundred guesses at once are six', async () => {
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
  it('what others try does not lock out a device that has signed in before', async () => {
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
  it('a made-up device cookie is a stranger’s', async () => {
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
  it('one address guesses forty times, whoever it guesses for', async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 42; i += 1)
      statuses.push((await attempt(from('203.0.113.40'), 'guess', `p${i}@nobody.example`)).status);
    expect([statuses.filter((x) => x === 401).length, statuses.at(-1)]).toEqual([40, 429]);
  });
  it('a stranger who sends the key’s name silences nobody: addresses are counted before the signature, keys after it', async () => {
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
  it('who is behind no trusted proxy cannot choose an address', async () => {
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
});

describe('the log of reports', () => {
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
  it('counts unknown keys, wrong signatures and pictures by address and minute', async () => {
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
  it('takes so many new sales by picture from one address, and no more', async () => {
    const shown = async (order: string) =>
      (
        await fetch(
          `${s.address}/px/${s.key.id}.gif?order=${order}&amount=1.00&currency=EUR&product=WHEEL-1`,
          { headers: { 'x-forwarded-for': '198.51.100.210' } },
        )
      ).headers.get('x-gravenel-outcome');
    const outcomes: (string | null)[] = [];
    for (let i = 0; i < 70; i += 1) outcomes.push(await shown(`PX-${i}`));
    expect([outcomes.filter((o) => o === 'unconfirmed').length, outcomes.at(-1)]).toEqual([60, 'refused']);
    expect(one("SELECT count(*) FROM pictured WHERE reference LIKE 'PX-%'")).toBe(60);
    // what is known already is still answered
    expect(await shown('PX-3')).toBe('already-recorded');
  });
  it('is kept as long as the settings say', async () => {
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
});

describe('passwords', () => {
  const token = (link: string) => new URL(link).searchParams.get('token')!;
  const setBy = (link: string, chosen: string) =>
    new Client(s.address).post<Fault & { state: string }>('/api/v1/portal/password', {
      token: token(link),
      password: chosen,
    });
  const asked = async (email: string, side = '/portal') =>
    (await new Client(s.address).post<{ said: string }>(`/api/v1${side}/session/forgotten`, { email })).body
      .said;
  const linkIn = async (email: string) => {
    await expect
      .poll(() =>
        one(
          'SELECT count(*) FROM messages WHERE to_address = ? AND kind = ? AND state = ?',
          email,
          'password-forgotten',
          'waiting',
        ),
      )
      .toBeGreaterThan(0);
    await deliverWaiting(s.app);
    const mails = (
      await owner.get<{ to: string; subject: string; body: string }[]>(`${s.standins}/mailroom/messages.json`)
    ).body;
    return /https?:\S+password\?token=\S+/.exec(
      mails.filter((m) => m.to === email && m.subject.startsWith('A new password')).at(-1)!.body,
    )![0];
  };
  it('are of twelve characters, and not common', async () => {
    const link = newPasswordLink(s.app, 'affiliate', mara.id);
    expect((await setBy(link, 'eleven char')).body.errors[0]!.detail).toBe(
      'Password is too short: at least 12 characters',
    );
    for (const easy of [
      'password1234',
      'qwertyuiop123',
      'aaaaaaaaaaaa',
      '123456789012',
      'Passw0rd!2024',
      'mara loam 12',
    ])
      expect((await setBy(link, easy)).body.errors[0]?.detail, easy).toContain('too easy to guess');
  });
  it('links die with the first that is used, and with every change', async () => {
    const links = [1, 2, 3].map(() => newPasswordLink(s.app, 'affiliate', mara.id));
    expect((await setBy(links[1]!, 'kiln letters by candlelight')).body.state).toBe('signed-in');
    for (const link of links)
      expect((await setBy(link, 'another one that is long enough')).body.errors[0]?.pointer).toBe('/token');
    const later = newPasswordLink(s.app, 'affiliate', mara.id);
    const portal = new Client(s.address);
    await portal.post('/api/v1/portal/session', {
      email: 'maraloam@maraloam.example',
      password: 'kiln letters by candlelight',
    });
    expect(
      (
        await portal.put<Fault>('/api/v1/portal/session/password', {
          current: 'not this one',
          password: 'ash glaze on a rainy friday',
        })
      ).body.errors[0],
    ).toMatchObject({ pointer: '/current' });
    expect(
      (
        await portal.put('/api/v1/portal/session/password', {
          current: 'kiln letters by candlelight',
          password: 'ash glaze on a rainy friday',
        })
      ).status,
    ).toBe(200);
    expect((await setBy(later, 'another one that is long enough')).body.errors[0]?.pointer).toBe('/token');
    // the one who changed it stays signed in, everybody else is out
    expect([
      (await portal.get('/api/v1/portal/home')).status,
      (await mara.client.get('/api/v1/portal/home')).status,
    ]).toEqual([200, 401]);
    mara.client = portal;
    expect(
      one(
        "SELECT count(*) FROM messages WHERE kind = 'password-changed' AND to_address = 'maraloam@maraloam.example'",
      ),
    ).toBe(2);
  });
  it('that are forgotten are set anew by mail; the answer is the same whoever asks, and mails are few', async () => {
    const email = 'maraloam@maraloam.example';
    const said = await asked(email);
    expect(await asked('nobody@nowhere.example')).toBe(said);
    const link = await linkIn(email);
    for (let i = 0; i < 6; i += 1) await asked(email);
    await deliverWaiting(s.app);
    expect(
      one("SELECT count(*) FROM messages WHERE kind = 'password-forgotten' AND to_address = ?", email),
    ).toBeLessThanOrEqual(3);
    expect(one("SELECT count(*) FROM messages WHERE to_address = 'nobody@nowhere.example'")).toBe(0);
    expect((await setBy(link, 'slip and engobe in four jars')).body.state).toBe('signed-in');
    expect(
      (
        await new Client(s.address).post('/api/v1/portal/session', {
          email,
          password: 'slip and engobe in four jars',
        })
      ).status,
    ).toBe(200);
    expect((await setBy(link, 'slip and engobe in five jars')).body.errors[0]?.pointer).toBe('/token');
  });
  it('of staff are changed and reset as well, and a link of one side opens nothing on the other', async () => {
    const manager = await s.as('manager');
    expect(
      (
        await manager.put('/api/v1/session/password', {
          current: password,
          password: 'bisque racks at half past six',
        })
      ).status,
    ).toBe(200);
    await asked('manager@quernstone.example', '');
    const link = await linkIn('manager@quernstone.example');
    expect((await setBy(link, 'bisque racks at half past seven')).body.errors[0]?.pointer).toBe('/token');
    expect(
      (
        await new Client(s.address).post<{ state: string }>('/api/v1/session/reset', {
          token: token(link),
          password: 'bisque racks at half past seven',
        })
      ).body.state,
    ).toBe('signed-in');
    expect((await manager.get('/api/v1/products')).status).toBe(401);
    const forAffiliate = newPasswordLink(s.app, 'affiliate', mara.id);
    expect(
      (
        await new Client(s.address).post<Fault>('/api/v1/session/reset', {
          token: token(forAffiliate),
          password: 'bisque racks at half past seven',
        })
      ).body.errors[0]?.pointer,
    ).toBe('/token');
  });
  it('are asked for again where payout details change, and the person is told', async () => {
    const portal = new Client(s.address);
    await portal.post('/api/v1/portal/session', {
      email: 'maraloam@maraloam.example',
      password: 'slip and engobe in four jars',
    });
    const { version } = (await portal.get<{ version: number }>('/api/v1/portal/payout-details')).body;
    const details = {
      holder: 'Mara Lindqvist',
      iban: 'PT50 0002 0123 1234 5678 9015 4',
      address: 'Rua do Forno 4',
      version,
    };
    const put = (more: object) =>
      portal.put<Fault & { iban: string }>('/api/v1/portal/payout-details', { ...details, ...more });
    expect((await put({})).body.errors.map((e) => e.pointer)).toEqual(['/password']);
    expect((await put({ password: 'not this one' })).body.errors).toMatchObject([
      { pointer: '/password', detail: 'Your password is not this one' },
    ]);
    expect(
      (
        await put({
          holder: '陶芸 & Co',
          address: 'a@b',
          iban: 'PT50 0000',
          password: 'slip and engobe in four jars',
        })
      ).body.errors.map((e) => e.pointer),
    ).toEqual(['/holder', '/address', '/iban']);
    expect(one('SELECT payee_iban FROM affiliates WHERE id = ?', mara.id)).toBe('GB33BUKB20201555555555');
    expect((await put({ password: 'slip and engobe in four jars' })).body.iban).toBe(
      'PT50000201231234567890154',
    );
    expect(
      one<string>(
        "SELECT body FROM messages WHERE kind = 'payout-details-changed' AND to_address = 'maraloam@maraloam.example' ORDER BY id DESC",
      ),
    ).toMatch(/ending in 0154 .*Before, it was the account ending in 5555/);
    mara.client = portal;
  });
});

describe('what an application says to whom', () => {
  const form = (email: string, more: object = {}) => ({
    name: '{{password-link}} win a prize at http://x.example',
    email,
    country: 'PT',
    address: '',
    sites: ['x.example'],
    channels: '',
    note: 'A note.',
    product: '',
    ...more,
  });
  it('is the same to everybody, in words and in the shape', async () => {
    const client = new Client(s.address);
    const answers = await Promise.all(
      [
        form('fresh@fresh.example'),
        form('maraloam@maraloam.example'),
        form('maraloam@maraloam.example', { product: 'WHEEL-1' }),
      ].map(async (f) => (await client.post('/api/v1/join', f)).text),
    );
    expect(new Set(answers).size).toBe(1);
  });
  it('writes nothing of a stranger’s words to anybody, and three times a day at the most', async () => {
    const client = new Client(s.address);
    for (const product of ['', 'WHEEL-1', '', 'WHEEL-1', ''])
      await client.post('/api/v1/join', form('victim@victim.example', { product }));
    const bodies = all<string>(
      "SELECT subject || body FROM messages WHERE to_address = 'victim@victim.example'",
    );
    expect(bodies.length).toBe(3);
    for (const body of bodies) expect(body).not.toMatch(/prize|password-link|x\.example/);
    await deliverWaiting(s.app);
    expect(
      one(
        "SELECT count(*) FROM invitations WHERE affiliate = (SELECT id FROM affiliates WHERE email = 'victim@victim.example')",
      ),
    ).toBe(0);
  });
  it('its name makes no link before it is approved, and one after', async () => {
    await new Client(s.address).post('/api/v1/join', form('later@later.example'));
    await deliverWaiting(s.app);
    const links = () =>
      one(
        "SELECT count(*) FROM invitations WHERE affiliate = (SELECT id FROM affiliates WHERE email = 'later@later.example')",
      );
    expect(links()).toBe(0);
    const id = one(
      "SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email = 'later@later.example'",
    );
    await owner.post('/api/v1/applications/decide', {
      ids: [id],
      decision: 'approve',
      timing: 'after-hold',
      reason: '',
      message: true,
    });
    await deliverWaiting(s.app);
    expect(links()).toBe(1);
  });
});

describe('small doors', () => {
  it('one signed message makes one quote', async () => {
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
  it('cursors that are none, odd paths and encodings are 4xx with a sentence', async () => {
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
  it('tokens are in no line of the log', async () => {
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
  it('looking as an affiliate is in the audit, once an hour', async () => {
    for (let i = 0; i < 3; i += 1)
      await owner.send('GET', '/api/v1/portal/home', undefined, { 'x-gravenel-as': mara.id });
    expect(all("SELECT by FROM audit WHERE action = 'portal-looked-at' AND subject = ?", mara.id)).toEqual([
      one("SELECT id FROM staff WHERE role = 'owner'"),
    ]);
  });
  it('a page whose name was made to lead here changes nothing', async () => {
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
  it('stand-ins answer to their own address only', async () => {
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
  it('every wrong value is named at once, also what only shows once the rest has its shape', async () => {
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

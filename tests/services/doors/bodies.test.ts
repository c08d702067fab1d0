import { request } from 'node:http';
import { gzipSync } from 'node:zlib';
import { expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { jobs, startJobs } from '../../../src/server/jobs/jobs';
import { runJob } from '../../../src/server/registers/programme/job';
import { theTerms } from '../../../src/server/setup/terms/store';
import { alive, mara, one, owner, prepare, s, type Fault } from './world';

prepare();

it('one request ends nothing: a link of a paused product without a page says so, and the server runs on', async () => {
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
it('one request ends nothing: what a redirect throws is a counted 503', async () => {
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
it('one request ends nothing: a job that throws, now or later, stops no other and runs again', async () => {
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

const post = (path: string, body: string | Buffer, headers: Record<string, string> = {}) =>
  fetch(s.address + path, {
    method: 'POST',
    body: body as BodyInit,
    headers: { 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID(), ...headers },
  });
it('bodies of people whom nobody knows: are small: 64 kB, of a sign-in 4 kB', async () => {
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
it('bodies of people whom nobody knows: full of faults cost a short answer that names twenty at the most', async () => {
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
it('bodies of people whom nobody knows: that are at fault drop nothing that is kept in memory, and do nothing', async () => {
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
it('bodies of strangers: nested deep, of too many values, packed or in another alphabet, are refused', async () => {
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
  ).toMatchObject({ status: 415, detail: expect.stringContaining('UTF-8') as string });
  expect((await post('/api/v1/join', '{"a":')).status).toBe(400);
});
it('bodies of people whom nobody knows: are not read before it is known who asks and that it may', async () => {
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
it('bodies of people whom nobody knows: hold no characters that cannot be shown, in any field; one-line fields hold one line', async () => {
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

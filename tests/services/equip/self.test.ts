import { afterAll, beforeAll, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import type { PortalHome } from '../../../src/contract/portal/home';
import type { EarningSums } from '../../../src/contract/portal/portal';
import type { OwnProfile } from '../../../src/contract/portal/profile';
import type { Problemed } from '../../helpers/problem';
import { password, startServer, type TestServer } from '../../helpers/server';

let s: TestServer;
let owner: Client;
let loam: Awaited<ReturnType<TestServer['affiliate']>>;
let kiln: Awaited<ReturnType<TestServer['affiliate']>>;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  await s.product('WHEEL-1');
  await s.product('THROW-V');
  loam = await s.affiliate('Loam Letters');
  kiln = await s.affiliate('Kiln Diaries', { product: 'THROW-V', details: false });
});
afterAll(() => s.close());

const home = async (client: Client) => (await client.get<PortalHome>('/api/v1/portal/home')).body;
const sell = async (order: string, amount: string) =>
  s.report('orders', {
    order,
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount }],
    visit: await s.visit(await loam.link('WHEEL-1')),
  });
const profileOf = async (client: Client) => (await client.get<OwnProfile>('/api/v1/portal/profile')).body;

it('home says what was earned and what comes, and its parts sum to it', async () => {
  expect(await home(kiln.client)).toMatchObject({ coming: [], earned30: { amount: 0 }, clearsUntil: null });
  for (const [i, amount] of ['100.00', '60.00', '40.00', '10.00', '90.00'].entries()) {
    await sell(`HM-${i}`, amount);
    s.days(1);
  }
  await s.report('refunds', {
    refund: 'HR-1',
    order: 'HM-1',
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'refund',
    lines: [{ product: 'WHEEL-1', amount: '60.00' }],
  });
  const shown = await home(loam.client);
  // 10 % of 240: of the 300 sold, 60 were sent back
  expect(shown.earned30.amount).toBe(2400);
  expect(shown.links.find((l) => l.code === 'WHEEL-1')).toMatchObject({
    earned30: { amount: 2400 },
    per100: { amount: 48_000 },
  });
  const owed = shown.coming.filter((c) => c.kind !== 'expected' && c.kind !== 'paid');
  expect(owed.reduce((sum, c) => sum + c.amount.amount, 0)).toBe(shown.balances.held.amount);
  expect(shown.due).toEqual(shown.balances.held);
  expect(shown.coming.filter((c) => c.kind === 'expected').map((c) => c.amount.amount)).toEqual([
    600, 600, 600,
  ]);
  expect(shown.going).toMatchObject({
    now: { clicks: 5, orders: 5, sentBack: 1 },
    before: { clicks: 0, orders: 0, sentBack: 0, conversion: null },
  });
});

it('earnings sum by state over the days that are asked for, and the file has the same', async () => {
  const sums = async (query = '') =>
    (await loam.client.get<EarningSums>(`/api/v1/portal/earnings/sums${query}`)).body;
  const all = await sums();
  expect(all.states.map((r) => [r.state, r.count, r.left.amount])).toEqual([
    ['held', 4, 2400],
    ['reversed', 1, 0],
  ]);
  expect(all.total).toEqual({
    count: 5,
    granted: { amount: 3000, currency: 'EUR' },
    left: { amount: 2400, currency: 'EUR' },
  });
  // the first two days
  const two = await sums('?from=2027-03-12&to=2027-03-13');
  expect(two.total).toMatchObject({ count: 2, left: { amount: 1000 } });
  const list = await loam.client.get<{ rows: unknown[] }>(
    '/api/v1/portal/earnings?from=2027-03-12&to=2027-03-13&state=held',
  );
  expect(list.body.rows).toHaveLength(1);
  const file = await loam.client.send('GET', '/api/v1/portal/earnings.csv?to=2027-03-13');
  expect(file.text.trim().split('\r\n')).toEqual([
    'sold,product,kind,value,granted,left,currency,state,clears',
    expect.stringMatching(/^2027-03-13,Product WHEEL-1,commission,60.00,6.00,0.00,EUR,reversed,/),
    expect.stringMatching(/^2027-03-12,Product WHEEL-1,commission,100.00,10.00,10.00,EUR,held,/),
  ]);
  for (const [query, pointer] of [
    ['?from=yesterday', '/from'],
    ['?to=2027-02-30', '/to'],
    ['?from=2027-03-13&to=2027-03-12', '/to'],
  ] as const) {
    const refused = await loam.client.get<Problemed>(`/api/v1/portal/earnings/sums${query}`);
    expect([refused.status, refused.body.errors?.[0]?.pointer]).toEqual([422, pointer]);
  }
  expect((await kiln.client.get<EarningSums>('/api/v1/portal/earnings/sums')).body.states).toEqual([]);
});

it('a question on an application is answered in the portal, by whom it was put to and once', async () => {
  const applied = await kiln.client.post('/api/v1/join', {
    name: 'Kiln Diaries',
    email: 'kilndiaries@kilndiaries.example',
    country: 'PT',
    address: '',
    sites: ['kilndiaries.example'],
    channels: '',
    note: 'The wheel, too',
    product: 'WHEEL-1',
    policy: true,
  });
  const rows = (
    await owner.get<{ rows: { id: string; name: string; state: string }[] }>('/api/v1/applications')
  ).body.rows;
  const own = rows.find((r) => r.name === 'Kiln Diaries' && r.state === 'waiting');
  expect([applied.status, own !== undefined]).toEqual([200, true]);
  await owner.post(`/api/v1/applications/${own!.id}/ask`, { question: 'Which issue?' });
  const [question] = (await home(kiln.client)).questions;
  expect(question).toMatchObject({ question: 'Which issue?', product: 'Product WHEEL-1' });
  const answer = (client: Client, text: string) =>
    client.post<Problemed>(`/api/v1/portal/questions/${question!.id}/answer`, { answer: text });
  expect((await answer(loam.client, 'Mine')).status).toBe(404);
  expect((await answer(kiln.client, '  ')).status).toBe(422);
  expect((await answer(kiln.client, ' The April issue ')).status).toBe(200);
  // sent twice it is the same; another answer is refused
  expect((await answer(kiln.client, 'The April issue')).status).toBe(200);
  expect((await answer(kiln.client, 'The May issue')).status).toBe(409);
  expect((await home(kiln.client)).questions).toEqual([]);
  const read = (
    await owner.get<{ state: string; questions: { answer: string }[] }>(`/api/v1/applications/${own!.id}`)
  ).body;
  expect([read.state, read.questions.map((q) => q.answer)]).toEqual(['waiting', ['The April issue']]);
});

it('a profile is changed by its own, with what was before in the history; two windows do not overwrite each other', async () => {
  const before = await profileOf(loam.client);
  const change = (fields: object, version = before.version) =>
    loam.client.put<OwnProfile & Problemed>('/api/v1/portal/profile', {
      ...{ name: before.name, address: before.address, audience: before.audience, version },
      ...fields,
    });
  const done = await change({ name: ' Loam & Letters ', audience: 'A letter every Friday' });
  expect(done.body).toMatchObject({ name: 'Loam & Letters', audience: 'A letter every Friday' });
  const late = await change({ name: 'Other' });
  expect([late.status, late.body.code]).toEqual([409, 'stale']);
  // nothing changed: nothing is written
  const entries = () =>
    s.app.sqlite.prepare("SELECT before, after FROM audit WHERE action = 'profile-changed'").all();
  const again = await change(
    { name: 'Loam & Letters', audience: 'A letter every Friday' },
    done.body.version,
  );
  expect([again.body.version, entries().length]).toEqual([done.body.version, 1]);
  expect(entries()).toEqual([
    {
      before: JSON.stringify({ name: 'Loam Letters', audience: 'blog' }),
      after: JSON.stringify({ name: 'Loam & Letters', audience: 'A letter every Friday' }),
    },
  ]);
  for (const name of ['', '   ', 'a'.repeat(121), 'a\u0007b'])
    expect([name, (await change({ name }, done.body.version)).status]).toEqual([name, 422]);
  // where it promotes was looked at when it was approved
  expect((await change({ sites: ['other.example'] }, done.body.version)).status).toBe(422);
});

it('sessions are seen, and every other one can be ended', async () => {
  const other = new Client(s.address);
  await other.post('/api/v1/portal/session', {
    email: 'loamletters@loamletters.example',
    password,
  });
  const { sessions } = await profileOf(loam.client);
  expect(sessions.map((x) => x.isThis).sort()).toEqual([false, true]);
  expect((await loam.client.post('/api/v1/portal/sessions/end')).body).toEqual({ ended: 1 });
  expect((await other.get('/api/v1/portal/profile')).status).toBe(401);
  expect((await profileOf(loam.client)).sessions).toHaveLength(1);
  expect((await loam.client.post('/api/v1/portal/sessions/end')).body).toEqual({ ended: 0 });
  // staff who look on see no sessions, and end none
  const as = { 'x-gravenel-as': loam.id };
  expect(
    (await owner.send<OwnProfile>('GET', '/api/v1/portal/profile', undefined, as)).body.sessions,
  ).toEqual([]);
  expect((await owner.send('POST', '/api/v1/portal/sessions/end', {}, as)).status).toBe(403);
});

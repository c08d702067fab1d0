import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import { startServer, type TestServer } from '../helpers/server';

interface Settings {
  name: string;
  contact: string;
  intro: string;
  summary: string;
  rate: string;
  windowDays: number;
  landingHosts: string[];
  version: number;
  debtorIban: string;
  approvalAbove: string;
  bufferDays: number;
  clearing: string;
  minimumPayout: string;
  promiseDays: number;
  debtorName: string;
}
interface Fault {
  status: number;
  code: string;
  detail: string;
  errors: { pointer: string; detail: string; example?: string }[];
  current?: { name: string };
}

let s: TestServer;
let owner: Client;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
});
afterAll(() => s.close());
const read = async () => (await owner.get<Settings>('/api/v1/settings')).body;
const programme = async (more: object = {}) => {
  const { name, contact, intro, summary, rate, windowDays, landingHosts, version } = await read();
  return { name, contact, intro, summary, rate, windowDays, landingHosts, version, ...more };
};
const money = async (more: object = {}) => {
  const { bufferDays, clearing, minimumPayout, approvalAbove, promiseDays, debtorName, debtorIban, version } =
    await read();
  return {
    bufferDays,
    clearing,
    minimumPayout,
    approvalAbove,
    promiseDays,
    debtorName,
    debtorIban,
    version,
    ...more,
  };
};

it('the programme: keeps what is saved, and says what changed in the audit', async () => {
  const saved = await owner.put<Settings>(
    '/api/v1/settings/programme',
    await programme({
      intro: 'We pay for sales.',
      rate: '8.25',
      windowDays: 45,
      landingHosts: ['Shop.Quernstone.example', 'shop.quernstone.example'],
    }),
  );
  expect(saved.body).toMatchObject({
    intro: 'We pay for sales.',
    rate: '8.25',
    windowDays: 45,
    landingHosts: ['shop.quernstone.example'],
  });
  const { rows } = (
    await owner.get<{ rows: { action: string; before: object; after: object; by: string }[] }>(
      '/api/v1/audit?subject=programme',
    )
  ).body;
  expect(rows.find((r) => r.action === 'settings-changed')).toMatchObject({
    by: 'Inês Falcão',
    before: { windowDays: 30 },
    after: { windowDays: 45 },
  });
  expect(rows.find((r) => r.action === 'rate-changed')).toMatchObject({
    after: { reward: { type: 'percent', ppm: 82_500 } },
  });
});
it('the programme: an edit from an older version is refused with the present one', async () => {
  const old = await programme();
  await owner.put('/api/v1/settings/programme', await programme({ name: 'Quernstone' }));
  expect(
    (await owner.put<Fault>('/api/v1/settings/programme', { ...old, name: 'Other' })).body,
  ).toMatchObject({ code: 'stale', current: { name: 'Quernstone' } });
});
it.each([
  [{ rate: '101' }, '/rate', /more than 100 %/],
  [{ rate: 'eight' }, '/rate', /digits with a point/],
  [{ windowDays: 0 }, '/windowDays', /at least 1/],
  [{ windowDays: 400 }, '/windowDays', /at most 365/],
  [{ landingHosts: ['https://x.example/'] }, '/landingHosts/0', /form that is not accepted/],
  [{ contact: 'x' }, '/contact', /e-mail|too short/],
  [{ name: '' }, '/name', /is empty/],
] as [object, string, RegExp][])(
  'the programme: %j is refused at its field',
  async (more, pointer, reason) => {
    const a = await owner.put<Fault>('/api/v1/settings/programme', await programme(more));
    expect(a.status).toBe(422);
    expect(a.body.errors.find((e) => e.pointer === pointer)?.detail).toMatch(reason);
  },
);
it('the programme: a programme rate pays where a product has none', async () => {
  await owner.put('/api/v1/settings/programme', await programme({ rate: '8' }));
  await s.product('PLAIN-1', { rewardKind: 'none', reward: '' });
  const { rows } = (await owner.get<{ rows: { code: string; rewardText: string }[] }>('/api/v1/products'))
    .body;
  expect(rows.find((r) => r.code === 'PLAIN-1')?.rewardText).toBe('8 %');
  await owner.put('/api/v1/settings/programme', await programme({ rate: '' }));
  expect(
    (await owner.get<{ rows: { code: string; rewardText: string }[] }>('/api/v1/products')).body.rows.find(
      (r) => r.code === 'PLAIN-1',
    )?.rewardText,
  ).toBe('no commission');
});

describe('money', () => {
  it.each([
    [{ minimumPayout: '1.005' }, '/minimumPayout', /at most 2 decimals/],
    [{ approvalAbove: '-1' }, '/approvalAbove', /negative/],
    [{ debtorIban: 'PT50000201231234567890155' }, '/debtorIban', /check digits/],
    [{ bufferDays: 91 }, '/bufferDays', /at most 90/],
    [{ clearing: 'never' }, '/clearing', /must be one of automatic, person/],
    [{ promiseDays: 0 }, '/promiseDays', /at least 1/],
  ] as [object, string, RegExp][])('%j is refused at its field', async (more, pointer, reason) => {
    const a = await owner.put<Fault>('/api/v1/settings/money', await money(more));
    expect(a.status).toBe(422);
    expect(a.body.errors.find((e) => e.pointer === pointer)?.detail).toMatch(reason);
  });
  it('is finance’s and the owner’s, the programme the manager’s', async () => {
    expect(
      (await (await s.as('finance')).put('/api/v1/settings/money', await money({ promiseDays: 10 }))).status,
    ).toBe(200);
    expect((await (await s.as('manager')).put('/api/v1/settings/money', await money())).status).toBe(403);
    expect((await (await s.as('finance')).put('/api/v1/settings/programme', await programme())).status).toBe(
      403,
    );
    expect(
      (await (await s.as('manager')).put('/api/v1/settings/programme', await programme({ intro: 'Hello' })))
        .status,
    ).toBe(200);
  });
  it('clearing by a person leaves what is due to the list', async () => {
    await owner.put('/api/v1/settings/money', await money({ clearing: 'person' }));
    await s.product('HELD-1', { refundDays: 0 });
    const loam = await s.affiliate('Loam Letters');
    await s.report('orders', {
      order: 'H-1',
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines: [{ product: 'HELD-1', quantity: 1, amount: '100.00' }],
      visit: await s.visit(await loam.link('HELD-1')),
    });
    await owner.post('/api/v1/clock', { by: 'week' });
    const due = (await owner.get<{ rows: { id: string; state: string }[] }>('/api/v1/commissions?due=true'))
      .body.rows;
    expect(due.map((r) => r.state)).toEqual(['held']);
    expect(
      (await owner.get<{ waiting: { text: string }[] }>('/api/v1/today')).body.waiting.map((w) => w.text),
    ).toContain('1 commissions to clear');
    expect(
      (await owner.post<{ cleared: number }>('/api/v1/commissions/clear', { ids: due.map((r) => r.id) })).body
        .cleared,
    ).toBe(1);
    await owner.put('/api/v1/settings/money', await money({ clearing: 'automatic' }));
  });
});

describe('exchange rates', () => {
  const set = (currency: string, rate: string, day = '2027-03-01') =>
    owner.put<Fault & { rows: { currency: string; rate: string; day: string }[] }>(
      '/api/v1/settings/exchange',
      { currency, day, rate },
    );
  it('keeps six decimals and shows the latest', async () => {
    await set('usd', '1.0825');
    expect((await set('USD', '1.091234', '2027-03-05')).body.rows).toEqual([
      { currency: 'USD', rate: '1.091234', day: '2027-03-05' },
    ]);
  });
  it.each([
    ['XXX', '1', '/currency'],
    ['EUR', '1', '/currency'],
    ['USD', '0', '/rate'],
    ['USD', '-1', '/rate'],
    ['USD', '1.1234567', '/rate'],
  ])('%s %s is refused at %s', async (currency, rate, pointer) => {
    expect((await set(currency, rate)).body.errors[0]?.pointer).toBe(pointer);
  });
  it('a day that is none is refused', async () => {
    expect((await set('USD', '1.1', '2027-02-40')).body.errors[0]).toMatchObject({ pointer: '/day' });
  });
});

describe('an affiliate’s terms', () => {
  it('timing changes from now on, and both sides are kept', async () => {
    const ann = await s.affiliate('Ann Ash');
    const page = async () =>
      (
        await owner.get<{
          version: number;
          timing: string;
          terms: { timing: string }[];
          history: { action: string; before: unknown; after: unknown }[];
        }>(`/api/v1/affiliates/${ann.id}`)
      ).body;
    const before = await page();
    expect(before.terms.every((t) => t.timing === 'after-hold')).toBe(true);
    await owner.put(`/api/v1/affiliates/${ann.id}/timing`, { timing: 'at-sale', version: before.version });
    const after = await page();
    expect(after.terms.every((t) => t.timing === 'at-sale')).toBe(true);
    expect(after.history[0]).toMatchObject({
      action: 'timing-changed',
      before: { timing: 'after-hold' },
      after: { timing: 'at-sale' },
    });
  });
  it('a block needs a reason, ends the portal, and can be taken back', async () => {
    const bob = await s.affiliate('Bob Bisque');
    const move = async (state: string, reason = '') =>
      owner.post<Fault>(`/api/v1/affiliates/${bob.id}/state`, {
        state,
        reason,
        version: (await owner.get<{ version: number }>(`/api/v1/affiliates/${bob.id}`)).body.version,
      });
    expect((await move('blocked')).body.errors[0]).toMatchObject({ pointer: '/reason' });
    expect((await move('blocked', 'Own purchases')).status).toBe(200);
    expect((await bob.client.get('/api/v1/portal/home')).status).toBe(401);
    expect(
      (
        await bob.client.post<Fault>('/api/v1/portal/session', {
          email: 'bobbisque@bobbisque.example',
          password: 'clay on the wheel at dawn',
        })
      ).status,
    ).toBe(401);
    expect((await move('paused')).body).toMatchObject({
      code: 'conflict',
      detail: 'An affiliate that is blocked cannot become paused',
    });
    expect((await move('active')).status).toBe(200);
  });
});

import { afterAll, beforeAll, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { keptFrom, keptText } from '../../src/core/text/kept';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { clearDue } from '../../src/server/ledger/journal';
import { grantClicks } from '../../src/server/track/clicks/clicks';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let owner: Client;
let mara: Awaited<ReturnType<TestServer['affiliate']>>;
let link: string;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  await s.product('WHEEL-1', { reward: '10' });
  mara = await s.affiliate('Mara');
  await s.affiliate('Bo');
  link = await mara.link('WHEEL-1');
});
afterAll(() => s.close());

/** Follows the link as a new visitor, so many times. */
async function follow(times = 1, agent = 'Mozilla/5.0'): Promise<void> {
  const visitor = new Client(s.address);
  for (let i = 0; i < times; i += 1) await visitor.send('GET', link, undefined, { 'user-agent': agent });
}
const rate = async (value: string, more: object = {}) => {
  const product = s.app.sqlite
    .prepare("SELECT id FROM products WHERE code = 'WHEEL-1'")
    .pluck()
    .get() as string;
  await owner.post('/api/v1/draft/rates', {
    column: { of: 'everyone' },
    row: { of: 'product', id: product },
    event: 'click',
    mode: 'base',
    reward: { kind: 'flat-order', value },
    ...more,
  });
  const { version } = (await owner.get<{ version: number }>('/api/v1/draft')).body;
  return owner.post<{ detail?: string }>('/api/v1/draft/save', { version });
};
const rows = async () =>
  (
    await owner.get<{
      rows: {
        id: string;
        event: string;
        reason: string;
        commission: { amount: number } | null;
        state: string | null;
      }[];
    }>('/api/v1/orders?limit=50')
  ).body.rows.filter((r) => r.event === 'click');

it('nothing is counted while no rate pays for clicks', async () => {
  await follow();
  s.days(1);
  expect([grantClicks(s.app), await rows()]).toEqual([0, []]);
});
it('a day that is over earns each visitor once, robots nothing, and is counted once', async () => {
  expect((await rate('0.05')).status).toBe(200);
  for (let i = 0; i < 3; i += 1) await follow(2);
  await follow(5, 'Googlebot/2.1');
  expect(grantClicks(s.app)).toBe(0);
  s.days(1);
  expect([grantClicks(s.app), grantClicks(s.app)]).toEqual([1, 0]);
  const [row] = await rows();
  expect(row).toMatchObject({
    commission: { amount: 15 },
    state: 'held',
    reason: expect.stringMatching(
      /^3 counted clicks of .*, each visitor once; 3 more not paid: the same visitor clicked before on that day$/,
    ),
  });
  const sheet = (
    await owner.get<{ working: { lines: { sums: { label: string; figure: string }[] }[] } }>(
      `/api/v1/orders/${row!.id}`,
    )
  ).body;
  expect(sheet.working.lines[0]!.sums.map((x) => `${x.label}: ${x.figure}`)).toEqual([
    '3 clicks × €0.05 a click: €0.15',
    'Uplift: none on this day: —',
    'Commission: €0.15',
  ]);
});
it('a rate that changes during the day parts it, each click under the rate of its moment', async () => {
  await follow();
  await rate('0.20');
  await follow();
  await follow();
  s.days(1);
  expect(grantClicks(s.app)).toBe(2);
  expect(
    (await rows())
      .slice(0, 2)
      .map((r) => r.commission!.amount)
      .sort(),
  ).toEqual([40, 5]);
});
it('clears after the buffer, shows in the portal, and leaves orders and their figures as they were', async () => {
  s.days(4);
  clearDue(s.app);
  expect((await rows()).map((r) => r.state)).toEqual(['cleared', 'cleared', 'cleared']);
  const earned = (
    await mara.client.get<{ rows: { products: string; granted: { amount: number } }[] }>(
      '/api/v1/portal/earnings',
    )
  ).body.rows;
  expect(earned.reduce((n, r) => n + r.granted.amount, 0)).toBe(60);
  const { going } = (await mara.client.get<{ going: { now: { orders: number } } }>('/api/v1/portal/home'))
    .body;
  expect(going.now.orders).toBe(0);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});
it('what nobody opened is recorded with the reason, pays nothing, counts nothing and leaves no cookie', async () => {
  const visitsNow = () =>
    s.app.sqlite.prepare('SELECT uncounted, visitor FROM visits ORDER BY rowid DESC LIMIT 5').all() as {
      uncounted: string | null;
      visitor: string | null;
    }[];
  const clicksToday = () =>
    s.app.sqlite.prepare('SELECT coalesce(sum(clicks), 0) FROM click_days').pluck().get() as number;
  const before = clicksToday();
  const asked = async (method: string, headers: Record<string, string>) =>
    await new Client(s.address).send(method, link, undefined, { 'user-agent': 'Mozilla/5.0', ...headers });
  const led = [
    await asked('HEAD', {}),
    await asked('GET', { 'sec-fetch-dest': 'image', 'sec-fetch-mode': 'no-cors' }),
    await asked('GET', { 'sec-fetch-dest': 'iframe', 'sec-fetch-mode': 'navigate' }),
    await asked('GET', { 'sec-purpose': 'prefetch', 'sec-fetch-dest': 'document' }),
    await asked('GET', { purpose: 'prefetch' }),
  ];
  expect(led.map((l) => [l.status, l.headers.get('set-cookie')])).toEqual(
    Array.from({ length: 5 }, () => [302, null]),
  );
  expect(visitsNow().map((v) => keptFrom(v.uncounted!))).toEqual([
    { code: 'fetched-ahead' },
    { code: 'fetched-ahead' },
    { code: 'loaded-as', dest: 'iframe' },
    { code: 'loaded-as', dest: 'image' },
    { code: 'other-method', method: 'HEAD' },
  ]);
  expect(visitsNow().every((v) => v.visitor === null)).toBe(true);
  expect(clicksToday()).toBe(before);
  s.days(1);
  expect(grantClicks(s.app)).toBe(0);
  // a buyer whose browser fetched ahead did come: the shop names the visit
  const visit = new URL(led[3]!.headers.get('location')!).searchParams.get('gvn')!;
  const sold = await s.report('orders', {
    order: 'Q-AHEAD',
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
    visit,
  });
  expect(sold.body).toMatchObject({ credited: { affiliate: 'mara' } });
});
it('pays at most three clicks of one network address on a product a day, whosever they are; the rest say why', async () => {
  for (let i = 0; i < 12; i += 1) await follow();
  s.days(1);
  expect(grantClicks(s.app)).toBe(1);
  expect((await rows())[0]).toMatchObject({
    commission: { amount: 60 },
    reason: expect.stringMatching(
      /^3 counted clicks of .*, each visitor once; 9 more not paid: more than 3 of one network address on that day$/,
    ),
  });
  expect(
    s.app.sqlite
      .prepare('SELECT count(*) FROM visits WHERE uncounted = ?')
      .pluck()
      .get(keptText({ code: 'same-address', most: 3 })),
  ).toBe(9);
  const read = async () => (await owner.get<Record<string, unknown>>('/api/v1/settings')).body;
  const put = async (clicksPerAddress: string) => {
    const {
      noticeWeeks,
      lowEarning,
      feePercent,
      feeFixed,
      referralPercent,
      referralOf,
      referralMonths,
      version,
    } = await read();
    return owner.put<{ detail?: string }>('/api/v1/settings/terms', {
      noticeWeeks,
      lowEarning,
      feePercent,
      feeFixed,
      referralPercent,
      referralOf,
      referralMonths,
      version,
      clicksPerAddress,
    });
  };
  expect((await put('none')).body.detail).toMatch(/Paid clicks of one network address: a whole number/);
  expect((await put('')).status).toBe(200);
  for (let i = 0; i < 12; i += 1) await follow();
  s.days(1);
  grantClicks(s.app);
  expect((await rows())[0]).toMatchObject({ commission: { amount: 240 } });
  await put('3');
});
it('an uplift raises each click', async () => {
  await rate('0.05', {
    mode: 'plus',
    from: undefined,
    until: new Date(s.app.clock.now() + 7 * 86_400_000).toISOString().slice(0, 16),
    label: 'Fair',
  });
  await follow();
  await follow();
  s.days(1);
  grantClicks(s.app);
  expect((await rows())[0]!.commission!.amount).toBe(50);
});

import { describe, expect, it } from 'vitest';
import type { TodayOut } from '../../../src/contract/lookback/today';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { clearDue } from '../../../src/server/ledger/journal';
import {
  ada,
  bo,
  course,
  mara,
  now,
  owner,
  prepare,
  s,
  sell,
  shown,
  type Fault,
  type Money,
  type Referral,
} from './world';

prepare();

it('a co-owner: is added once, told by mail, and is in no count of affiliates', async () => {
  expect(
    (
      await owner.post<Fault>('/api/v1/partners', {
        name: 'Ada B',
        email: 'ADA@birkeland.example',
        country: 'NO',
      })
    ).body.errors[0],
  ).toMatchObject({ pointer: '/email', detail: expect.stringContaining("is Ada Birkeland's already") });
  expect((await owner.get<TodayOut>('/api/v1/today')).body.people!.affiliates).toEqual({
    active: 2,
  });
  expect(
    s.app.sqlite.prepare("SELECT subject FROM messages WHERE kind = 'partner-added'").pluck().all(),
  ).toEqual(['Your shares of sales at Quernstone Clayworks']);
});
it('a co-owner: bad shares are refused at their line, and so is an edit of what somebody else changed', async () => {
  const set = (owners: object[], expects: object[] = []) =>
    owner.put<Fault>(`/api/v1/products/${course}/co-owners`, { owners, expects });
  const faults = async (owners: object[]) =>
    (await set(owners)).body.errors.map((e) => `${e.pointer} ${e.detail}`);
  expect(await faults([{ payee: ada.id, percent: '0' }])).toEqual([
    '/owners/0/percent Co-owner share of Ada Birkeland: 0 % is no share; take the line out',
  ]);
  expect(await faults([{ payee: ada.id, percent: '100.00001' }])).toEqual([
    expect.stringContaining('at most four decimals'),
  ]);
  expect(
    await faults([
      { payee: ada.id, percent: '60' },
      { payee: mara.id, percent: '40.5' },
    ]),
  ).toEqual(['/owners Co-owners would share 100.5 % of what a sale leaves: together at most 100 %']);
  expect(
    await faults([
      { payee: ada.id, percent: '10' },
      { payee: ada.id, percent: '5' },
    ]),
  ).toEqual(['/owners/1/payee Ada Birkeland is named twice: one share each']);
  expect((await set([{ payee: ada.id, percent: '25' }])).status).toBe(200);
  expect((await set([{ payee: mara.id, percent: '5' }])).body).toMatchObject({ code: 'stale' });
});
it('a co-owner: gets a percent of what commission leaves, also of sales that nobody brought', async () => {
  // 30 % of 89.00 = 26.70; a quarter of 62.30 = 15.575
  expect(shown(await (await sell('89.00', mara)).sheet())).toEqual(['co-owner Ada Birkeland 1558']);
  const alone = await (await sell('89.00', null)).sheet();
  expect([shown(alone), alone.shares[0]!.lines]).toEqual([
    ['co-owner Ada Birkeland 2225'],
    [
      {
        product: 'Product COURSE',
        text: '25 % of what commission and referral share leave',
        basis: { amount: 8900, currency: 'EUR' },
        amount: { amount: 2225, currency: 'EUR' },
      },
    ],
  ]);
});
it('a co-owner: a test purchase shares nothing', async () => {
  expect((await (await sell('89.00', mara, { test: true })).sheet()).shares).toEqual([]);
});

it('a referral share: is set on the affiliate’s page, from now on; nobody brings in themselves or their own bringer', async () => {
  const set = (id: string, by: string | null, more: object = {}) =>
    owner.put<Fault & Referral>(`/api/v1/affiliates/${id}/referral`, {
      by,
      percent: '10',
      of: 'commission',
      months: '12',
      ...more,
    });
  expect((await set(bo.id, bo.id)).body.errors[0]!.detail).toContain('Nobody brings in themselves');
  expect((await set(bo.id, mara.id, { percent: '0' })).body.errors[0]!.pointer).toBe('/percent');
  expect((await set(bo.id, mara.id, { months: '121' })).body.errors[0]!.detail).toContain('from 1 to 120');
  expect((await set(bo.id, mara.id, { percent: '75', of: 'sale' })).body.errors[0]!.detail).toBe(
    'On Product COURSE “Product” 30 % and the referral share of 75 % of the sale could come to 105 % of the value together: commission and referral share cannot be more than the sale',
  );
  expect((await set(bo.id, mara.id)).body.by).toMatchObject({
    name: 'Mara',
    percent: '10',
    of: 'commission',
  });
  expect((await set(mara.id, bo.id)).body.errors[0]!.detail).toContain('one of the two came first');
});
it('a referral share: comes before the co-owner’s, with its working, and its payee reads it in the portal', async () => {
  const sale = await sell('89.00', bo);
  const sheet = await sale.sheet();
  // 10 % of 26.70 = 2.67; a quarter of 59.63 = 14.9075
  expect(shown(sheet)).toEqual(['referral Mara 267', 'co-owner Ada Birkeland 1491']);
  expect(sheet.shares[0]!.lines[0]).toMatchObject({
    text: '10 % of the commission',
    basis: { amount: 2670 },
  });
  const rows = (
    await mara.client.get<{ rows: { id: string; kind: string; left: Money }[] }>('/api/v1/portal/earnings')
  ).body.rows;
  const own = rows.find((r) => r.kind === 'referral')!;
  expect(own.left.amount).toBe(267);
  const working = (
    await mara.client.get<{
      working: { credit: { reason: string }; lines: { sums: { label: string; figure: string }[] }[] };
    }>(`/api/v1/portal/earnings/${own.id}`)
  ).body.working;
  expect(working.credit.reason).toBe('Bo, whom you brought in, sold this');
  expect(working.lines[0]!.sums.map((r) => `${r.label}: ${r.figure}`)).toEqual([
    'Commission of Bo: €26.70',
    '× 10 %, rounded: €2.67',
    'Referral share: €2.67',
  ]);
  expect((await bo.client.get(`/api/v1/portal/earnings/${own.id}`)).status).toBe(404);
  expect(
    (await owner.get<Referral>(`/api/v1/affiliates/${mara.id}/referral`)).body.brought.map((b) => [
      b.name,
      b.earned.amount,
    ]),
  ).toEqual([['Bo', 267]]);
});
it('a referral share: refunds in parts take shares back in proportion, together exactly all of them', async () => {
  const sale = await sell('89.00', bo);
  const parts: string[][] = [];
  for (const [n, amount] of ['29.67', '29.67', '29.66'].entries()) {
    await s.report('refunds', {
      refund: `R-${sale.reference}-${n}`,
      order: sale.reference,
      at: now(),
      kind: 'refund',
      lines: [{ product: 'COURSE', amount }],
    });
    parts.push(shown(await sale.sheet()));
  }
  expect(parts).toEqual([
    ['referral Mara 178', 'co-owner Ada Birkeland 994'],
    ['referral Mara 89', 'co-owner Ada Birkeland 497'],
    ['referral Mara 0', 'co-owner Ada Birkeland 0'],
  ]);
  expect((await sale.sheet()).shares.map((x) => x.state)).toEqual(['reversed', 'reversed']);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});
it('a referral share: goes with a commission that is declined; the co-owner’s part stays', async () => {
  const sale = await sell('89.00', bo);
  await owner.post(`/api/v1/commissions/${(await sale.sheet()).commission}/decline`, {
    reason: 'Own purchase',
  });
  const after = await sale.sheet();
  expect(after.shares.map((x) => [x.kind, x.state, x.declined])).toEqual([
    ['referral', 'declined', 'Own purchase'],
    ['co-owner', 'held', null],
  ]);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});
it('a referral share: a share can be corrected, never beyond the value of the sale', async () => {
  const sale = await sell('89.00', bo);
  const { shares } = await sale.sheet();
  const correct = (difference: string) =>
    owner.post<Fault>(`/api/v1/commissions/${shares[0]!.id}/correct`, {
      difference,
      reason: 'Agreed at the fair',
    });
  expect((await correct('44.73')).body.errors[0]!.detail).toBe(
    'Difference: with it commission and shares would exceed the €89.00 left of the order',
  );
  expect((await correct('1.00')).status).toBe(200);
  await s.report('refunds', {
    refund: `R-${sale.reference}`,
    order: sale.reference,
    at: now(),
    kind: 'refund',
    full: true,
  });
  expect((await sale.sheet()).shares.map((x) => x.left.amount)).toEqual([0, 0]);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});
it('a referral share: a blocked bringer earns nothing of later sales, and nothing is owed after the months', async () => {
  const version = () =>
    s.app.sqlite.prepare('SELECT version FROM affiliates WHERE id = ?').pluck().get(mara.id) as number;
  await owner.post(`/api/v1/affiliates/${mara.id}/state`, {
    state: 'blocked',
    reason: 'Bought through own links',
    version: version(),
  });
  expect(shown(await (await sell('89.00', bo)).sheet())).toEqual(['co-owner Ada Birkeland 1558']);
  await owner.post(`/api/v1/affiliates/${mara.id}/state`, {
    state: 'active',
    reason: '',
    version: version(),
  });
  expect(shown(await (await sell('89.00', bo)).sheet())[0]).toBe('referral Mara 267');
  s.days(366);
  expect(shown(await (await sell('89.00', bo)).sheet())).toEqual(['co-owner Ada Birkeland 1558']);
});

/** Cem, who joins by Mara’s address. */
async function cemJoins(): Promise<{ cem: string; application: string }> {
  const joining = await s.as('viewer');
  expect((await joining.get<{ by: string | null }>('/api/v1/join?by=mara')).body.by).toBe('Mara');
  expect((await joining.get<{ by: string | null }>('/api/v1/join?by=nobody-here')).body.by).toBeNull();
  await joining.post('/api/v1/join', {
    name: 'Cem',
    email: 'cem@slip.example',
    country: 'DE',
    address: '',
    sites: ['slip.example'],
    channels: '',
    note: 'Hello',
    product: '',
    by: 'mara',
  });
  const one = (sql: string) => s.app.sqlite.prepare(sql).pluck().get() as string;
  const cem = one("SELECT id FROM affiliates WHERE handle = 'cem'");
  return { cem, application: one(`SELECT id FROM applications WHERE affiliate = '${cem}'`) };
}

it('somebody brought in: from the day of joining, on the programme’s terms, taken back with the decision', async () => {
  const settings = (await owner.get<Record<string, unknown> & { version: number }>('/api/v1/settings')).body;
  const put = (more: object) =>
    owner.put<Fault>('/api/v1/settings/terms', {
      noticeWeeks: 2,
      lowEarning: '2.00',
      feePercent: '0',
      feeFixed: '0',
      referralPercent: '',
      referralOf: 'commission',
      referralMonths: '',
      version: settings.version,
      ...more,
    });
  expect((await put({ referralPercent: '71', referralOf: 'sale' })).body.errors[0]).toMatchObject({
    pointer: '/referralPercent',
    detail: expect.stringContaining('could come to 101 %'),
  });
  expect((await put({ referralPercent: '5', referralOf: 'sale', referralMonths: '6' })).status).toBe(200);
  expect(
    (await bo.client.get<{ referral: { address: string; said: string } }>('/api/v1/portal/home')).body
      .referral,
  ).toMatchObject({
    address: expect.stringMatching(/\/join\?by=bo$/),
    said: expect.stringContaining('5 % of each sale'),
  });
  const { cem, application } = await cemJoins();
  const referral = async () =>
    (await owner.get<Referral & { waitsFor: string | null }>(`/api/v1/affiliates/${cem}/referral`)).body;
  expect(await referral()).toMatchObject({ by: null, waitsFor: 'Mara' });
  process.env.GRAVENEL_UNDO_SECONDS = '10';
  const decide = () =>
    owner.post('/api/v1/applications/decide', {
      ids: [application],
      decision: 'approve',
      timing: 'at-sale',
      reason: '',
      message: true,
    });
  await decide();
  expect((await referral()).by).toMatchObject({ name: 'Mara', percent: '5', of: 'sale' });
  await owner.post('/api/v1/applications/reopen', { ids: [application] });
  expect((await referral()).by).toBeNull();
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  await decide();
  expect((await referral()).by).toMatchObject({ name: 'Mara' });
  const before = await sell('100.00', {
    link: (code) =>
      Promise.resolve(
        `/go/${s.app.sqlite.prepare('SELECT l.code FROM links l JOIN products p ON p.id = l.product WHERE l.affiliate = ? AND p.code = ?').pluck().get(cem, code) as string}`,
      ),
  });
  expect(shown(await before.sheet())).toEqual(['referral Mara 500', 'co-owner Ada Birkeland 1625']);
});

describe('paying shares', () => {
  it('they wait for the refund window even where the commission does not, and are paid and stated like commissions', async () => {
    s.days(40);
    clearDue(s.app);
    const open = s.app.sqlite
      .prepare("SELECT sum(cleared) FROM commissions WHERE kind = 'co-owner'")
      .pluck()
      .get() as number;
    expect(open).toBeGreaterThan(10_000);
    s.app.sqlite
      .prepare(
        "UPDATE affiliates SET payee_holder = 'Ada Birkeland', payee_iban = 'GB33BUKB20201555555555', payee_address = 'Fjordgata 3' WHERE id = ?",
      )
      .run(ada.id);
    const run = (
      await owner.post<{
        id: string;
        version: number;
        total: Money;
        payments: { affiliate: string; amount: Money }[];
      }>('/api/v1/payouts', { cutoff: now().slice(0, 10), minimum: '' })
    ).body;
    expect(run.payments.find((p) => p.affiliate === ada.id)!.amount.amount).toBe(open);
    await owner.post(`/api/v1/payouts/${run.id}/approve`, { version: run.version, total: run.total.amount });
    await owner.post(`/api/v1/payouts/${run.id}/send`, { version: run.version + 1 });
    const payment = s.app.sqlite
      .prepare('SELECT id FROM payments WHERE affiliate = ?')
      .pluck()
      .get(ada.id) as string;
    const statement = (await owner.get(`/api/v1/payments/${payment}/statement.csv`)).text;
    expect(statement).toContain('co-owner share');
    const sum = statement
      .split('\r\n')
      .slice(1)
      .filter((l) => l.includes('co-owner share'))
      .reduce((n, l) => n + Math.round(Number(l.split(',')[4]) * 100), 0);
    expect(sum).toBe(open);
    expect(brokenInvariants(s.app.sqlite)).toEqual([]);
  });
  it('the list of sales exports them', async () => {
    const csv = (await owner.get('/api/v1/orders.csv')).text.split('\r\n');
    expect(csv[0]).toContain('referral_share,co_owner_shares');
  });
});

describe('the timeline of terms', () => {
  it('tells of shares with who set them', async () => {
    const rows = (
      await owner.get<{ rows: { kind: string; place: string; what: string; state: string; by: string }[] }>(
        '/api/v1/timeline?limit=200',
      )
    ).body.rows;
    expect(rows.filter((r) => r.kind === 'co-owner')).toMatchObject([
      {
        place: 'Product COURSE',
        what: 'co-owner share 25 % to Ada Birkeland',
        state: 'running',
        by: 'Inês Falcão',
      },
    ]);
    expect(rows.filter((r) => r.kind === 'referral').map((r) => [r.place, r.what, r.state])).toEqual(
      expect.arrayContaining(
        [
          ['Bo, brought in by Mara', 'referral share 10 % of the commission', 'done'],
          ['cem, brought in by Mara', 'referral share 5 % of the sale', 'undone'],
        ].map(([place, ...rest]) => [place!.replace('cem', 'Cem'), ...rest]),
      ),
    );
  });
});

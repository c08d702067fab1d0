import { describe, expect, it } from 'vitest';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import {
  day,
  draft,
  endToEnd,
  finance,
  owner,
  people,
  prepare,
  s,
  sell,
  status,
  step,
  type Fault,
  type Run,
} from './world';

prepare();

describe('what a run refuses', () => {
  it('a cut-off in the future or that is no day, a minimum that is no amount', async () => {
    const post = async (cutoff: string, minimum: string) =>
      (await finance.post<Fault>('/api/v1/payouts', { cutoff, minimum })).body.errors[0];
    expect(await post('2099-01-01', '')).toMatchObject({
      pointer: '/cutoff',
      detail: expect.stringContaining('in the future'),
    });
    expect(await post('2027-02-31x', '')).toMatchObject({ pointer: '/cutoff' });
    expect(await post('2027-02-30', '')).toMatchObject({
      pointer: '/cutoff',
      detail: expect.stringContaining('not a day'),
    });
    expect(await post('2027-99-99', '')).toMatchObject({
      pointer: '/cutoff',
      detail: expect.stringContaining('not a day'),
    });
    expect(await post(day(), '1.234')).toMatchObject({
      pointer: '/minimum',
      detail: expect.stringContaining('at most 2 decimals'),
    });
  });
  it('a second person approves above the limit', async () => {
    const { version } = (await owner.get<{ version: number }>('/api/v1/settings')).body;
    const money = {
      bufferDays: 3,
      clearing: 'automatic',
      minimumPayout: '10.00',
      approvalAbove: '1.00',
      promiseDays: 14,
      debtorName: 'Quernstone Clayworks',
      debtorIban: 'PT50000201231234567890154',
    };
    await owner.put('/api/v1/settings/money', { ...money, version });
    await sell(1, '900.00');
    const run = await draft();
    expect(run.needsSecond).toMatch(/a second person approves/);
    expect((await step(run, 'approve')).status).toBe(403);
    expect((await step(run, 'approve', owner)).body.state).toBe('approved');
  });
  it('a status report that is none', async () => {
    for (const [content, reason] of [
      ['hello', /neither a pain.002 nor a CSV/],
      ['<a><b></a>', /XML is broken in line 1/],
      ['<Document/>', /no payment status report/],
      ['end_to_end_id,status\n', /neither|speaks of no payment/],
    ] as const) {
      const a = await status(content);
      expect(a.status, content).toBe(422);
      expect(a.body.errors[0]).toMatchObject({ pointer: '/content', detail: expect.stringMatching(reason) });
    }
  });
});

describe('clearing', () => {
  it('by a person: only what is due, the rest is named', async () => {
    const held = await s.affiliate('Dee Dunting');
    const link = await held.link('POT-1');
    await s.report('orders', {
      order: 'C-1',
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines: [{ product: 'POT-1', quantity: 1, amount: '100.00' }],
      visit: await s.visit(link),
    });
    const id = s.app.sqlite.prepare('SELECT id FROM commissions WHERE held > 0').pluck().get() as string;
    const clear = async () =>
      (
        await finance.post<{ cleared: number; passed: { why: string }[] }>('/api/v1/commissions/clear', {
          ids: [id],
        })
      ).body;
    expect(await clear()).toMatchObject({ cleared: 0, passed: [{ why: 'its clearing date has not come' }] });
    s.days(18);
    expect(await clear()).toMatchObject({ cleared: 1, passed: [] });
    expect(await clear()).toMatchObject({ cleared: 0, passed: [{ why: 'is cleared' }] });
    expect(
      (await finance.post<{ state: string }>(`/api/v1/commissions/${id}/decline`, { reason: 'Own purchase' }))
        .body.state,
    ).toBe('declined');
    expect(
      (await finance.post<Fault>(`/api/v1/commissions/${id}/decline`, { reason: 'Again' })).body.code,
    ).toBe('conflict');
    expect(
      (
        await finance.post<Fault>(`/api/v1/commissions/${id}/correct`, {
          difference: '1.00',
          reason: 'After all',
        })
      ).body.detail,
    ).toBe('This commission was declined: Own purchase');
    const portal = (await held.client.get<{ rows: { declined: string }[] }>('/api/v1/portal/earnings')).body
      .rows[0]!;
    expect(portal.declined).toBe('Own purchase');
  });
});

it('correcting and giving up: a correction moves the commission, is in its working, and stays within bounds', async () => {
  const reference = await sell(0, '100.00');
  const order = s.app.sqlite
    .prepare('SELECT id FROM orders WHERE reference = ?')
    .pluck()
    .get(reference) as string;
  const id = s.app.sqlite
    .prepare('SELECT id FROM commissions WHERE order_id = ?')
    .pluck()
    .get(order) as string;
  const correct = (difference: string) =>
    finance.post<Fault & { left: { amount: number }; state: string }>(`/api/v1/commissions/${id}/correct`, {
      difference,
      reason: 'The agreed rate was 14 %',
    });
  expect((await correct('4.00')).body).toMatchObject({ state: 'cleared', left: { amount: 1400 } });
  for (const [difference, reason] of [
    ['0', /nothing to correct/],
    ['-14.01', /only €14.00 is left/],
    ['87.00', /exceed the €100.00 left of the order/],
    ['1.234', /at most 2 decimals/],
  ] as const) {
    expect((await correct(difference)).body.errors[0]).toMatchObject({
      pointer: '/difference',
      detail: expect.stringMatching(reason),
    });
  }
  const { working } = (
    await people[0]!.client.get<{
      working: { changes: { what: string; amount: { amount: number } }[]; left: { amount: number } };
    }>(`/api/v1/portal/earnings/${id}`)
  ).body;
  expect(working.changes).toMatchObject([
    { what: 'Corrected by €4.00: The agreed rate was 14 %', amount: { amount: 400 } },
  ]);
  expect(working.left.amount).toBe(1400);
  expect(
    (
      await (
        await s.as('manager')
      ).post(`/api/v1/commissions/${id}/correct`, { difference: '1.00', reason: 'No' })
    ).status,
  ).toBe(403);
});
it('correcting and giving up: a negative balance can be written off, a positive one not', async () => {
  const dee = await s.affiliate('Eva Engobe', { timing: 'at-sale' });
  const link = await dee.link('POT-1');
  await s.report('orders', {
    order: 'G-1',
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'POT-1', quantity: 1, amount: '300.00' }],
    visit: await s.visit(link),
  });
  const give = () =>
    owner.post<Fault & { balances: { cleared: { amount: number } } }>(
      `/api/v1/affiliates/${dee.id}/give-up`,
      { reason: 'Left the programme' },
    );
  expect((await give()).body).toMatchObject({
    code: 'conflict',
    detail: 'The balance is €30.00: only a negative one can be given up',
  });
  const { version } = (await owner.get<{ version: number }>('/api/v1/settings')).body;
  await owner.put('/api/v1/settings/money', {
    bufferDays: 3,
    clearing: 'automatic',
    minimumPayout: '10.00',
    approvalAbove: '',
    promiseDays: 14,
    debtorName: 'Quernstone Clayworks',
    debtorIban: 'PT50000201231234567890154',
    version,
  });
  const open = (await finance.get<{ rows: Run[] }>('/api/v1/payouts')).body.rows.find(
    (r) => r.state === 'approved',
  );
  if (open) await step((await finance.get<Run>(`/api/v1/payouts/${open.id}`)).body, 'send');
  const run = (await step((await step(await draft(), 'approve')).body, 'send')).body;
  await status(
    `end_to_end_id,status\n${endToEnd(run)
      .map((r) => `${r.e},ACSC`)
      .join('\n')}`,
  );
  await s.report('refunds', {
    refund: 'R-G-1',
    order: 'G-1',
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'refund',
    full: true,
  });
  expect((await give()).body.balances.cleared.amount).toBe(0);
  const ledger = (
    await owner.get<{ whole: boolean; accounts: { account: string; balance: { amount: number } }[] }>(
      '/api/v1/ledger',
    )
  ).body;
  expect(ledger.whole).toBe(true);
  expect(ledger.accounts.find((a) => a.account === 'write-off')!.balance.amount).toBe(3000);
});

it('leaves every invariant whole', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

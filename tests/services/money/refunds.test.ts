import { describe, expect, it } from 'vitest';
import type { TodayOut } from '../../../src/contract/lookback/today';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import {
  draft,
  endToEnd,
  finance,
  now,
  one,
  owner,
  prepare,
  s,
  sell,
  sent,
  serial,
  status,
  step,
  type Fault,
  type Run,
} from './world';

prepare();

it('a declined commission: is not paid again when a payment of it comes back, and declining again is a sentence', async () => {
  const { id } = await sell();
  const run = await sent();
  const [e] = endToEnd(run.id);
  await status(`end_to_end_id,status\n${e},ACSC\n`);
  await finance.post(`/api/v1/commissions/${id}/correct`, {
    difference: '5.00',
    reason: 'The agreed rate was 15 %',
  });
  expect((await finance.post(`/api/v1/commissions/${id}/decline`, { reason: 'Own purchase' })).status).toBe(
    200,
  );
  expect((await status(`end_to_end_id,status,reason\n${e},RJCT,AC04\n`)).body.returned).toBe(1);
  expect(
    one<object>('SELECT held, cleared, paid, state, declined_amount FROM commissions WHERE id = ?', id),
  ).toEqual({ held: 0, cleared: 0, paid: 0, state: 'declined', declined_amount: 1500 });
  const again = await finance.post<Fault>(`/api/v1/commissions/${id}/decline`, { reason: 'Own purchase' });
  expect([again.status, again.body.detail]).toEqual([
    409,
    'Nothing is left to decline: the commission is declined',
  ]);
  const next = await draft();
  expect(next.payments).toEqual([]);
  await step(next, 'discard');
  await deliverWaiting(s.app);
  const mails = (await owner.get<{ subject: string; body: string }[]>(`${s.standins}/mailroom/messages.json`))
    .body;
  expect(mails.find((m) => m.subject.includes('was returned'))!.body).toContain(
    'Of it €10.00 was declined meanwhile',
  );
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});
it('a declined commission: takes the share of the one who brought the affiliate in along, also where it is on its way', async () => {
  const bo = await s.affiliate('Bo Brought', { timing: 'at-sale' });
  const ann = one<{ id: string }>("SELECT id FROM affiliates WHERE name = 'Ann Ash'").id;
  await owner.put(`/api/v1/affiliates/${bo.id}/referral`, {
    by: ann,
    percent: '10',
    of: 'commission',
    months: '',
  });
  const { id, order } = await sell('100.00', { visit: await s.visit(await bo.link('POT-1')) });
  const share = one<{ id: string }>(
    "SELECT id FROM commissions WHERE order_id = ? AND kind = 'referral'",
    order,
  ).id;
  s.days(4);
  await finance.post('/api/v1/commissions/clear', { ids: [share] });
  s.app.sqlite.prepare('UPDATE commissions SET clears_at = ? WHERE id = ?').run(s.app.clock.now() + 1e9, id);
  const only = await draft();
  const without = (
    await finance.post<Run>(`/api/v1/payouts/${only.id}/exclude`, {
      affiliate: bo.id,
      exclude: true,
      version: only.version,
    })
  ).body;
  const run = (await step((await step(without, 'approve')).body, 'send')).body;
  expect((await finance.post(`/api/v1/commissions/${id}/decline`, { reason: 'Own purchase' })).status).toBe(
    200,
  );
  await status(
    `end_to_end_id,status,reason\n${endToEnd(run.id)
      .map((e) => `${e},RJCT,AC04`)
      .join('\n')}\n`,
  );
  expect(one<object>('SELECT cleared, in_run, state FROM commissions WHERE id = ?', share)).toEqual({
    cleared: 0,
    in_run: 0,
    state: 'declined',
  });
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

describe('share reversed', () => {
  it('counts commissions alone, as what is granted is', async () => {
    const before = (await owner.get<TodayOut>('/api/v1/today')).body.performance!.week;
    const bo = one<{ id: string }>("SELECT id FROM affiliates WHERE name = 'Bo Brought'");
    const code = one<{ code: string }>('SELECT code FROM links WHERE affiliate = ?', bo.id).code;
    const { id } = await sell('100.00', { visit: await s.visit(`${s.address}/go/${code}`) });
    await finance.post(`/api/v1/commissions/${id}/decline`, { reason: 'Own purchase' });
    const after = (await owner.get<TodayOut>('/api/v1/today')).body.performance!.week;
    expect([after.granted - before.granted, after.reversed - before.reversed]).toEqual([1000, 1000]);
  });
});

/** A subscription’s order, its first renewal and a lead, all under one reference. */
async function underOneReference(): Promise<void> {
  await s.product('BOX-1', {
    kind: 'recurring',
    price: '20.00',
    renewalPrice: '20.00',
    rewardKind: 'percent',
    reward: '50',
    renewalRewardKind: 'percent',
    renewalReward: '10',
    refundDays: 14,
  });
  const code = one<{ code: string }>(
    "SELECT l.code FROM links l JOIN products p ON p.id = l.product WHERE p.code = 'BOX-1' LIMIT 1",
  ).code;
  const visit = await s.visit(`${s.address}/go/${code}`);
  const at = now();
  await s.report('leads', { lead: 'R-1', product: 'POT-1', at, visit });
  const line = [{ product: 'BOX-1', quantity: 1, amount: '20.00' }];
  expect(
    (
      await s.report('orders', {
        order: 'R-1',
        placedAt: at,
        currency: 'EUR',
        lines: line,
        visit,
        subscription: 'SUB-R1',
      })
    ).status,
  ).toBe(201);
  // a renewal whose shop clock is behind: placed before the order it belongs to, and confirmed by a person
  expect(
    (
      await s.report('renewals', {
        subscription: 'SUB-R1',
        payment: 'R-1-2',
        number: 2,
        placedAt: new Date(s.app.clock.now() - 3_600_000).toISOString(),
        currency: 'EUR',
        lines: line,
      })
    ).status,
  ).toBe(201);
  const { rows } = (
    await owner.get<{ rows: { id: string; payment: string }[] }>('/api/v1/unconfirmed?state=open')
  ).body;
  const { id } = rows.find((r) => r.payment === 'R-1-2')!;
  expect((await owner.post(`/api/v1/unconfirmed/${id}/confirm`)).status).toBe(200);
}

it('a refund: takes the order, never a lead or a later payment of the same reference', async () => {
  await underOneReference();
  const giveBack = async (refund: string, payment?: string) =>
    (
      await s.report('refunds', {
        refund,
        order: 'R-1',
        ...(payment === undefined ? {} : { payment }),
        at: now(),
        kind: 'refund',
        full: true,
      })
    ).status;
  expect(await giveBack('RR-1')).toBe(201);
  const left = (payment: string) =>
    one<{ n: number }>(
      'SELECT sum(value_left) n FROM order_lines l JOIN orders o ON o.id = l.order_id WHERE o.payment = ?',
      payment,
    ).n;
  expect([left('R-1'), left('R-1-2')]).toEqual([0, 2000]);
  expect(await giveBack('RR-2', 'R-1-2')).toBe(201);
  expect(left('R-1-2')).toBe(0);
  expect(await giveBack('RR-3', 'lead R-1')).toBe(422);
});
it('a refund: leaves a correction in the working, which still adds up', async () => {
  const { id, order } = await sell();
  await finance.post(`/api/v1/commissions/${id}/correct`, {
    difference: '2.50',
    reason: 'The agreed rate was 12.5 %',
  });
  await s.report('refunds', {
    refund: `RC-${serial}`,
    order: `M-${serial}`,
    at: now(),
    kind: 'refund',
    full: true,
  });
  const { working } = (
    await owner.get<{
      working: {
        total: { amount: number };
        left: { amount: number };
        changes: { what: string; amount: { amount: number } }[];
      };
    }>(`/api/v1/orders/${order}`)
  ).body;
  expect(working.changes.map((c) => [c.what.split(':')[0], c.amount.amount])).toEqual([
    ['Corrected by €2.50', 250],
    [`Refund RC-${serial}`, -1250],
  ]);
  expect(working.total.amount + working.changes.reduce((sum, c) => sum + c.amount.amount, 0)).toBe(
    working.left.amount,
  );
});

const pain002 = (message: string, lines: string) =>
  `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.10"><CstmrPmtStsRpt><GrpHdr><MsgId>S</MsgId></GrpHdr><OrgnlGrpInfAndSts><OrgnlMsgId>${message}</OrgnlMsgId><OrgnlMsgNmId>pain.001.001.09</OrgnlMsgNmId></OrgnlGrpInfAndSts><OrgnlPmtInfAndSts><OrgnlPmtInfId>P</OrgnlPmtInfId>${lines}</OrgnlPmtInfAndSts></CstmrPmtStsRpt></Document>`;
const line = (e: string, amount: string, currency = 'EUR') =>
  `<TxInfAndSts><OrgnlEndToEndId>${e}</OrgnlEndToEndId><TxSts>ACSC</TxSts><OrgnlTxRef><Amt><InstdAmt Ccy="${currency}">${amount}</InstdAmt></Amt></OrgnlTxRef></TxInfAndSts>`;
it('a status report: for another file, another currency or another amount changes nothing and says so', async () => {
  await sell('100.00');
  const run = await sent();
  const [e] = endToEnd(run.id);
  const id = /<MsgId>(.*?)<\/MsgId>/.exec(
    (await finance.get(`/api/v1/payouts/${run.id}/file.xml`)).text,
  )![1]!;
  const total = (run.total.amount / 100).toFixed(2);
  const none = await status(pain002('GVN-999-20270312-abcdefg', line(e!, total)));
  expect([none.status, none.body.detail]).toEqual([
    422,
    expect.stringContaining('GVN-999-20270312-abcdefg, which was not sent from here'),
  ]);
  expect((await status(pain002('', line(e!, total)))).body.detail).toContain(
    'does not say which file it answers',
  );
  const other = one<{ number: number; id: string; file: string }>(
    "SELECT number, id, file FROM runs WHERE state = 'settled' LIMIT 1",
  );
  const mixed = await status(pain002(/<MsgId>(.*?)<\/MsgId>/.exec(other.file)![1]!, line(e!, total)));
  expect(mixed.body).toMatchObject({
    settled: 0,
    unknown: [`${e}: it is a payment of another run than the one this report answers`],
  });
  expect((await status(pain002(id, line(e!, total, 'USD')))).body.unknown[0]).toContain(
    'names the currency USD, the payment is in EUR',
  );
  expect((await status(pain002(id, line(e!, '0.01')))).body.unknown[0]).toContain(
    'names another amount, 0.01',
  );
  expect(
    (await status(`end_to_end_id,status,amount,currency\n${e},ACSC,${total},GBP\n`)).body.unknown[0],
  ).toContain('names the currency GBP');
  expect((await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body.state).toBe('sent');
  expect((await status(pain002(id, line(e!, total)))).body).toMatchObject({ settled: 1, unknown: [] });
  expect((await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body.state).toBe('settled');
});
it('a status report: of 60,000 lines is read by pieces, and others are answered meanwhile', async () => {
  await sell('100.00');
  const run = await sent();
  const [e] = endToEnd(run.id);
  const content = `end_to_end_id,status\n${Array.from({ length: 60_000 }, (_, n) => (n === 59_999 ? `${e},ACSC` : `GVN-NOBODY-${n},ACSC`)).join('\n')}\n`;
  let done = false;
  const reading = status(content, 'long.csv').then((a) => {
    done = true;
    return a;
  });
  let answered = 0;
  while (!done) {
    expect((await s.report('orders', 'x')).status).toBe(400);
    if (!done) answered += 1;
  }
  expect(answered, 'reports answered while it was read').toBeGreaterThan(5);
  const read = (await reading).body;
  expect(read).toMatchObject({ settled: 1, said: '60000 lines read: 1 settled, 59999 not understood' });
  expect(read.unknown).toHaveLength(101);
});

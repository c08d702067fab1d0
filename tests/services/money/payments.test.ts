import { describe, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { day, draft, finance, link, now, one, owner, prepare, s, sell, step, type Fault } from './world';

prepare();

describe('payments of one order', () => {
  it('earn a flat reward per order once, with the first', async () => {
    await s.product('FLAT-1', { price: '90.00', rewardKind: 'flat', reward: '6.00' });
    const visit = await s.visit(
      `${s.address}/go/${one<{ code: string }>("SELECT l.code FROM links l JOIN products p ON p.id = l.product WHERE p.code = 'FLAT-1' LIMIT 1").code}`,
    );
    const placedAt = now();
    const pay = async (payment: string) =>
      (
        await s.report<{ commissions: { amount: { value: string } }[]; reason: string }>('orders', {
          order: 'F-1',
          payment,
          placedAt,
          currency: 'EUR',
          lines: [{ product: 'FLAT-1', quantity: 1, amount: '30.00' }],
          visit,
        })
      ).body;
    expect((await pay('F-1-1')).commissions[0]!.amount.value).toBe('6.00');
    const second = await pay('F-1-2');
    expect([second.commissions, second.reason]).toEqual([
      [],
      expect.stringContaining('a flat reward per order is earned once, with the first payment'),
    ]);
    expect((await pay('F-1-1')).commissions[0]!.amount.value).toBe('6.00');
  });
});

describe('a renewal', () => {
  it('earns where the shop’s clock was behind at the first sale', async () => {
    await s.product('BEHIND-1', {
      kind: 'recurring',
      price: '20.00',
      renewalPrice: '20.00',
      rewardKind: 'percent',
      reward: '50',
      renewalRewardKind: 'percent',
      renewalReward: '10',
    });
    const cy = await s.affiliate('Cy Clock');
    const visit = await s.visit(await cy.link('BEHIND-1'));
    const lines = [{ product: 'BEHIND-1', quantity: 1, amount: '20.00' }];
    const first = await s.report('orders', {
      order: 'BH-1',
      placedAt: new Date(s.app.clock.now() - 3_600_000).toISOString(),
      currency: 'EUR',
      lines,
      visit,
      subscription: 'SUB-BH',
    });
    expect(first.body.commissions[0]!.amount.value).toBe('10.00');
    const next = await s.report('renewals', {
      subscription: 'SUB-BH',
      payment: 'BH-1-2',
      number: 2,
      placedAt: now(),
      currency: 'EUR',
      lines,
    });
    expect(next.body.commissions[0]!.amount.value).toBe('2.00');
  });
});

describe('amounts beyond what a figure can hold', () => {
  it('are a sentence at the field, never a 500', async () => {
    const huge = Array.from({ length: 200 }, () => ({
      product: 'POT-1',
      quantity: 1,
      amount: '9999999999.00',
    }));
    const order = await s.report('orders', {
      order: 'H-1',
      placedAt: now(),
      currency: 'EUR',
      lines: huge,
      visit: await s.visit(link),
    });
    expect([order.status, order.body.errors]).toEqual([
      422,
      [
        expect.objectContaining({
          pointer: '/lines',
          detail: expect.stringContaining('more than the 10000000000.00 EUR that one order can be'),
        }),
      ],
    ]);
    await owner.put('/api/v1/settings/exchange', { currency: 'JPY', day: day(), rate: '0.000001' });
    const yen = await s.report('orders', {
      order: 'H-2',
      placedAt: now(),
      currency: 'JPY',
      lines: [{ product: 'POT-1', quantity: 1, amount: '9999999999' }],
      visit: await s.visit(link),
    });
    expect([yen.status, yen.body.detail]).toEqual([
      422,
      expect.stringContaining('is the exchange rate of JPY right?'),
    ]);
    await owner.put('/api/v1/settings/exchange', { currency: 'JPY', day: day(), rate: '160' });
    const renewal = await s.report('renewals', {
      subscription: 'SUB-BH',
      payment: 'BH-1-3',
      number: 3,
      placedAt: now(),
      currency: 'EUR',
      lines: huge.map((l) => ({ ...l, product: 'BEHIND-1' })),
    });
    expect([renewal.status, renewal.body.errors[0]!.pointer]).toEqual([422, '/lines']);
  });
  it('that stood in the data before are said too', async () => {
    const { id } = await sell();
    s.app.sqlite.prepare('UPDATE commissions SET granted = 9007199254740993 WHERE id = ?').run(id);
    const ann = one<{ affiliate: string }>('SELECT affiliate FROM commissions WHERE id = ?', id).affiliate;
    expect((await owner.get(`/api/v1/affiliates/${ann}`)).status).not.toBe(500);
    expect((await owner.get('/api/v1/today')).status).not.toBe(500);
    s.app.sqlite.prepare('UPDATE commissions SET granted = 1000 WHERE id = ?').run(id);
  });
});

describe('the second approval', () => {
  const settings = async () => (await owner.get<Record<string, string | number>>('/api/v1/settings')).body;
  const put = async (as: Client, approvalAbove: string) => {
    const { bufferDays, clearing, minimumPayout, promiseDays, debtorName, debtorIban, version } =
      await settings();
    return as.put<Fault>('/api/v1/settings/money', {
      bufferDays,
      clearing,
      minimumPayout,
      promiseDays,
      debtorName,
      debtorIban,
      version,
      approvalAbove,
    });
  };
  it('is the owner’s to change, told to every owner, and a run keeps the strictest since it was drafted', async () => {
    expect((await put(owner, '5.00')).status).toBe(200);
    await sell('500.00');
    const run = await draft();
    const refused = await put(finance, '');
    expect([refused.status, refused.body.errors[0]!.pointer]).toEqual([403, '/approvalAbove']);
    expect((await put(finance, '5.00')).status).toBe(200);
    expect((await put(owner, '')).status).toBe(200);
    const tried = await step(run, 'approve');
    expect([tried.status, tried.body.detail]).toEqual([
      403,
      expect.stringContaining('Above €5.00 a second person approves'),
    ]);
    await deliverWaiting(s.app);
    const mails = (
      await owner.get<{ to: string; subject: string; body: string }[]>(`${s.standins}/mailroom/messages.json`)
    ).body.filter((m) => m.subject.includes('second approval'));
    expect(mails.map((m) => m.to)).toEqual(['owner@quernstone.example', 'owner@quernstone.example']);
    expect(mails.some((m) => m.body.includes('above €5.00 before, never from now on'))).toBe(true);
    await step(run, 'discard');
    await put(owner, '900.00');
    const later = await draft();
    await put(owner, '2.00');
    await put(owner, '900.00');
    expect((await step(later, 'approve')).status).toBe(403);
    await step(later, 'discard');
    await put(owner, '');
  });
});

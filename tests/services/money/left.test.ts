import { describe, expect, it } from 'vitest';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
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
  status,
  type Fault,
} from './world';

prepare();

let refunds = 0;
const giveBack = async (order: string, amount: string) => {
  refunds += 1;
  const { reference } = one<{ reference: string }>('SELECT reference FROM orders WHERE id = ?', order);
  const sent = await s.report<Fault>('refunds', {
    ...{ refund: `L-${refunds}`, order: reference, at: now(), kind: 'refund' },
    lines: [{ product: 'POT-1', amount }],
  });
  expect(sent.status, sent.text).toBe(201);
};
const correct = (id: string, difference: string) =>
  owner.post<Fault>(`/api/v1/commissions/${id}/correct`, { difference, reason: 'As agreed' });
const left = (id: string) =>
  one<{ n: number }>('SELECT held + cleared + in_run + paid AS n FROM commissions WHERE id = ?', id).n;
const holds = () => expect(brokenInvariants(s.app.sqlite)).toEqual([]);

describe('a correction has no more room than what is left of the sale', () => {
  it('when it is made after refunds', async () => {
    const sale = await sell('100.00');
    await giveBack(sale.order, '99.00');
    expect(left(sale.id)).toBe(10);
    const much = await correct(sale.id, '30.00');
    expect([much.status, much.body.detail]).toEqual([
      422,
      expect.stringContaining('exceed the €1.00 left of the order'),
    ]);
    expect((await correct(sale.id, '0.90')).status).toBe(200);
    expect(left(sale.id)).toBe(100);
    await giveBack(sale.order, '1.00');
    expect(left(sale.id)).toBe(0);
    expect((await correct(sale.id, '50.00')).status).toBe(422);
    holds();
  });

  it('and at every refund after it', async () => {
    const sale = await sell('100.00');
    expect((await correct(sale.id, '30.00')).status).toBe(200);
    await giveBack(sale.order, '50.00');
    // 5.00 by the rates, 30.00 corrected, 50.00 left of the sale
    expect(left(sale.id)).toBe(3_500);
    await giveBack(sale.order, '49.00');
    // 0.10 by the rates, and 1.00 left of the sale
    expect(left(sale.id)).toBe(100);
    holds();
  });
});

describe('a balance that was written off', () => {
  it('has its write-off taken back when the payment that caused it is returned: nothing is paid twice', async () => {
    const sale = await sell('100.00');
    const run = await sent();
    const [payment] = endToEnd(run.id);
    const paid = await status(`end_to_end_id,status,reason\n${payment},ACSC,\n`);
    expect(paid.body.settled).toBe(1);
    await giveBack(sale.order, '100.00');
    const who = one<{ affiliate: string }>(
      'SELECT affiliate FROM commissions WHERE id = ?',
      sale.id,
    ).affiliate;
    const given = await owner.post<Fault>(`/api/v1/affiliates/${who}/give-up`, { reason: 'Small' });
    expect(given.status, given.text).toBe(200);
    const row = () =>
      one<{ cleared: number; paid: number; givenUp: number }>(
        'SELECT cleared, paid, given_up AS givenUp FROM commissions WHERE id = ?',
        sale.id,
      );
    expect(row()).toEqual({ cleared: 0, paid: 1_000, givenUp: 1_000 });
    await status(`end_to_end_id,status,reason\n${payment},RJCT,AC04\n`);
    expect(row()).toEqual({ cleared: 0, paid: 0, givenUp: 0 });
    // the rest of what came back is paid again, and the refunded sale is not
    expect((await draft(finance)).total.amount).toBe(run.total.amount - 1_000);
    holds();
  });
});

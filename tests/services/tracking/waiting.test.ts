import { expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { listUnconfirmed } from '../../../src/contract/track/unconfirmed';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { forgetPictured } from '../../../src/server/track/orders/pictured';
import { answer, now, prepare, s } from './world';

prepare();

const day = 86_400_000;
const plan = { kind: 'instalments', instalments: 3, price: '300.00', reward: '20' };
const rates = { renewalRewardKind: 'percent', renewalReward: '20' };
const waiting = async (state = 'open') =>
  (await (await s.as('manager')).get<ReplyOf<typeof listUnconfirmed>>(`/api/v1/unconfirmed?state=${state}`))
    .body.rows;
const decide = async (payment: string, what: 'confirm' | 'set-aside') => {
  const { id } = (await waiting()).find((r) => r.payment === payment)!;
  const body = what === 'confirm' ? undefined : { note: 'Reported by mistake' };
  return (await s.as('manager')).post<{ order: string }>(`/api/v1/unconfirmed/${id}/${what}`, body);
};
const granted = (payment: string) =>
  s.app.sqlite
    .prepare(
      'SELECT coalesce(sum(c.granted), 0) FROM orders o LEFT JOIN commissions c ON c.order_id = o.id WHERE o.payment = ?',
    )
    .pluck()
    .get(payment);

/** Begins a plan of instalments for an affiliate. @returns a report of a further payment */
async function begin(order: string, { by, amount = '100.00' }: { by: string; amount?: string }) {
  const visit = await s.visit(await (await s.affiliate(by)).link('KILN-3'));
  const lines = [{ product: 'KILN-3', quantity: 1, amount }];
  const first = { order, placedAt: now(), currency: 'EUR', lines, visit, subscription: `SUB-${order}` };
  expect((await answer(s.report('orders', first))).status).toBe(201);
  return (number: number, more: object = {}) =>
    answer(
      s.report('renewals', {
        ...{ subscription: `SUB-${order}`, payment: `${order}-${number}`, number, placedAt: now() },
        ...{ currency: 'EUR', lines, ...more },
      }),
    );
}

it('a payment that was not agreed earns nothing until a person confirms it; then it earns as any other', async () => {
  await s.product('KILN-3', { ...plan, ...rates });
  const pay = await begin('W1', { by: 'Patient Pia' });
  expect((await pay(2)).commissions[0]!.amount.value).toBe('20.00');
  await pay(3);
  const at = now();
  const fourth = await pay(4, { placedAt: at });
  expect(fourth).toMatchObject({ status: 201, outcome: 'recorded', commissions: [], credited: null });
  expect(fourth.warnings![0]!.detail).toBe('Payment 4 of 3: the product is paid in 3 instalments');
  expect(await pay(4, { placedAt: at })).toMatchObject({ status: 200, outcome: 'already-recorded' });
  const less = [{ product: 'KILN-3', quantity: 1, amount: '90.00' }];
  expect((await pay(4, { placedAt: at, lines: less })).status).toBe(409);
  expect((await waiting())[0]).toMatchObject({
    ...{ reference: 'W1', payment: 'W1-4', affiliate: 'Patient Pia', signed: true },
    misfit: 'Payment 4 of 3: the product is paid in 3 instalments',
  });
  expect(granted('W1-4')).toBe(0);
  const twice = await Promise.all([decide('W1-4', 'confirm'), decide('W1-4', 'confirm')]);
  expect(twice.map((r) => r.status).sort()).toEqual([200, 409]);
  expect([granted('W1-4'), (await waiting('confirmed'))[0]!.payment]).toEqual([2_000, 'W1-4']);
  expect((await pay(4, { placedAt: at })).outcome).toBe('already-recorded');
  // no picture had a part in it
  const other = "SELECT other_way FROM orders WHERE payment = 'W1-4'";
  expect(s.app.sqlite.prepare(other).pluck().get()).toBeNull();
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('instalments at the full price, and a payment before the first, wait as well', async () => {
  const pay = await begin('W2', { by: 'Full Fay', amount: '300.00' });
  const full = await pay(2);
  expect(full.reason).toBe('it waits for a person: €300.00 is more than instalment 2 of 3, €100.00');
  expect(full.warnings!.map((w) => w.pointer)).toEqual(['/lines']);
  const early = new Date(s.app.clock.now() - 3 * day).toISOString();
  const lines = [{ product: 'KILN-3', quantity: 1, amount: '100.00' }];
  expect((await pay(3, { placedAt: early, lines })).reason).toContain('before the first payment');
  expect([granted('W2-2'), granted('W2-3')]).toEqual([0, 0]);
});

it('what a person sets aside is never recorded, and is not forgotten; a refund of it is refused', async () => {
  const pay = await begin('W3', { by: 'Aside Abe' });
  const at = now();
  await pay(4, { placedAt: at });
  await decide('W3-4', 'set-aside');
  // also where the product has more instalments since
  s.app.sqlite.exec(
    "UPDATE products SET details = json_set(details, '$.instalments', 6) WHERE code = 'KILN-3'",
  );
  const again = await pay(4, { placedAt: at });
  expect([again.status, again.reason, granted('W3-4')]).toEqual([
    200,
    'a person set it aside: Reported by mistake',
    0,
  ]);
  s.app.sqlite.exec(
    "UPDATE products SET details = json_set(details, '$.instalments', 3) WHERE code = 'KILN-3'",
  );
  const refund = { refund: 'RW', order: 'W2', payment: 'W2-2', at: now(), kind: 'refund', full: true };
  expect((await answer(s.report('refunds', refund))).detail).toContain('waits for a person');
  expect((await decide('W2-2', 'set-aside')).status).toBe(200);
  expect(forgetPictured(s.app, s.app.clock.now() + day)).toBe(0);
  expect((await waiting('set-aside'))[0]!.note).toBe('Reported by mistake');
});

it('a week without an answer stands on Today', async () => {
  s.days(8);
  const today = await (
    await s.as('manager')
  ).get<{ waiting: { kind: string; text: string }[] }>('/api/v1/today');
  expect(today.body.waiting.map((w) => w.text)).toContain('1 sale unconfirmed for 7 days');
});

it('a payment from before its affiliate was blocked earns, however late it is reported; one after it does not', async () => {
  const pay = await begin('W5', { by: 'Blocked Bo' });
  const before = now();
  s.app.clock.advance(60_000);
  const owner = await s.as('owner');
  const id = s.app.sqlite
    .prepare("SELECT id FROM affiliates WHERE name = 'Blocked Bo'")
    .pluck()
    .get() as string;
  const { version } = (await owner.get<{ version: number }>(`/api/v1/affiliates/${id}`)).body;
  const block = { state: 'blocked', reason: 'Bought through its own links', version };
  expect((await owner.post(`/api/v1/affiliates/${id}/state`, block)).status).toBe(200);
  s.days(2);
  expect((await pay(2, { placedAt: before })).commissions[0]!.amount.value).toBe('20.00');
  expect((await pay(3)).commissions).toEqual([]);
});

it('a made-up picture of the same payment does not keep the signed one from waiting', async () => {
  const pay = await begin('W6', { by: 'Pictured Pat' });
  const made = { order: 'W6', payment: 'W6-4', amount: '1.00', currency: 'EUR', product: 'KILN-3' };
  await new Client(s.address).get(`/px/${s.key.id}.gif?${new URLSearchParams(made).toString()}`);
  expect(await pay(4)).toMatchObject({ status: 201, reason: expect.stringContaining('waits for a person') });
  expect((await waiting()).filter((r) => r.payment === 'W6-4').map((r) => r.signed)).toEqual([true]);
});

import { expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { readOrder } from '../../../src/contract/track/sales';
import type { Id } from '../../../src/core/text/id';
import { Seeded } from '../../../src/demo/random';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { clearDue } from '../../../src/server/ledger/journal';
import { answer, now, prepare, s } from './world';

prepare();

const pixel = (query: Record<string, string>) =>
  new Client(s.address).get(`/px/${s.key.id}.gif?${new URLSearchParams(query).toString()}`);

/** A sale of the wheel that a picture reported, and a person confirmed. @returns the id of the sale */
async function confirmed(order: string, amount: string, visit: string): Promise<Id<'order'>> {
  await pixel({ order, amount, currency: 'EUR', product: 'WHEEL-1', visit });
  const manager = await s.as('manager');
  const { rows } = (
    await manager.get<{ rows: { id: string; reference: string }[] }>('/api/v1/unconfirmed?state=open')
  ).body;
  const { id } = rows.find((r) => r.reference === order)!;
  return (await manager.post<{ order: Id<'order'> }>(`/api/v1/unconfirmed/${id}/confirm`)).body.order;
}
const signed = (order: string, visit: string | undefined, lines: object[], more: object = {}) =>
  answer(
    s.report('orders', {
      ...{ order, placedAt: now(), currency: 'EUR', lines },
      ...(visit ? { visit } : {}),
      ...more,
    }),
  );
const wheel = (quantity: number, amount: string) => ({ product: 'WHEEL-1', quantity, amount });
const sheet = async (id: string) =>
  (await (await s.as('viewer')).get<ReplyOf<typeof readOrder>>(`/api/v1/orders/${id}`)).body.row;
const standing = (id: string) =>
  s.app.sqlite
    .prepare(
      "SELECT granted, held, cleared, paid, adjusted FROM commissions WHERE order_id = ? AND kind = 'commission'",
    )
    .get(id);
const told = () =>
  s.app.sqlite.prepare("SELECT subject FROM messages WHERE kind = 'sale-corrected-by-report'").pluck().all();
const sold = () =>
  s.app.sqlite.prepare("SELECT sold FROM products WHERE code = 'WHEEL-1'").pluck().get() as number;
const sound = () => expect(brokenInvariants(s.app.sqlite)).toEqual([]);

it('a signed report with other values counts: lines, value, stock and commission, and the merchant is told', async () => {
  const hal = await s.affiliate('Hasty Hal');
  const visit = await s.visit(await hal.link('WHEEL-1'));
  const before = sold();
  const id = await confirmed('A-1', '199.00', visit);
  expect(standing(id)).toMatchObject({ granted: 2388, held: 2388 });
  const report = await signed('A-1', visit, [wheel(2, '398.00')], { discount: '38.00' });
  expect(report).toMatchObject({
    ...{ status: 201, outcome: 'recorded' },
    commissions: [{ amount: { value: '43.20' }, state: 'held' }],
  });
  expect(standing(id)).toMatchObject({ granted: 4320, held: 4320, adjusted: 0 });
  expect((await sheet(id)).value.amount).toBe(36_000);
  expect([sold() - before, told().length]).toEqual([2, 1]);
  sound();
  // the same report again changes nothing
  expect((await signed('A-1', visit, [wheel(2, '398.00')], { discount: '38.00' })).status).not.toBe(201);
  expect(standing(id)).toMatchObject({ granted: 4320, held: 4320 });
});

it('what was cleared is corrected where it stands, and stays below zero until it is netted', async () => {
  const pia = await s.affiliate('Paid Pia');
  const visit = await s.visit(await pia.link('WHEEL-1'));
  const id = await confirmed('A-2', '597.00', visit);
  s.days(60);
  clearDue(s.app);
  expect(standing(id)).toMatchObject({ granted: 7164, cleared: 7164 });
  await signed('A-2', visit, [wheel(1, '199.00')]);
  expect(standing(id)).toMatchObject({ granted: 2388, cleared: 2388 });
  const entries = s.app.sqlite
    .prepare("SELECT memo FROM entries WHERE order_id = ? AND event = 'corrected-by-report'")
    .pluck()
    .all(id);
  expect(entries).toEqual(['Order A-2, signed report']);
  sound();
});

it('a person’s correction stays as far as the new value has room for it', async () => {
  const coy = await s.affiliate('Corrected Coy');
  const visit = await s.visit(await coy.link('WHEEL-1'));
  const id = await confirmed('A-3', '199.00', visit);
  const owner = await s.as('owner');
  const commission = s.app.sqlite
    .prepare('SELECT id FROM commissions WHERE order_id = ?')
    .pluck()
    .get(id) as string;
  const correction = { difference: '100.00', reason: 'Agreed by phone' };
  expect((await owner.post(`/api/v1/commissions/${commission}/correct`, correction)).status).toBe(200);
  await signed('A-3', visit, [wheel(1, '50.00')]);
  // 6.00 by the rate, and of the 100.00 what the 50.00 leave
  expect(standing(id)).toMatchObject({ granted: 600, held: 5000, adjusted: 4400 });
  sound();
});

it('a sale that nobody was credited for is credited by its report; one that was confirmed for somebody stays there', async () => {
  const [one, two] = [await s.affiliate('First Fay'), await s.affiliate('Second Sam')];
  const id = await confirmed('A-4', '199.00', '');
  expect((await sheet(id)).affiliate).toBeNull();
  await signed('A-4', await s.visit(await one.link('WHEEL-1')), [wheel(1, '199.00')]);
  expect([(await sheet(id)).affiliate, standing(id)]).toMatchObject(['First Fay', { granted: 2388 }]);
  const other = await confirmed('A-5', '199.00', await s.visit(await one.link('WHEEL-1')));
  const report = await signed('A-5', await s.visit(await two.link('WHEEL-1')), [wheel(1, '199.00')]);
  expect(report.warnings?.[0]?.detail).toContain('The sale stays credited to First Fay');
  expect((await sheet(other)).affiliate).toBe('First Fay');
  sound();
});

it('one that was refunded since is refused where it differs, and signed where it does not', async () => {
  const ron = await s.affiliate('Refunded Ron');
  const visit = await s.visit(await ron.link('WHEEL-1'));
  const id = await confirmed('A-6', '199.00', visit);
  await s.report('refunds', { refund: 'RA-6', order: 'A-6', at: now(), kind: 'refund', full: true });
  const differs = await signed('A-6', visit, [wheel(2, '398.00')]);
  expect([differs.status, differs.detail]).toEqual([409, expect.stringContaining('it was refunded since')]);
  expect((await signed('A-6', visit, [wheel(1, '199.00')])).status).toBe(201);
  expect(standing(id)).toMatchObject({ held: 0, cleared: 0 });
  sound();
});

it('a declined sale stays declined with whatever value, and a test does not take the place of a real sale', async () => {
  const dan = await s.affiliate('Declined Dan');
  const visit = await s.visit(await dan.link('WHEEL-1'));
  const id = await confirmed('A-7', '199.00', visit);
  const commission = s.app.sqlite
    .prepare('SELECT id FROM commissions WHERE order_id = ?')
    .pluck()
    .get(id) as string;
  const owner = await s.as('owner');
  const decline = { reason: 'Bought through its own link' };
  expect((await owner.post(`/api/v1/commissions/${commission}/decline`, decline)).status).toBe(200);
  expect((await signed('A-7', visit, [wheel(2, '398.00')], { test: true })).status).toBe(409);
  expect((await signed('A-7', visit, [wheel(2, '398.00')])).status).toBe(201);
  expect(standing(id)).toMatchObject({ granted: 4776, held: 0, cleared: 0 });
  const { granted, declined } = s.app.sqlite
    .prepare('SELECT granted, declined_amount AS declined FROM commissions WHERE id = ?')
    .get(commission) as { granted: number; declined: number };
  expect(declined).toBe(granted);
  sound();
});

it('shares, coupons and further lines follow, whatever the values: what is left is what the report alone would give', async () => {
  const owner = await s.as('owner');
  const [bea, ned, olga] = [
    await s.affiliate('Bringing Bea'),
    await s.affiliate('New Ned'),
    await s.affiliate('Owning Olga'),
  ];
  s.days(40);
  const referral = { by: bea.id, percent: '20', of: 'commission', months: '' };
  expect((await owner.put(`/api/v1/affiliates/${ned.id}/referral`, referral)).status).toBe(200);
  const product = s.app.sqlite
    .prepare("SELECT id FROM products WHERE code = 'WHEEL-1'")
    .pluck()
    .get() as string;
  const shares = { owners: [{ payee: olga.id, percent: '30' }], expects: [] };
  expect((await owner.put(`/api/v1/products/${product}/co-owners`, shares)).status).toBe(200);
  const left = (reference: string) =>
    s.app.sqlite
      .prepare(
        'SELECT c.kind, c.granted, c.held + c.cleared AS left FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = ? ORDER BY c.kind',
      )
      .all(reference);
  const random = new Seeded(7);
  for (let n = 0; n < 12; n += 1) {
    const visit = await s.visit(await ned.link('WHEEL-1'));
    await confirmed(`P-${n}`, (random.whole(1, 40_000) / 100).toFixed(2), visit);
    const apron = { product: 'APRON-1', quantity: 1, amount: '46.00' };
    const lines = [
      wheel(random.whole(1, 3), (random.whole(1, 60_000) / 100).toFixed(2)),
      ...(random.chance(0.5) ? [apron] : []),
    ];
    const more = random.chance(0.5) ? { coupon: 'SPRING' } : {};
    expect((await signed(`P-${n}`, visit, lines, more)).status).toBe(201);
    expect((await signed(`Q-${n}`, visit, lines, more)).status).toBe(201);
    expect(left(`P-${n}`)).toEqual(left(`Q-${n}`));
  }
  sound();
});

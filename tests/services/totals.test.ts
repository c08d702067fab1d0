import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { checkTotals } from '../../src/server/jobs/totals';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { rebuildTotals, totalChecks } from '../../src/server/totals/checks';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
beforeAll(async () => {
  s = await startServer();
  await s.product('WHEEL-1');
  const affiliate = await s.affiliate('Loam Letters', { timing: 'at-sale' });
  const visit = await s.visit(await affiliate.link('WHEEL-1'));
  const line = (amount: string, discount = '0.00') => ({ product: 'WHEEL-1', quantity: 1, amount, discount });
  const order = (reference: string, lines: object[], more = {}) =>
    s.report('orders', {
      order: reference,
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines,
      visit,
      ...more,
    });
  await order('T-1', [line('200.00', '20.00'), line('100.00')]);
  await order('T-2', [line('50.00')]);
  await order('T-3', [line('70.00')], { test: true });
  await s.report('refunds', {
    refund: 'R-1',
    order: 'T-1',
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'refund',
    lines: [{ product: 'WHEEL-1', amount: '200.00' }],
  });
});
afterAll(() => s.close());

// a key without anything is as good as none
const rows = (table: string) =>
  (s.app.sqlite.prepare(`SELECT * FROM ${table} ORDER BY 1, 2`).all() as Record<string, number>[]).filter(
    (r) => Object.values(r).some((v, i) => i > 0 && typeof v === 'number' && v !== 0),
  );

describe('totals', () => {
  it('an order with two lines of a product is one order, a test order none, what is given back counted once', () => {
    expect(rows('product_days')).toMatchObject([{ sold: 2, credited: 2, refunded: 1, weight: 33_000 }]);
    expect(rows('sale_days')).toMatchObject([{ orders: 2, value: 33_000 }]);
    expect(rows('sale_days')[0]!.reversed).toBeGreaterThan(0);
  });
  it.each([
    ['payee_totals', 'UPDATE payee_totals SET cleared = cleared + 1'],
    ['clearing_quarters', 'DELETE FROM clearing_quarters'],
    ['sale_days', 'UPDATE sale_days SET reversed = 0'],
    [
      'product_days',
      "INSERT INTO product_days VALUES ('prd_none', '2027-01-01', 1, 0, 0, 0, 0, 0, 0, 0, 0, 0)",
    ],
    ['account_totals', 'UPDATE account_totals SET amount = 0'],
    ['last_clicks', 'UPDATE last_clicks SET day = day - 1'],
    ['creative_days', "INSERT INTO creative_days VALUES ('crt_none', 1, 'aff_none', 3, 0, 0, 0, 0, 0, 0, 0)"],
    ['coupon_days', "INSERT INTO coupon_days VALUES ('cpn_none', 1, 3, 0, 0, 0, 0, 0, 0, 0)"],
    ['step_totals', "INSERT INTO step_totals VALUES ('stp_none', 3, 3, 0, 0)"],
  ])('%s found wrong is named and made anew', (table, spoil) => {
    const right = rows(table);
    s.app.sqlite.exec(spoil);
    expect(brokenInvariants(s.app.sqlite).map((b) => b.rule)).toEqual([`${table} is the sum of its rows`]);
    expect(rebuildTotals(s.app.sqlite).map((t) => t.table)).toEqual([table]);
    expect(rows(table)).toEqual(right);
    expect(brokenInvariants(s.app.sqlite)).toEqual([]);
    expect(rebuildTotals(s.app.sqlite)).toEqual([]);
  });
  it('the clock finds one that is wrong, says so on Today and mends it', async () => {
    expect(await checkTotals(s.app)).toEqual([]);
    s.app.sqlite.exec('UPDATE sale_days SET orders = orders + 1');
    expect(await checkTotals(s.app)).toEqual(['sale_days']);
    expect(brokenInvariants(s.app.sqlite)).toEqual([]);
    const owner = await s.as('owner');
    expect(
      (await owner.get<{ waiting: { kind: string; more: string }[] }>('/api/v1/today')).body.waiting,
    ).toContainEqual(
      expect.objectContaining({
        kind: 'faults',
        more: expect.stringContaining('totals of sale_days') as string,
      }),
    );
  });
  it('every total is checked', () => {
    const tables = s.app.sqlite
      .prepare("SELECT DISTINCT tbl_name FROM sqlite_master WHERE type = 'trigger'")
      .pluck()
      .all() as string[];
    expect(totalChecks).toHaveLength(9);
    expect(tables).toEqual(
      expect.arrayContaining(['commissions', 'orders', 'refunds', 'order_lines', 'entry_lines', 'visits']),
    );
  });
});

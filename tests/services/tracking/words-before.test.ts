import { expect, it } from 'vitest';
import type { KeptCredit } from '../../../src/core/attribution/credit';
import { describeCredit, describeVisit } from '../../../src/core/attribution/reason';
import { presentLines } from '../../../src/core/terms/present';
import { describeLineReason, describeRateReason } from '../../../src/core/terms/reason';
import type { Working } from '../../../src/core/terms/working';
import { keptFrom } from '../../../src/core/text/kept';
import {
  describeOrder,
  describeOtherWay,
  type OrderReason,
  type OtherWay,
} from '../../../src/core/tracking/reason';
import { answer, link, now, order, prepare, s } from './world';

prepare();

interface Stored {
  id: string;
  reason: string;
  other_way: string | null;
  credit: string;
  working: string | null;
}

const nameOf = (id: string): string =>
  s.app.sqlite.prepare('SELECT name FROM affiliates WHERE id = ?').pluck().get(id) as string;

/** A credit as it was stored when reasons were words. */
function creditBefore(credit: KeptCredit): KeptCredit {
  return {
    ...credit,
    reason: describeCredit(credit.reason, nameOf),
    considered: credit.considered.map((c) => ({ ...c, outcome: describeVisit(c.outcome) })),
  };
}

/** A working as it was stored then: with what is said of a rung that has nothing as well. */
function workingBefore(working: Working): Working {
  const presented = presentLines(working);
  return {
    ...working,
    lines: working.lines.map((line, i) => ({
      ...line,
      reason: line.reason === null ? null : describeLineReason(line.reason),
      rungs: line.rungs.map((rung, at) => ({
        rung: rung.rung,
        considered: rung.considered.map((c) => ({
          ...c,
          why: describeRateReason(c.why, c.rate, working.base),
        })),
        remark: rung.considered.length ? null : presented[i]!.rungs[at]!.rows[0]!.text,
      })),
    })),
  };
}

/** Stores all sales as they were stored when reasons were words. @returns how many there are */
function storeAsBefore(): number {
  const rows = s.app.sqlite.prepare<[], Stored>('SELECT * FROM orders').all();
  const put = s.app.sqlite.prepare(
    'UPDATE orders SET reason = ?, other_way = ?, credit = ?, working = ? WHERE id = ?',
  );
  for (const row of rows)
    put.run(
      describeOrder(keptFrom<OrderReason>(row.reason), nameOf),
      row.other_way && describeOtherWay(keptFrom<OtherWay>(row.other_way)),
      JSON.stringify(creditBefore(JSON.parse(row.credit) as KeptCredit)),
      row.working && JSON.stringify(workingBefore(JSON.parse(row.working) as Working)),
      row.id,
    );
  return rows.length;
}

/** A sale that earns, one that nobody is credited for, one that earns nothing, a test, one that came both ways. */
async function sell(): Promise<void> {
  const visit = await s.visit(link);
  await s.report('orders', order('W-1', { visit, placedAt: now() }));
  await s.report('orders', order('W-2'));
  const lines = [{ product: 'APRON-1', quantity: 1, amount: '0.00' }];
  await s.report('orders', order('W-3', { visit, placedAt: now(), lines }));
  await s.report('orders', order('W-4', { visit, placedAt: now(), test: true }));
  await fetch(`${s.address}/px/${s.key.id}.gif?order=W-1&amount=150.00&currency=EUR&product=WHEEL-1`);
}

it('sales whose reasons were stored as words read as they do by codes: in the list, alone, found and reported again', async () => {
  await sell();
  const owner = await s.as('owner');
  const read = async () => {
    const list = (await owner.get<{ rows: { id: string; reason: string }[] }>('/api/v1/orders')).body;
    const single = [];
    for (const row of list.rows) single.push((await owner.get(`/api/v1/orders/${row.id}`)).body);
    return {
      list,
      single,
      found: (await owner.get('/api/v1/search?q=W-')).body,
    };
  };
  const again = async () => await answer(s.report('orders', order('W-2')));
  const answered = await again();
  const byCodes = await read();
  const said = byCodes.list.rows.map((r) => r.reason).join('\n');
  expect(said).not.toContain('"code"');
  expect(said).toMatch(/visit .* before the order$/m);
  expect(said).toMatch(/carries no visit/);
  expect(said).toMatch(/; no commission: the rate comes to nothing/);
  expect(said).toMatch(/a test order/);
  expect(JSON.stringify(byCodes.single)).toMatch(
    /came by the fallback picture as well, but the amounts differ/,
  );

  expect(storeAsBefore()).toBe(byCodes.list.rows.length);
  const kept = s.app.sqlite.prepare('SELECT group_concat(reason || credit || working) FROM orders').pluck();
  expect(kept.get()).not.toContain('"code"');
  expect(await read()).toEqual(byCodes);
  expect(await again()).toEqual(answered);
});

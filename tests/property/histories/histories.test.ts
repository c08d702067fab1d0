import fc from 'fast-check';
import { expect, it } from 'vitest';
import { runs } from '../../../src/server/ground/tables/runs';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { balancesOf, readBalances } from '../../../src/server/ledger/service';
import { outlineOf } from '../../../src/server/settle/runs/outline';
import { readRun } from '../../../src/server/settle/runs/read';
import { runById } from '../../../src/server/settle/runs/runs';
import { runsOf, seed } from '../../helpers/long';
import { planOf } from '../../helpers/plan';
import { play, succeeded } from './play';
import { begin, steps, type World } from './world';

function checkAll(world: World): void {
  const { app } = world.t;
  expect(brokenInvariants(app.sqlite)).toEqual([]);
  const balances = readBalances(app);
  expect(balances.whole).toBe(true);
  const countOf = (name: string) => balances.accounts.find((a) => a.account === name)!.balance.amount;
  expect(countOf('expense') + countOf('write-off')).toBe(
    countOf('held') + countOf('cleared') + countOf('in-run') + countOf('bank'),
  );
  // nobody was paid more than was granted and corrected upwards
  for (const affiliate of world.affiliates) {
    const b = balancesOf(app, affiliate);
    const raised = app.sqlite
      .prepare<[string], { n: number }>(
        "SELECT coalesce(sum(l.amount), 0) n FROM entries e JOIN entry_lines l ON l.entry = e.id JOIN commissions c ON c.id = l.commission WHERE e.event = 'correction' AND l.account = 'expense' AND l.amount > 0 AND c.affiliate = ?",
      )
      .get(affiliate)!.n;
    const granted = app.sqlite
      .prepare<[string], { n: number }>(
        'SELECT coalesce(sum(granted), 0) n FROM commissions WHERE affiliate = ?',
      )
      .get(affiliate)!.n;
    expect(b.paid).toBeLessThanOrEqual(granted + raised);
  }
  // the outline from totals is the plan without its items
  for (const cutoff of [app.clock.now() + 1, app.clock.now() - 20 * 86_400_000]) {
    const asked = { cutoff, minimum: 500, excluded: world.affiliates.slice(0, 1) };
    const [plan, outline] = [planOf(app, asked), outlineOf(app, asked)];
    const sums = (list: { affiliate: string; amount: number }[]) => list.map((p) => [p.affiliate, p.amount]);
    expect([outline.total, sums(outline.payments), sums(outline.leftOut)]).toEqual([
      plan.total,
      sums(plan.payments),
      sums(plan.leftOut.filter((l) => l.amount !== 0)),
    ]);
  }
  for (const run of app.db.select().from(runs).all())
    expect(readRun(app, run.id, 'x').total.amount).toBeGreaterThanOrEqual(0);
}

const times = runsOf(150);

it(
  `keeps every invariant after each step (seed ${seed})`,
  () => {
    fc.assert(
      fc.property(steps, (list) => {
        const world = begin();
        try {
          for (const step of list) {
            play(world, step);
            expect(brokenInvariants(world.t.app.sqlite), `after ${JSON.stringify(step)}`).toEqual([]);
          }
          checkAll(world);
        } finally {
          world.t.app.close();
        }
      }),
      { numRuns: times, seed },
    );
    const counted = [
      'order',
      'subscribe',
      'renewal',
      'terms',
      'refund',
      'run',
      'status',
      'decline',
      'reopen',
      'return',
      'correct',
      'give-up',
    ] as const;
    for (const kind of counted)
      expect(succeeded[kind] ?? 0, `${kind} succeeded in ${times} histories`).toBeGreaterThan(times / 10);
  },
  300_000 + times * 2_000,
);
it('refuses to change or remove what was posted', () => {
  const world = begin();
  play(world, { kind: 'order', n: 1, share: 50 });
  for (const sql of [
    'UPDATE entries SET memo = 1',
    'DELETE FROM entries',
    'UPDATE entry_lines SET amount = 1',
    'DELETE FROM entry_lines',
    'DELETE FROM audit',
    'UPDATE audit SET "by" = 1',
  ]) {
    expect(() => world.t.app.sqlite.exec(sql), sql).toThrow(/append-only/);
  }
  world.t.app.close();
});
it('notices each thing that could be wrong', () => {
  const world = begin();
  for (const n of [1, 2, 3]) play(world, { kind: 'order', n, share: 80 });
  play(world, { kind: 'days', n: 40, share: 1 });
  play(world, { kind: 'run', n: 1, share: 1 });
  const { sqlite } = world.t.app;
  const broken = (sql: string) => {
    sqlite.exec('SAVEPOINT probe');
    sqlite.exec(sql);
    const found = brokenInvariants(sqlite).map((b) => b.rule);
    sqlite.exec('ROLLBACK TO probe; RELEASE probe');
    return found;
  };
  expect(broken('UPDATE commissions SET cleared = cleared + 1')).toContain(
    'a commission stands where its entries put it',
  );
  expect(broken("UPDATE payments SET state = 'settled'")).toContain(
    'a payment that is under way is in the run account, a settled one at the bank, a failed one neither',
  );
  expect(broken('UPDATE runs SET file = NULL')).toContain(
    'a sent run has its file, and its payments are its total',
  );
  expect(broken('UPDATE order_lines SET commission_left = commission_left + 1')).toContain(
    'a commission is what its lines have left, with what was corrected, given up or declined',
  );
  expect(broken('UPDATE share_lines SET amount_left = amount_left - 1')).toContain(
    'a share is what its lines have left, with what was corrected, given up or declined',
  );
  expect(broken("UPDATE commissions SET granted = 100000 WHERE kind <> 'commission'")).toContain(
    'commission and shares of a sale never exceed its value',
  );
  expect(
    broken("INSERT INTO entry_lines VALUES ((SELECT id FROM entries LIMIT 1), 99, 'bank', NULL, NULL, 5)"),
  ).toContain('each entry balances');
  world.t.app.close();
});
it('runById says so when a run does not exist', () => {
  const world = begin();
  expect(() => runById(world.t.app, 'run_none')).toThrow(/does not exist/);
  world.t.app.close();
});

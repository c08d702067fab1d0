import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Rate } from '../../src/core/terms/rate';
import type { App } from '../../src/server/ground/context';
import { newId } from '../../src/server/ground/db/ids';
import { Problem } from '../../src/server/ground/http/problem';
import { products } from '../../src/server/ground/tables/catalogue';
import { commissions } from '../../src/server/ground/tables/ledger';
import { orderLines, orders } from '../../src/server/ground/tables/orders';
import { links } from '../../src/server/ground/tables/people';
import { payments, runs } from '../../src/server/ground/tables/runs';
import { visits } from '../../src/server/ground/tables/visits';
import { correctCommission, giveUpBalance } from '../../src/server/ledger/amend';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { clearDue, declineCommission } from '../../src/server/ledger/journal';
import { balancesOf, readBalances } from '../../src/server/ledger/service';
import { approve } from '../../src/server/recruit/applications/approve';
import { approveRun, reopenRun } from '../../src/server/settle/runs/approve';
import { outlineOf } from '../../src/server/settle/runs/outline';
import { readRun } from '../../src/server/settle/runs/read';
import { createRun, discardRun, runById } from '../../src/server/settle/runs/runs';
import { sendRun } from '../../src/server/settle/runs/send';
import { readStatusAtOnce } from '../../src/server/settle/runs/settle';
import { createProduct, moveProduct } from '../../src/server/setup/products/service';
import { setCoOwners } from '../../src/server/setup/terms/coowners';
import { addMembers, dropMembers } from '../../src/server/setup/terms/members';
import { setReferral } from '../../src/server/setup/terms/referrals';
import { addRate } from '../../src/server/setup/terms/service';
import { createSet, pauseSet } from '../../src/server/setup/terms/sets';
import { takeOrder } from '../../src/server/track/orders/intake';
import { normaliseOrder } from '../../src/server/track/orders/normalise';
import { takeRenewal } from '../../src/server/track/orders/payments';
import { takeRefund } from '../../src/server/track/orders/refund';
import { addAffiliate, testApp, type TestApp } from '../helpers/app';
import { runsOf, seed } from '../helpers/long';
import { planOf } from '../helpers/plan';

type Step = {
  kind:
    | 'order'
    | 'subscribe'
    | 'renewal'
    | 'terms'
    | 'refund'
    | 'days'
    | 'run'
    | 'status'
    | 'decline'
    | 'reopen'
    | 'return'
    | 'correct'
    | 'give-up';
  n: number;
  share: number;
};
const steps = fc.array(
  fc.record({
    kind: fc.constantFrom(
      'order',
      'order',
      'order',
      'subscribe',
      'renewal',
      'terms',
      'refund',
      'refund',
      'days',
      'run',
      'run',
      'status',
      'status',
      'decline',
      'reopen',
      'return',
      'correct',
      'give-up',
    ) as fc.Arbitrary<Step['kind']>,
    n: fc.nat(1000),
    share: fc.integer({ min: 1, max: 100 }),
  }),
  { minLength: 5, maxLength: 40 },
);

interface World {
  t: TestApp;
  affiliates: string[];
  serial: number;
  group: string;
  subscriptions: { id: string; number: number }[];
}

function begin(): World {
  const t = testApp();
  const { app, owner } = t;
  const make = (
    code: string,
    rewardKind: 'percent' | 'flat',
    reward: string,
    price: string,
    refundDays: number,
  ) => {
    const made = createProduct(app, owner, {
      code,
      name: code,
      description: 'x',
      currency: 'EUR',
      price,
      refundDays,
      salesPage: 'https://shop.quernstone.example/x',
      rewardKind,
      reward,
    });
    moveProduct(app, owner, made.id, { to: 'live', version: made.version });
  };
  make('A', 'percent', '12.5', '199.00', 14);
  make('B', 'flat', '6.00', '33.33', 0);
  const list = ['Ann', 'Bob', 'Cem'].map((name) => addAffiliate(app, name));
  list.forEach((row, i) =>
    approve(app, owner, row, { product: null, timing: i === 0 ? 'at-sale' : 'after-hold' }),
  );
  // every way of earning: a cap shared by lines, an uplift on top, order bands, another rate for renewals
  const box = createProduct(app, owner, {
    code: 'S',
    name: 'S',
    description: 'x',
    currency: 'EUR',
    price: '5.00',
    refundDays: 14,
    salesPage: 'https://shop.quernstone.example/x',
    rewardKind: 'percent',
    reward: '50',
    kind: 'recurring',
    renewalPrice: '24.00',
    renewalRewardKind: 'percent',
    renewalReward: '10',
  });
  moveProduct(app, owner, box.id, { to: 'live', version: box.version });
  const group = createSet(app, owner, { of: 'group', name: 'G', about: '' }).id;
  addMembers(app, owner, group, { text: 'bob', others: 'move' });
  const everything = { type: 'everything' as const };
  const rate = (more: Partial<Rate>): Rate => ({
    id: newId('rate'),
    mode: 'base',
    rung: 'programme',
    who: null,
    what: everything,
    event: 'sale',
    payments: null,
    reward: { type: 'percent', ppm: 80_000 },
    cap: null,
    from: 0,
    until: null,
    label: '',
    ...more,
  });
  addRate(
    app,
    owner,
    rate({ rung: 'group', who: group, reward: { type: 'percent', ppm: 333_333 }, cap: 1500 }),
  );
  addRate(
    app,
    owner,
    rate({
      mode: 'plus',
      what: { type: 'kind', kind: 'one-off' },
      reward: { type: 'flat-order', amount: 111 },
    }),
  );
  addRate(
    app,
    owner,
    rate({
      rung: 'personal',
      who: list[2]!.id,
      reward: {
        type: 'bands',
        bands: [
          { from: 2000, pay: { type: 'percent', ppm: 150_000 } },
          { from: 9000, pay: { type: 'flat-unit', amount: 250 } },
        ],
      },
    }),
  );
  // Ann brought Bob in, who may earn up to 40 % and more; Cem has a part in A, and so has Ann
  setReferral(app, owner, list[1]!.id, { by: list[0]!.id, percent: '7.5', of: 'sale', months: '' });
  setCoOwners(app, owner, app.db.select().from(products).where(eq(products.code, 'A')).get()!.id, {
    owners: [
      { payee: list[2]!.id, percent: '33.3333' },
      { payee: list[0]!.id, percent: '12.5' },
    ],
    expects: [],
  });
  return { t, affiliates: list.map((a) => a.id), serial: 0, group, subscriptions: [] };
}

function visitOf(app: App, affiliate: string): string {
  const link = app.db.select().from(links).where(eq(links.affiliate, affiliate)).get()!;
  const id = newId('visit');
  app.db
    .insert(visits)
    .values({ id, link: link.code, affiliate, product: link.product, at: app.clock.now(), landing: 'x' })
    .run();
  return id;
}

const at = (app: App) => new Date(app.clock.now()).toISOString();
const status = (app: App, rows: { endToEnd: string }[], code: (i: number) => string) =>
  `end_to_end_id,status,reason\n${rows.map((r, i) => `${r.endToEnd},${code(i)},AC04`).join('\n')}\n`;

/** What succeeded, by step: a history of refusals alone would hold every invariant. */
const succeeded: Partial<Record<Step['kind'], number>> = {};

/** Carries out one step; what the domain refuses is refused, anything else that throws is a fault. */
function play(world: World, step: Step): void {
  const { app, owner, finance } = world.t;
  const inOne = (work: () => void) => {
    try {
      app.transaction(work);
      succeeded[step.kind] = (succeeded[step.kind] ?? 0) + 1;
    } catch (fault) {
      if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
    }
  };
  const all = <T>(rows: T[]): T | undefined => rows[step.n % Math.max(1, rows.length)];
  switch (step.kind) {
    case 'order': {
      world.serial += 1;
      const lines = [
        {
          product: step.n % 3 === 0 ? 'B' : 'A',
          quantity: 1 + (step.n % 3),
          amount: (step.share * 1.37).toFixed(2),
        },
        ...(step.n % 4 === 0 ? [{ product: 'B', quantity: 1, amount: '33.33' }] : []),
      ];
      const report = {
        order: `O-${world.serial}`,
        placedAt: at(app),
        currency: 'EUR',
        lines,
        visit: visitOf(app, world.affiliates[step.n % 3]!),
      };
      inOne(() => takeOrder(app, normaliseOrder(app, report), 'server'));
      if (step.n % 5 === 0) inOne(() => takeOrder(app, normaliseOrder(app, report), 'server'));
      return;
    }
    case 'subscribe': {
      world.serial += 1;
      const id = `SUB-${world.serial}`;
      inOne(() => {
        takeOrder(
          app,
          normaliseOrder(app, {
            order: `O-${world.serial}`,
            placedAt: at(app),
            currency: 'EUR',
            lines: [{ product: 'S', quantity: 1, amount: '5.00' }],
            visit: visitOf(app, world.affiliates[step.n % 3]!),
            subscription: id,
          }),
          'server',
        );
        world.subscriptions.push({ id, number: 1 });
      });
      return;
    }
    case 'renewal': {
      const s = all(world.subscriptions);
      if (!s) return;
      s.number += 1;
      const report = {
        subscription: s.id,
        payment: `${s.id}-${s.number}`,
        number: s.number,
        placedAt: at(app),
        currency: 'EUR',
        lines: [{ product: 'S', quantity: 1, amount: '24.00' }],
      };
      inOne(() => takeRenewal(app, report));
      inOne(() => takeRenewal(app, report));
      return;
    }
    case 'terms':
      // terms change under the feet of everything that was granted
      inOne(() =>
        step.n % 2
          ? pauseSet(app, owner, world.group, step.n % 4 === 1)
          : dropMembers(app, owner, world.group, [world.affiliates[1]!]),
      );
      if (step.n % 3 === 0)
        inOne(() =>
          addMembers(app, owner, world.group, {
            text: ['ann', 'bob', 'cem'][step.share % 3]!,
            others: 'move',
          }),
        );
      return;
    case 'refund': {
      const order = all(app.db.select().from(orders).all());
      if (!order) return;
      const line = app.db.select().from(orderLines).where(eq(orderLines.order, order.id)).get()!;
      world.serial += 1;
      const amount = (Math.max(1, Math.floor((line.valueLeft * step.share) / 100)) / 100).toFixed(2);
      const code =
        step.share > 60
          ? { full: true }
          : {
              lines: [
                {
                  product: app.db
                    .select({ code: products.code })
                    .from(products)
                    .where(eq(products.id, line.product))
                    .get()!.code,
                  amount,
                },
              ],
            };
      inOne(() =>
        takeRefund(app, {
          refund: `R-${world.serial}`,
          order: order.reference,
          payment: order.payment,
          at: at(app),
          kind: 'refund',
          ...code,
        }),
      );
      return;
    }
    case 'days':
      app.clock.advance((1 + (step.n % 20)) * 86_400_000);
      clearDue(app);
      return;
    case 'run':
      inOne(() => {
        const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
        if (step.n % 5 === 0) return discardRun(app, finance, id, 1);
        approveRun(app, owner, id, { version: 1, total: planOf(app, runById(app, id)).total });
        if (step.n % 3 !== 0) sendRun(app, finance, id, { version: 2 });
        return undefined;
      });
      return;
    case 'reopen': {
      const approved = () => app.db.select().from(runs).where(eq(runs.state, 'approved')).get();
      if (!approved()) {
        app.clock.advance(20 * 86_400_000);
        clearDue(app);
        try {
          app.transaction(() => {
            const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
            approveRun(app, owner, id, { version: 1, total: planOf(app, runById(app, id)).total });
          });
        } catch (fault) {
          if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
        }
      }
      const run = approved();
      if (run)
        inOne(() => {
          reopenRun(app, finance, run.id, { version: run.version });
          discardRun(app, finance, run.id, run.version + 1);
        });
      return;
    }
    case 'status': {
      const sent = () => app.db.select().from(payments).where(eq(payments.state, 'sent')).all();
      if (!sent().length) {
        // nothing is under way: what is due is paid first, or most histories would never come here
        app.clock.advance(20 * 86_400_000);
        clearDue(app);
        inOne(() => {
          const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
          approveRun(app, owner, id, { version: 1, total: planOf(app, runById(app, id)).total });
          sendRun(app, finance, id, { version: 2 });
        });
      }
      const rows = sent();
      if (!rows.length) return;
      const text = status(app, rows, (i) => ((i + step.n) % 4 === 0 ? 'RJCT' : 'ACSC'));
      inOne(() => {
        readStatusAtOnce(app, finance, 'a.csv', text);
      });
      // the same file again changes nothing
      const before = JSON.stringify(readBalances(app));
      inOne(() => {
        expect(
          readStatusAtOnce(
            app,
            finance,
            'a.csv',
            status(
              app,
              rows.filter(
                (r) => app.db.select().from(payments).where(eq(payments.id, r.id)).get()!.state === 'settled',
              ),
              () => 'ACSC',
            ),
          ).settled,
        ).toBe(0);
      });
      expect(JSON.stringify(readBalances(app))).toBe(before);
      return;
    }
    case 'return': {
      const row = all(app.db.select().from(payments).where(eq(payments.state, 'settled')).all());
      if (row)
        inOne(() => {
          readStatusAtOnce(
            app,
            finance,
            'r.csv',
            status(app, [row], () => 'RJCT'),
          );
        });
      return;
    }
    case 'correct': {
      const row = all(app.db.select().from(commissions).all());
      if (row)
        inOne(() => {
          correctCommission(app, finance, row.id, {
            difference: ((step.share - 50) / 10).toFixed(2),
            reason: 'Agreed otherwise',
          });
        });
      return;
    }
    case 'give-up': {
      const affiliate = world.affiliates[step.n % 3]!;
      const open = () => {
        const b = balancesOf(app, affiliate);
        return b.held + b.cleared;
      };
      // a negative balance comes of what was paid and is taken back
      const paidTo = () =>
        app.db
          .select()
          .from(commissions)
          .all()
          .find((c) => c.affiliate === affiliate && c.paid > 0);
      if (!paidTo()) play(world, { ...step, kind: 'status' });
      const paid = paidTo();
      if (open() >= 0 && paid) {
        try {
          app.transaction(() => {
            correctCommission(app, finance, paid.id, {
              difference: (-(open() + 1 + step.share) / 100).toFixed(2),
              reason: 'Paid too much',
            });
          });
        } catch (fault) {
          if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
        }
      }
      const owed = open();
      inOne(() => giveUpBalance(app, finance, affiliate, 'Too small to ask for'));
      expect(open()).toBe(Math.max(0, owed));
      return;
    }
    case 'decline': {
      const row = all(app.db.select().from(commissions).all());
      if (row)
        inOne(() => {
          declineCommission(app, finance, row.id, 'Own purchase');
        });
    }
  }
}

function checkAll(world: World): void {
  const { app } = world.t;
  expect(brokenInvariants(app.sqlite)).toEqual([]);
  const balances = readBalances(app);
  expect(balances.whole).toBe(true);
  const of = (name: string) => balances.accounts.find((a) => a.account === name)!.balance.amount;
  expect(of('expense') + of('write-off')).toBe(of('held') + of('cleared') + of('in-run') + of('bank'));
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

describe('any history of orders, refunds, runs, failures and declines', () => {
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
});

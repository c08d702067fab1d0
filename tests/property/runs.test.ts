import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Id } from '../../src/core/text/id';
import type { App } from '../../src/server/ground/context';
import { newId } from '../../src/server/ground/db/ids';
import { Problem } from '../../src/server/ground/http/problem';
import { orders } from '../../src/server/ground/tables/orders';
import { messages } from '../../src/server/ground/tables/outbox';
import { affiliates, links } from '../../src/server/ground/tables/people';
import { payments } from '../../src/server/ground/tables/runs';
import { visits } from '../../src/server/ground/tables/visits';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { approve } from '../../src/server/recruit/applications/approve';
import { approveRun, reopenRun } from '../../src/server/settle/runs/approve';
import { onlyDecided } from '../../src/server/settle/runs/enough';
import { atTheBeginning, goOn } from '../../src/server/settle/runs/onward';
import { createRun, runById } from '../../src/server/settle/runs/runs';
import { sendRun } from '../../src/server/settle/runs/send';
import { createProduct, moveProduct } from '../../src/server/setup/products/service';
import { takeOrder } from '../../src/server/track/orders/intake';
import { normaliseOrder } from '../../src/server/track/orders/normalise';
import { takeRefund } from '../../src/server/track/orders/refund';
import { addAffiliate, testApp, type TestApp } from '../helpers/app';
import { runsOf, seed } from '../helpers/long';
import { planOf } from '../helpers/plan';

/** One payee at a time. */
const one = (done: number) => done > 0;

interface World {
  t: TestApp;
  payees: Id<'affiliate'>[];
  serial: number;
}

const at = (app: App) => new Date(app.clock.now()).toISOString();

function sell(world: World, payee: number): void {
  const { app } = world.t;
  const affiliate = world.payees[payee % world.payees.length]!;
  const link = app.db.select().from(links).where(eq(links.affiliate, affiliate)).get()!;
  const visit = newId('visit');
  app.db
    .insert(visits)
    .values({
      id: visit,
      link: link.code,
      affiliate,
      product: link.product!,
      at: app.clock.now(),
      landing: 'x',
    })
    .run();
  world.serial += 1;
  const report = {
    order: `O-${world.serial}`,
    placedAt: at(app),
    currency: 'EUR',
    lines: [{ product: 'A', quantity: 1, amount: `${20 + world.serial}.00` }],
    visit,
  };
  app.transaction(() => takeOrder(app, normaliseOrder(app, report), 'server'));
}

function begin(): World {
  const t = testApp();
  const { app, owner } = t;
  const made = createProduct(app, owner, {
    code: 'A',
    name: 'A',
    description: 'x',
    currency: 'EUR',
    price: '199.00',
    refundDays: 0,
    salesPage: 'https://shop.quernstone.example/x',
    rewardKind: 'percent',
    reward: '10',
  });
  moveProduct(app, owner, made.id, { to: 'live', version: made.version });
  const list = ['Ann', 'Bob', 'Cem', 'Dee', 'Eve', 'Fay', 'Gus'].map((name) => addAffiliate(app, name));
  for (const row of list) approve(app, owner, row, { product: null, timing: 'at-sale' });
  const world: World = { t, payees: list.map((a) => a.id), serial: 0 };
  for (let i = 0; i < 16; i += 1) sell(world, i);
  return world;
}

type Between = 'nothing' | 'restart' | 'refund' | 'block' | 'sale' | 'cancel' | 'name';
const between = fc.array(
  fc.record({
    what: fc.constantFrom<Between>(
      'nothing',
      'nothing',
      'nothing',
      'nothing',
      'nothing',
      'restart',
      'restart',
      'refund',
      'block',
      'sale',
      'cancel',
      'name',
    ),
    n: fc.nat(100),
  }),
  { minLength: 4, maxLength: 12 },
);

/** What happened in all histories: one in which nothing does would hold everything. */
const happened: Record<string, number> = {};
const count = (what: string) => {
  happened[what] = (happened[what] ?? 0) + 1;
};

function meanwhile(world: World, id: Id<'run'>, what: Between, n: number): void {
  const { app, finance } = world.t;
  world.t.setTime(app.clock.now() + 1000);
  const affiliate = world.payees[n % world.payees.length]!;
  try {
    if (what === 'sale') sell(world, n);
    if (what === 'block')
      app.db.update(affiliates).set({ state: 'blocked' }).where(eq(affiliates.id, affiliate)).run();
    if (what === 'name')
      app.db
        .update(affiliates)
        .set({ name: `Renamed ${n}` })
        .where(eq(affiliates.id, affiliate))
        .run();
    if (what === 'cancel')
      app.transaction(() =>
        reopenRun(app, finance, id, { version: runById(app, id).version, enough: onlyDecided }),
      );
    if (what === 'refund') {
      const order = app.db.select().from(orders).all()[n % world.serial]!;
      app.transaction(() =>
        takeRefund(app, {
          refund: newId('refund'),
          order: order.reference,
          at: at(app),
          kind: 'refund',
          full: true,
        }),
      );
    }
    count(what);
  } catch (fault) {
    if (!(fault instanceof Problem) || fault.code === 'internal') throw fault;
  }
}

async function throughSteps(
  world: World,
  id: Id<'run'>,
  list: readonly { what: Between; n: number }[],
  allowed: (what: Between) => boolean,
): Promise<void> {
  const { app } = world.t;
  let place = atTheBeginning();
  let step = 0;
  while (await goOn(app, id, place, one)) {
    expect(brokenInvariants(app.sqlite)).toEqual([]);
    const { what, n } = list[step] ?? { what: 'nothing', n: 0 };
    step += 1;
    if (!allowed(what)) continue;
    if (what === 'restart') place = atTheBeginning();
    meanwhile(world, id, what, n);
  }
}

const inside = (app: App, id: Id<'run'>) =>
  new Map(
    app.db
      .select()
      .from(payments)
      .where(eq(payments.run, id))
      .all()
      .map((p) => [p.affiliate, p.amount]),
  );

/** Either everybody is in with what was looked at, or nobody is and the draft says why. */
function checkApproved(app: App, id: Id<'run'>, seen: Map<string, number>): boolean {
  const run = runById(app, id);
  const sum = [...seen.values()].reduce((a, b) => a + b, 0);
  if (run.state === 'approved') {
    expect(inside(app, id)).toEqual(seen);
    expect([run.total, run.payees, run.notApproved, run.stepBy]).toEqual([sum, seen.size, null, null]);
    return true;
  }
  expect([run.state, run.total, run.payees, run.approvedBy, run.stepBy]).toEqual(['draft', 0, 0, null, null]);
  expect(inside(app, id).size).toBe(0);
  if (run.notApproved) count('set back');
  else count('taken back by a person');
  return false;
}

it('an approval that follows one that was taken back begins anew, whoever goes on with it', async () => {
  const world = begin();
  const { app, owner, finance } = world.t;
  const place = atTheBeginning();
  const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
  const { total, payments: plan } = planOf(app, runById(app, id));
  const decide = () =>
    approveRun(app, owner, id, { version: runById(app, id).version, total, enough: onlyDecided });
  app.transaction(decide);
  for (let pieces = 0; pieces < 4; pieces += 1) await goOn(app, id, place, one);
  expect(inside(app, id).size).toBe(3);
  app.transaction(() =>
    reopenRun(app, finance, id, { version: runById(app, id).version, enough: onlyDecided }),
  );
  while (runById(app, id).state === 'reopening') await goOn(app, id, place, one);
  // approved again before whoever went on has seen that it was a draft
  app.transaction(decide);
  while (await goOn(app, id, place, one)) expect(brokenInvariants(app.sqlite)).toEqual([]);
  expect([runById(app, id).state, inside(app, id).size]).toEqual(['approved', plan.length]);
  app.close();
});

const times = runsOf(60);

it(
  `a run by pieces comes through whole or not at all, whatever happens in between (seed ${seed})`,
  async () => {
    await fc.assert(
      fc.asyncProperty(between, between, async (first, second) => {
        const world = begin();
        const { app, owner, finance } = world.t;
        try {
          const id = createRun(app, finance, { cutoff: at(app).slice(0, 10), minimum: '0.00' });
          const plan = planOf(app, runById(app, id));
          const seen = new Map(plan.payments.map((p) => [p.affiliate, p.amount]));
          app.transaction(() =>
            approveRun(app, owner, id, { version: 1, total: plan.total, enough: onlyDecided }),
          );
          expect([runById(app, id).state, inside(app, id).size]).toEqual(['approving', 0]);
          await throughSteps(world, id, first, () => true);
          if (!checkApproved(app, id, seen)) return;
          count('approved');
          app.transaction(() =>
            sendRun(app, finance, id, { version: runById(app, id).version, enough: onlyDecided }),
          );
          await throughSteps(world, id, second, (what) => what !== 'cancel');
          const told = app.db
            .select()
            .from(messages)
            .where(eq(messages.kind, 'payment-sent'))
            .all()
            .map((m) => m.affiliate!);
          expect([runById(app, id).state, told.sort()]).toEqual(['sent', [...seen.keys()].sort()]);
        } finally {
          app.close();
        }
      }),
      { numRuns: times, seed },
    );
    for (const what of [
      'restart',
      'refund',
      'block',
      'sale',
      'cancel',
      'approved',
      'set back',
      'taken back by a person',
    ])
      expect(
        happened[what] ?? 0,
        `${what} in ${times} histories: ${JSON.stringify(happened)}`,
      ).toBeGreaterThan(times / 20);
  },
  120_000 + times * 1_000,
);

import { eq } from 'drizzle-orm';
import { products } from '../../../src/server/ground/tables/catalogue';
import { orderLines, orders } from '../../../src/server/ground/tables/orders';
import { clearDue } from '../../../src/server/ledger/journal';
import { addMembers, dropMembers } from '../../../src/server/setup/terms/members';
import { pauseSet } from '../../../src/server/setup/terms/sets';
import { takeOrder } from '../../../src/server/track/orders/intake';
import { normaliseOrder } from '../../../src/server/track/orders/normalise';
import { takeRenewal } from '../../../src/server/track/orders/payments';
import { takeRefund } from '../../../src/server/track/orders/refund';
import { at, visitOf, type Played } from './world';

export function order(played: Played): void {
  const { world, step, inOne } = played;
  const { app } = world.t;
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
}

export function subscribe(played: Played): void {
  const { world, step, inOne } = played;
  const { app } = world.t;
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
}

export function renew(played: Played): void {
  const { world, inOne, all } = played;
  const { app } = world.t;
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
}

export function refund(played: Played): void {
  const { world, step, inOne, all } = played;
  const { app } = world.t;
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
}

export function changeTerms(played: Played): void {
  const { world, step, inOne } = played;
  const { app, owner } = world.t;
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
}

export function passDays(played: Played): void {
  const { world, step } = played;
  const { app } = world.t;
  app.clock.advance((1 + (step.n % 20)) * 86_400_000);
  clearDue(app);
}

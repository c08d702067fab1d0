import { afterAll, beforeAll, expect, it } from 'vitest';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { replay } from '../../../src/server/setup/terms/replay';
import { theTerms } from '../../../src/server/setup/terms/store';
import { startServer, type TestServer } from '../../helpers/server';
import { answer } from './world';

let s: TestServer;
// caps are set before there is an affiliate, to whom they would be cuts
beforeAll(async () => {
  s = await startServer();
  const plan = { kind: 'instalments', instalments: 4, price: '400.00', reward: '10' };
  const box = { kind: 'recurring', price: '100.00', renewalPrice: '100.00' };
  const rates = { renewalRewardKind: 'percent', renewalReward: '10' };
  await capped(await s.product('KILN-9', { price: '300.00', reward: '10' }), 'sale', '10.00');
  await capped(await s.product('LAMP-9', { price: '300.00', reward: '10' }), 'sale', '10.00');
  await capped(await s.product('TABLE-4', { ...plan, ...rates }), 'renewal', '15.00');
  await capped(await s.product('BOX-9', { ...box, ...rates }), 'renewal', '15.00', '40');
});
afterAll(() => s.close());
const now = () => new Date(s.app.clock.now()).toISOString();

/** Sets a rate with a cap for everybody on a product. */
async function capped(product: string, event: string, cap: string, value = '10') {
  const owner = await s.as('owner');
  const { body } = await owner.post<{ version: number }>('/api/v1/draft/rates', {
    ...{ column: { of: 'everyone' }, row: { of: 'product', id: product }, event, mode: 'base', cap },
    reward: { kind: 'percent', value },
  });
  const saved = await owner.post('/api/v1/draft/save', { version: body.version });
  expect(saved.status, saved.text).toBe(200);
}
const amounts = (reports: { commissions: { amount: { value: string } }[] }[]) =>
  reports.map((r) => r.commissions[0]?.amount.value ?? '0.00');
/** What a rehearsal of nothing new says of everything so far. */
const rehearsed = (from: string) => {
  const { total, changed } = replay(
    s.app.sqlite,
    { terms: theTerms(s.app).data, base: 'EUR', from, to: '2027-12-31' },
    () => undefined,
  );
  return { changed, total };
};

it('a cap of an order counts once over all payments in which it is paid, whatever is refunded between', async () => {
  const ann = await s.affiliate('Ann Parts');
  const visit = await s.visit(await ann.link('KILN-9'));
  const pay = (payment: string, amount: string) =>
    answer(
      s.report('orders', {
        ...{ order: 'P-9', payment, placedAt: now(), currency: 'EUR', visit },
        lines: [{ product: 'KILN-9', quantity: 1, amount }],
      }),
    );
  expect(amounts([await pay('P-9-1', '60.00'), await pay('P-9-2', '120.00')])).toEqual(['6.00', '4.00']);
  const third = await pay('P-9-3', '120.00');
  expect([amounts([third]), third.reason]).toEqual([
    ['0.00'],
    expect.stringContaining('earlier payments earned the most that an order earns'),
  ]);
  expect(rehearsed('2027-01-01').changed).toBe(0);
  const refund = { refund: 'RP-9', order: 'P-9', payment: 'P-9-1', at: now(), kind: 'refund', full: true };
  expect((await answer(s.report('refunds', refund))).status).toBe(201);
  expect(amounts([await pay('P-9-4', '120.00')])).toEqual(['6.00']);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('so it does over instalments; renewals of a subscription are orders of their own', async () => {
  const cy = await s.affiliate('Cy Plans');
  const paid = async (product: string) => {
    const order = { order: `I-${product}`, subscription: `S-${product}`, placedAt: now(), currency: 'EUR' };
    const lines = [{ product, quantity: 1, amount: '100.00' }];
    const visit = await s.visit(await cy.link(product));
    await s.report('orders', { ...order, lines, visit });
    const reports = [];
    for (const number of [2, 3, 4])
      reports.push(
        await answer(
          s.report('renewals', {
            ...{ subscription: order.subscription, payment: `${order.order}-${number}`, number },
            ...{ placedAt: now(), currency: 'EUR', lines },
          }),
        ),
      );
    return amounts(reports);
  };
  expect(await paid('TABLE-4')).toEqual(['10.00', '5.00', '0.00']);
  expect(await paid('BOX-9')).toEqual(['15.00', '15.00', '15.00']);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('a rehearsal says of payments what was paid, also where the earlier ones are before its period', async () => {
  const lou = await s.affiliate('Lou Later');
  const visit = await s.visit(await lou.link('LAMP-9'));
  const pay = (payment: string) =>
    s.report('orders', {
      ...{ order: 'P-L', payment, placedAt: now(), currency: 'EUR', visit },
      lines: [{ product: 'LAMP-9', quantity: 1, amount: '100.00' }],
    });
  await pay('P-L-1');
  s.days(3);
  await pay('P-L-2');
  const today = now().slice(0, 10);
  const { total, changed } = rehearsed(today);
  expect([total.lines, total.stored, total.drafted, changed]).toEqual([1, 0, 0, 0]);
});

import { afterAll, beforeAll, expect, it } from 'vitest';
import type { AnyEndpoint } from '../../src/contract/endpoint';
import { endpoints } from '../../src/contract/index';
import { isTouchedBy } from '../../src/contract/touched';
import { everyId, type Every } from '../helpers/every';
import { startServer, type TestServer } from '../helpers/server';

// What the interface does not ask for again after an act must not have changed by it: every call that reads is asked
// before and after acts of each kind.

let s: TestServer;
let every: Every;
let now = 0;
beforeAll(async () => {
  s = await startServer();
  every = await everyId(s);
  now = s.app.clock.now();
  await s.report('orders', {
    order: 'Q-LATE',
    placedAt: new Date(now).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
    visit: await s.visit(await every.mine.link('WHEEL-1')),
  });
}, 120_000);
afterAll(() => s.close());

const reads = endpoints
  .map(([, end]) => end)
  .filter((end) => end.method === 'GET' && end.media === undefined && end.path.startsWith('/api/v1/'))
  .filter((end) => !/clock|session|:token|rehearsals/.test(end.path));

/** The moment is part of many an answer: one of these minutes is like another. */
const withoutMoments = (text: string) =>
  text.replace(/\b\d{13}\b/g, (at) => (Math.abs(Number(at) - now) < 600_000 ? 'now' : at));

/** What every reading call answers. */
async function answers(): Promise<Map<AnyEndpoint, string>> {
  const owner = await s.as('owner');
  const found = new Map<AnyEndpoint, string>();
  for (const end of reads) {
    const client = end.access === 'affiliate' ? every.mine.client : owner;
    found.set(end, withoutMoments((await client.get(every.pathOf(end))).text));
  }
  return found;
}

type Send = (method: 'POST' | 'PUT', path: string, body?: object) => Promise<unknown>;

/** An act of each subject whose reach is said; further acts that set it going stand before it. */
const acts: [path: string, act: (send: Send) => Promise<unknown>][] = [
  [
    '/api/v1/notices',
    (send) =>
      send('POST', '/api/v1/notices', {
        kind: 'note',
        title: 'A note',
        body: 'New.',
        product: every.ids.products,
      }),
  ],
  [
    '/api/v1/templates',
    (send) =>
      send('POST', '/api/v1/templates', { use: 'message', name: 'Another', subject: 'S', body: 'Body' }),
  ],
  [
    '/api/v1/segments',
    (send) => send('POST', '/api/v1/segments', { name: 'Paused', filter: { state: 'paused' }, columns: [] }),
  ],
  [
    '/api/v1/screening',
    (send) =>
      send('POST', '/api/v1/screening', {
        conditions: { countryIn: ['PT'] },
        outcome: { do: 'approve', timing: 'after-hold' },
      }),
  ],
  ['/api/v1/connection/keys', (send) => send('POST', '/api/v1/connection/keys', { label: 'Another shop' })],
  [
    '/api/v1/offers/:id/live',
    async (send) => {
      const { version } = one<{ version: number }>('SELECT version FROM offers');
      await send('POST', `/api/v1/offers/${every.ids.offers}/live`, { on: false, version });
    },
  ],
  ['/api/v1/invites/:id/withdraw', (send) => send('POST', `/api/v1/invites/${every.ids.invites}/withdraw`)],
  [
    '/api/v1/draft/rates',
    (send) =>
      send('POST', '/api/v1/draft/rates', {
        column: { of: 'everyone' },
        row: { of: 'product', id: every.ids.products },
        event: 'sale',
        mode: 'base',
        reward: { kind: 'percent', value: '30' },
      }),
  ],
  [
    '/api/v1/payouts/:id/deliver',
    async (send) => {
      const { version } = one<{ version: number }>('SELECT version FROM runs');
      await send('POST', `/api/v1/payouts/${every.ids.payouts}/deliver`, { version });
    },
  ],
  [
    '/api/v1/payments/:id/settle',
    (send) => send('POST', `/api/v1/payments/${every.ids.payments}/settle`, { reference: 'BK-7' }),
  ],
  [
    '/api/v1/commissions/:id/correct',
    (send) =>
      send('POST', `/api/v1/commissions/${lateCommission()}/correct`, {
        difference: '1.00',
        reason: 'A gift',
      }),
  ],
];
const one = <T>(sql: string) => s.app.sqlite.prepare(sql).get() as T;
const lateCommission = () =>
  one<{ id: string }>(
    "SELECT c.id FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = 'Q-LATE'",
  ).id;

it('reads what every page shows', () => {
  expect(reads.length).toBeGreaterThan(50);
});

it.each(acts)('%s changes nothing that is not asked for again', async (path, act) => {
  const owner = await s.as('owner');
  const before = await answers();
  const statuses: number[] = [];
  await act(async (method, address, body) => {
    const answer = await owner.send(method, address, body);
    statuses.push(answer.status);
    if (answer.status >= 300) throw new Error(`${address}: ${answer.text}`);
    return answer;
  });
  const after = await answers();
  const changed = reads.filter((end) => before.get(end) !== after.get(end));
  // an act that changes nothing would prove nothing
  expect(changed.length).toBeGreaterThan(0);
  expect(changed.filter((end) => !isTouchedBy({ path }, end)).map((end) => end.path)).toEqual([]);
  // and something is left alone, or there would be no need to say so
  expect(reads.some((end) => !isTouchedBy({ path }, end))).toBe(true);
});

import { afterAll, beforeAll } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export interface Fault {
  status: number;
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
export interface Run {
  id: string;
  state: string;
  version: number;
  number: number;
  total: { amount: number };
  payments: { name: string; state: string; amount: { amount: number } }[];
  leftOut: { name: string }[];
}
export let s: TestServer;
export let owner: Client;
export let finance: Client;
export let link: string;
export let serial = 0;
export const now = () => new Date(s.app.clock.now()).toISOString();
export const day = () => now().slice(0, 10);
export const one = <T>(sql: string, ...values: unknown[]) => s.app.sqlite.prepare(sql).get(...values) as T;
export const endToEnd = (run: string) =>
  s.app.sqlite
    .prepare('SELECT end_to_end FROM payments WHERE run = ? ORDER BY id')
    .pluck()
    .all(run) as string[];
export const sell = async (amount = '100.00', more: object = {}) => {
  serial += 1;
  const a = await s.report('orders', {
    order: `M-${serial}`,
    placedAt: now(),
    currency: 'EUR',
    lines: [{ product: 'POT-1', quantity: 1, amount }],
    visit: await s.visit(link),
    ...more,
  });
  if (a.status !== 201) throw new Error(a.text);
  return one<{ id: string; order: string }>(
    'SELECT c.id, c.order_id "order" FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = ?',
    `M-${serial}`,
  );
};
export const step = (run: Run, what: string) =>
  finance.post<Run & Fault>(`/api/v1/payouts/${run.id}/${what}`, {
    version: run.version,
    ...(what === 'approve' ? { total: run.total.amount } : {}),
  });
export const draft = async (as = finance) =>
  (await as.post<Run>('/api/v1/payouts', { cutoff: day(), minimum: '0.00' })).body;
export const sent = async () => (await step((await step(await draft(), 'approve')).body, 'send')).body;
export const status = (content: string, name = 'status.csv') =>
  finance.post<
    {
      said: string;
      settled: number;
      returned: number;
      failed: number;
      unchanged: number;
      unknown: string[];
    } & Fault
  >('/api/v1/payouts/status', { name, content });

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    [owner, finance] = [await s.as('owner'), await s.as('finance')];
    await s.product('POT-1', { price: '100.00', reward: '10', refundDays: 0 });
    link = await (await s.affiliate('Ann Ash', { timing: 'at-sale' })).link('POT-1');
  });
  afterAll(() => s.close());
}

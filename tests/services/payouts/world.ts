import { afterAll, beforeAll } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export interface Run {
  id: string;
  number: number;
  state: string;
  version: number;
  total: { amount: number };
  payments: {
    id: string;
    affiliate: string;
    name: string;
    amount: { amount: number };
    state: string;
    reason: string | null;
  }[];
  leftOut: { name: string; why: string; amount: { amount: number }; byHand: boolean }[];
  needsSecond: string | null;
  overdue: boolean;
}
export interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
export let s: TestServer;
export let finance: Client;
export let owner: Client;
export let links: string[];
export let people: Awaited<ReturnType<TestServer['affiliate']>>[];
export let serial = 0;
export const day = () => new Date(s.app.clock.now()).toISOString().slice(0, 10);
export const sell = async (who: number, amount: string) => {
  serial += 1;
  await s.report('orders', {
    order: `P-${serial}`,
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'POT-1', quantity: 1, amount }],
    visit: await s.visit(links[who]!),
  });
  return `P-${serial}`;
};
export const draft = async (minimum = '') =>
  (await finance.post<Run & Fault>('/api/v1/payouts', { cutoff: day(), minimum })).body;
export const step = async (run: Run, act: string, client = finance) =>
  await client.post<Run & Fault>(`/api/v1/payouts/${run.id}/${act}`, {
    version: run.version,
    ...(act === 'approve' ? { total: run.total.amount } : {}),
  });
export const status = (content: string) =>
  finance.post<
    {
      settled: number;
      failed: number;
      returned: number;
      unchanged: number;
      unknown: string[];
      said: string;
    } & Fault
  >('/api/v1/payouts/status', { name: 'status', content });
export const endToEnd = (run: Run) =>
  s.app.sqlite.prepare('SELECT end_to_end e, affiliate a FROM payments WHERE run = ?').all(run.id) as {
    e: string;
    a: string;
  }[];

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    finance = await s.as('finance');
    owner = await s.as('owner');
    await s.product('POT-1', { reward: '10' });
    people = [
      await s.affiliate('Ann Ash', { timing: 'at-sale' }),
      await s.affiliate('Bob Bisque', { timing: 'at-sale' }),
      await s.affiliate('Cem Crackle', { timing: 'at-sale', details: false }),
    ];
    links = await Promise.all(people.map((p) => p.link('POT-1')));
  });
  afterAll(() => s.close());
}

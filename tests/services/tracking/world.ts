import { afterAll, beforeAll } from 'vitest';
import { startServer, type TestServer } from '../../helpers/server';

export interface Answer {
  outcome: string;
  order: string;
  credited: { affiliate: string; by: string } | null;
  reason: string;
  commissions: {
    id: string;
    affiliate: string;
    amount: { value: string; currency: string };
    state: string;
    clearsOn: string;
  }[];
  warnings?: { pointer: string; detail: string }[];
}
export interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string; example?: string }[];
}
export let s: TestServer;
export let link: string;
export const now = () => new Date(s.app.clock.now()).toISOString();
export const order = (reference: string, more: object = {}) => ({
  order: reference,
  placedAt: '2027-03-12T09:00:00+00:00',
  currency: 'EUR',
  lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }],
  ...more,
});
export const answer = async (sent: Promise<{ status: number; body: object }>) => {
  const a = await sent;
  return { status: a.status, ...(a.body as Answer & Fault) };
};

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    await s.product('WHEEL-1', { price: '199.00', reward: '12' });
    await s.product('APRON-1', { price: '46.00', rewardKind: 'flat', reward: '5.00' });
    const loam = await s.affiliate('Loam Letters');
    link = await loam.link('WHEEL-1');
  });
  afterAll(() => s.close());
}

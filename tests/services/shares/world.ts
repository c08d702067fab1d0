import { afterAll, beforeAll, expect } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export let s: TestServer;
export let owner: Client;
export let mara: Awaited<ReturnType<TestServer['affiliate']>>;
export let bo: Awaited<ReturnType<TestServer['affiliate']>>;
export let ada: { id: string; name: string };
export let course: string;
export interface Money {
  amount: number;
}
export interface Fault {
  detail: string;
  errors: { pointer: string; detail: string }[];
}
export interface Share {
  id: string;
  kind: string;
  name: string;
  granted: Money;
  left: Money;
  state: string;
  declined: string | null;
  lines: { text: string; amount: Money; basis: Money }[];
}
export interface Sale {
  commission: string;
  shares: Share[];
  working: { left: Money };
}
export interface Referral {
  by: { name: string; percent: string; of: string; until: number | null } | null;
  brought: { name: string; earned: Money }[];
}
export const now = () => new Date(s.app.clock.now()).toISOString();
export const line = (amount: string, product = 'COURSE') => ({ product, quantity: 1, amount });
export let serial = 0;
/** Reports a sale. @returns its sheet */
export async function sell(
  amount: string,
  by: { link: (code: string) => Promise<string> } | null,
  more: object = {},
): Promise<{ reference: string; id: string; sheet: () => Promise<Sale> }> {
  serial += 1;
  const reference = `S-${serial}`;
  const answer = await s.report('orders', {
    order: reference,
    placedAt: now(),
    currency: 'EUR',
    lines: [line(amount)],
    ...(by ? { visit: await s.visit(await by.link('COURSE')) } : {}),
    ...more,
  });
  expect(answer.status, JSON.stringify(answer.body)).toBe(201);
  const id = s.app.sqlite
    .prepare('SELECT id FROM orders WHERE reference = ?')
    .pluck()
    .get(reference) as string;
  return { reference, id, sheet: async () => (await owner.get<Sale>(`/api/v1/orders/${id}`)).body };
}
export const shown = (sheet: Sale) => sheet.shares.map((x) => `${x.kind} ${x.name} ${x.left.amount}`);

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    owner = await s.as('owner');
    course = await s.product('COURSE', { price: '89.00', reward: '30' });
    mara = await s.affiliate('Mara');
    bo = await s.affiliate('Bo');
    ada = (
      await owner.post<typeof ada>('/api/v1/partners', {
        name: 'Ada Birkeland',
        email: 'ada@birkeland.example',
        country: 'NO',
      })
    ).body;
  });
  afterAll(() => s.close());
}

import { afterAll, beforeAll } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string; example?: string }[];
  current?: { version: number };
}
export type Body = Record<string, unknown> & Fault;
export let s: TestServer;
export let owner: Client;
export const product = {
  code: 'KILN-S',
  name: 'Small kiln',
  description: 'Hot.',
  currency: 'EUR',
  price: '890.00',
  refundDays: 21,
  salesPage: 'https://shop.quernstone.example/kiln',
  rewardKind: 'percent',
  reward: '3',
};

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    owner = await s.as('owner');
  });
  afterAll(() => s.close());
}

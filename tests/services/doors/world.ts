import { afterAll, beforeAll } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export interface Fault {
  status: number;
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
export let s: TestServer;
export let owner: Client;
export let mara: Awaited<ReturnType<TestServer['affiliate']>>;
/** A client that a trusted proxy names another address for. */
export const from = (address: string) => {
  const client = new Client(s.address);
  const send = client.send.bind(client);
  client.send = ((method: string, path: string, body?: unknown, headers: Record<string, string> = {}) =>
    send(method, path, body, { 'x-forwarded-for': address, ...headers })) as typeof client.send;
  return client;
};
export const one = <T>(sql: string, ...values: unknown[]) =>
  s.app.sqlite
    .prepare(sql)
    .pluck()
    .get(...values) as T;
export const all = <T>(sql: string, ...values: unknown[]) =>
  s.app.sqlite
    .prepare(sql)
    .pluck()
    .all(...values) as T[];
export const alive = async () => (await new Client(s.address).get('/api/v1/clock')).status;

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer({ trustProxy: ['127.0.0.1'] });
    owner = await s.as('owner');
    await s.product('WHEEL-1');
    mara = await s.affiliate('Mara Loam');
  });
  afterAll(() => s.close());
}

import { afterAll, beforeAll } from 'vitest';
import { type Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
export interface Row {
  id: string;
  name: string;
  group: { name: string } | null;
  tags: { name: string }[];
  mailFault: string | null;
  kind: string;
  lookedAfter: string | null;
  state: string;
}
export let s: TestServer;
export let owner: Client;
export const people: Record<string, Awaited<ReturnType<TestServer['affiliate']>>> = {};
export const sets: Record<string, string> = {};
export const list = async (query = '') =>
  (await owner.get<{ rows: Row[]; total: number; next: string | null }>(`/api/v1/affiliates?${query}`)).body;
export const names = async (query: string) => (await list(query)).rows.map((r) => r.name);
export const bulk = (what: string, to: string | null, whom: object) =>
  owner.post<{ id: string; done: number; passed: number } & Fault>('/api/v1/affiliates/bulk', {
    what,
    to,
    ...whom,
  });
export const ids = (...who: string[]) => ({ ids: who.map((n) => people[n]!.id) });

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    owner = await s.as('owner');
    await s.product('WHEEL-1', { reward: '12', refundDays: 5 });
    await s.product('KILN-1', { reward: '3' });
    for (const name of ['Ada', 'Bram', 'Celia', 'Dora']) people[name] = await s.affiliate(name);
    for (const [kind, name] of [
      ['group', 'Circle'],
      ['group', 'Schools'],
      ['tag', 'video'],
      ['card', 'Makers'],
    ] as const)
      sets[name] = (await owner.post<{ id: string }>('/api/v1/sets', { of: kind, name, about: '' })).body.id;
  });
  afterAll(() => s.close());
}

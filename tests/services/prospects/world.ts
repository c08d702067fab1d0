import { afterAll, beforeAll } from 'vitest';
import { type Client } from '../../../scripts/journey/client';
import { copyRegistry } from '../../../src/server/recruit/prospects/copy';
import { startServer, type TestServer } from '../../helpers/server';

export interface Row {
  id: string;
  name: string;
  sites: string[];
  found: string | null;
  state: string;
  invite: string | null;
  tags: { name: string }[];
  vouched: boolean;
  standing: number | null;
  country: string;
  kinds: string[];
  affiliate: string | null;
}
export interface List {
  rows: Row[];
  next: string | null;
  copy: { partners: number; fault: string | null };
  invitesLeft: number;
}
export interface Line {
  id: string;
  outcome: string;
  said: string;
}
export interface Fault {
  code: string;
  errors: { pointer: string; detail: string }[];
}
export let s: TestServer;
export let owner: Client;
export const registry = (name: string, value: string) =>
  fetch(`${s.registry}/switches`, {
    method: 'POST',
    body: new URLSearchParams({ [name]: value }),
    redirect: 'manual',
  });
export const list = async (query: string) => (await owner.get<List>(`/api/v1/prospects?${query}`)).body;
export const find = async (q: string, more = '') => (await list(`q=${encodeURIComponent(q)}${more}`)).rows;
export const invite = (ids: string[], more: object = {}) =>
  owner.post<{ lines: Line[]; invited: number } & Fault>('/api/v1/prospects/invite', {
    ids,
    message: 'Would {name} like to join {programme}?',
    ...more,
  });

/** What each file of these tests begins and ends with. @param partners how many the registry lists */
export function prepare(partners: number): void {
  beforeAll(async () => {
    s = await startServer({ partners });
    owner = await s.as('owner');
    await s.product('WHEEL-1');
    await copyRegistry(s.app, true);
  }, 60_000);
  afterAll(() => s.close());
}

import { afterAll, beforeAll, expect } from 'vitest';
import { type Client } from '../../../scripts/journey/client';
import { startServer, type TestServer } from '../../helpers/server';

export interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
export interface Policy {
  id: string;
  number: number;
  version: number;
  state: string;
  inNotice: boolean;
  inForce: boolean;
  accepted: number;
  outstanding: number;
  holdsFrom: number;
  content: Record<string, unknown>;
  sections: {
    key: string;
    text: string;
    practices: { key: string; answer: string; own: boolean; otherwise: unknown[] }[];
  }[];
  changes: {
    practices: { key: string; was: string | null; is: string | null }[];
    sections: { key: string; parts: { text: string; mark: string }[] }[];
  };
}
export interface Publishing {
  number: number;
  told: number;
  holdsOn: number;
  gaps: { key: string; name: string }[];
  changes: number;
  practices: {
    key: string;
    was: string | null;
    is: string | null;
    users: number;
    permitted: number;
    waiting: number;
    sample: { name: string }[];
  }[];
}
export interface Own {
  current: {
    id: string;
    number: number;
    acceptedAt: number | null;
    changes: Policy['changes'];
    inNotice: boolean;
  } | null;
}
export let s: TestServer;
export let owner: Client;
export let mara: Awaited<ReturnType<TestServer['affiliate']>>;
export let bob: Awaited<ReturnType<TestServer['affiliate']>>;
export let wheel = '';
export const draft = async () => (await owner.post<Policy>('/api/v1/policies/draft')).body;
export async function publish(content: object): Promise<Policy> {
  const d = await draft();
  const edited = await owner.put<Policy & Fault>(`/api/v1/policies/${d.id}`, {
    ...d.content,
    ...content,
    version: d.version,
  });
  expect(edited.status, edited.text).toBe(200);
  const { gaps } = (await owner.get<Publishing>(`/api/v1/policies/${d.id}/publishing`)).body;
  const done = await owner.post<Policy>(`/api/v1/policies/${d.id}/publish`, {
    version: edited.body.version,
    empty: gaps.map((gap) => gap.key),
  });
  expect(done.status, done.text).toBe(200);
  return done.body;
}
export const own = async (who: typeof mara) =>
  (await who.client.get<Own>('/api/v1/portal/policy')).body.current;
export const accept = (who: typeof mara, policy: string) =>
  who.client.post<Own & Fault>('/api/v1/portal/policy/accept', { policy });
export const run = async () => {
  const day = new Date(s.app.clock.now()).toISOString().slice(0, 10);
  const { id, version } = (
    await owner.post<{ id: string; version: number }>('/api/v1/payouts', { cutoff: day, minimum: '' })
  ).body;
  const view = (await owner.get<{ leftOut: { name: string; why: string }[] }>(`/api/v1/payouts/${id}`)).body;
  await owner.post(`/api/v1/payouts/${id}/discard`, { version });
  return view;
};

/** The table of the draft with some of its practices answered. */
export const answered = (
  content: Record<string, unknown>,
  answers: Record<string, string | object>,
): object[] =>
  (content.practices as { key: string }[]).map((p) => {
    const answer = answers[p.key];
    return typeof answer === 'object' ? { ...p, ...answer } : { ...p, ...(answer ? { answer } : {}) };
  });

/** What each file of these tests begins and ends with. */
export function prepare(): void {
  beforeAll(async () => {
    s = await startServer();
    owner = await s.as('owner');
    wheel = await s.product('WHEEL-1', { reward: '12', refundDays: 5 });
    mara = await s.affiliate('Loam Letters', { timing: 'at-sale' });
    bob = await s.affiliate('Bob Bisque', { timing: 'at-sale' });
  });
  afterAll(() => s.close());
}

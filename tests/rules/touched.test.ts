import { afterAll, beforeAll, expect, it } from 'vitest';
import type { AnyEndpoint } from '../../src/contract/endpoint';
import { endpoints } from '../../src/contract/index';
import { isTouchedBy } from '../../src/contract/touched';
import { emptyCreative } from '../../src/core/material/creative';
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

type Body = Record<string, unknown>;
interface Act {
  method: 'POST' | 'PUT';
  path: string;
  body?: () => Body | undefined | Promise<Body>;
  /** where it may find nothing to do, as a cancel that comes too late */
  mayDoNothing?: true;
}

const one = <T>(sql: string) => s.app.sqlite.prepare(sql).get() as T;
const outcome = { do: 'approve', timing: 'after-hold' };
const rule = (countryIn: string[]): Body => ({ conditions: { countryIn }, outcome });
const draft = async () =>
  (await (await s.as('owner')).get<{ version: number }>('/api/v1/draft')).body.version;
const rate = (percent: string): Body => ({
  column: { of: 'everyone' },
  row: { of: 'product', id: every.ids.products },
  event: 'sale',
  mode: 'base',
  reward: { kind: 'percent', value: percent },
});

const letter = (): Body => ({
  ...emptyCreative,
  name: 'A letter',
  products: [every.ids.products],
  subjects: ['My first pot'],
  body: 'Here it is: {link}',
});
const coupon = (code: string): Body => ({
  ...{ code, gives: 'percent', value: '15', words: '', least: '', products: [], landing: '', terms: '' },
  ...{ owner: null, audience: { kind: 'everybody' }, applied: true, active: true, from: null, until: null },
});
const creative = () =>
  one<{ version: number }>(`SELECT version FROM creatives WHERE id = '${every.ids.creatives}'`);

/** An act of each call whose reach is said, in an order in which each finds what it needs. */
const acts: Act[] = [
  {
    method: 'POST',
    path: '/api/v1/notices',
    body: () => ({ kind: 'note', title: 'A note', body: 'New.', product: every.ids.products }),
  },
  { method: 'POST', path: '/api/v1/notices/:id/remove', body: () => ({ on: true }) },
  {
    method: 'POST',
    path: '/api/v1/templates',
    body: () => ({ use: 'message', name: 'Another', subject: 'S', body: 'Body' }),
  },
  { method: 'POST', path: '/api/v1/templates/:id/remove' },
  {
    method: 'POST',
    path: '/api/v1/segments',
    body: () => ({ name: 'Paused', filter: { state: 'paused' }, columns: [] }),
  },
  { method: 'POST', path: '/api/v1/segments/:id/remove', body: () => ({ on: true }) },
  { method: 'POST', path: '/api/v1/screening', body: () => rule(['PT']) },
  {
    method: 'PUT',
    path: '/api/v1/screening/:id',
    body: () => ({
      ...rule(['NO']),
      on: true,
      version: one<{ version: number }>(
        `SELECT version FROM screening_rules WHERE id = '${every.ids.screening}'`,
      ).version,
    }),
  },
  {
    method: 'PUT',
    path: '/api/v1/screening',
    body: () => ({
      ids: (
        s.app.sqlite
          .prepare('SELECT id FROM screening_rules WHERE removed_at IS NULL ORDER BY position')
          .pluck()
          .all() as string[]
      ).reverse(),
    }),
  },
  { method: 'POST', path: '/api/v1/screening/rehearsal' },
  { method: 'POST', path: '/api/v1/screening/rehearsal/cancel', mayDoNothing: true },
  { method: 'POST', path: '/api/v1/screening/:id/remove' },
  { method: 'POST', path: '/api/v1/connection/keys', body: () => ({ label: 'Another shop' }) },
  { method: 'POST', path: '/api/v1/connection/keys/:id/secret', mayDoNothing: true },
  { method: 'PUT', path: '/api/v1/connection/keys/:id/pictures', body: () => ({ on: false }) },
  {
    method: 'POST',
    path: '/api/v1/connection/keys/:id/renew',
    body: () => {
      // only a secret that cannot be read any more is made anew
      s.app.sqlite.exec("UPDATE keys SET secret = 'lost'");
      return undefined;
    },
  },
  { method: 'POST', path: '/api/v1/creatives', body: () => ({ ...letter(), kind: 'email' }) },
  {
    method: 'PUT',
    path: '/api/v1/creatives/:id',
    body: () => ({ ...letter(), name: 'A longer letter', version: creative().version }),
  },
  {
    method: 'POST',
    path: '/api/v1/creatives/:id/planned',
    body: () => ({ at: s.app.clock.now() + 2 * 86_400_000, changes: { note: 'Soon' } }),
  },
  { method: 'POST', path: '/api/v1/planned/:id/undo' },
  {
    method: 'POST',
    path: '/api/v1/creatives/many',
    body: () => ({ ids: [every.ids.creatives], changes: { active: false } }),
  },
  {
    method: 'POST',
    path: '/api/v1/creatives/many/undo',
    body: () => ({ act: one<{ id: string }>('SELECT id FROM creative_acts').id }),
  },
  { method: 'POST', path: '/api/v1/creatives/:id/remove', body: () => ({ on: true }) },
  { method: 'POST', path: '/api/v1/coupons', body: () => coupon('ANOTHER5') },
  {
    method: 'PUT',
    path: '/api/v1/coupons/:id',
    body: () => ({
      ...coupon('OWN15'),
      version: one<{ version: number }>(`SELECT version FROM coupons WHERE id = '${every.ids.coupons}'`)
        .version,
    }),
  },
  { method: 'POST', path: '/api/v1/coupons/:id/shop', body: () => ({ what: 'said' }) },
  {
    method: 'POST',
    path: '/api/v1/coupons/:id/planned',
    body: () => ({ at: s.app.clock.now() + 86_400_000, changes: { value: '20' } }),
  },
  {
    method: 'POST',
    path: '/api/v1/coupons/:id/relaunch',
    body: () => ({ code: 'AGAIN15', from: null, until: null }),
  },
  { method: 'POST', path: '/api/v1/coupons/:id/remove', body: () => ({ on: true }) },
  {
    method: 'POST',
    path: '/api/v1/requests/:id/answer',
    body: () => ({
      creative: null,
      answer: 'Soon.',
      version: one<{ version: number }>('SELECT version FROM requests').version,
    }),
  },
  { method: 'POST', path: '/api/v1/requests/:id/reopen' },
  { method: 'POST', path: '/api/v1/draft/rates', body: () => rate('30') },
  {
    method: 'POST',
    path: '/api/v1/draft/switches',
    body: () => ({ op: 'lock', id: every.ids.products, event: 'sale', on: true }),
  },
  { method: 'POST', path: '/api/v1/draft/changes/:id/remove' },
  {
    method: 'PUT',
    path: '/api/v1/draft',
    body: async () => ({ from: '2027-06-01T09:00', version: await draft() }),
  },
  { method: 'POST', path: '/api/v1/draft/discard', body: async () => ({ version: await draft() }) },
];

const narrow = endpoints
  .map(([, end]) => end)
  .filter((end) => end.method !== 'GET' && reads.some((read) => !isTouchedBy(end, read)));

it('reads what every page shows, and tries every act whose reach is said', () => {
  expect(reads.length).toBeGreaterThan(50);
  expect(narrow.map((end) => `${end.method} ${end.path}`).sort()).toEqual(
    acts.map(({ method, path }) => `${method} ${path}`).sort(),
  );
});

it('what is saved of a draft holds everywhere', () => {
  expect(reads.every((read) => isTouchedBy({ path: '/api/v1/draft/save' }, read))).toBe(true);
});

/** What was answered after the act before: nothing happens between two. */
let before: Map<AnyEndpoint, string> | undefined;

it.each(acts)(
  '$method $path changes nothing that is not asked for again',
  async ({ body, mayDoNothing, ...call }) => {
    const end = narrow.find(({ method, path }) => method === call.method && path === call.path)!;
    const owner = await s.as('owner');
    const sent = await body?.();
    before ??= await answers();
    const answer = await owner.send(call.method, every.pathOf(end), sent);
    expect(answer.status, answer.text).toBeLessThan(300);
    const after = await answers();
    const was = before;
    before = after;
    const changed = reads.filter((read) => was.get(read) !== after.get(read));
    // an act that changes nothing would prove nothing
    if (!mayDoNothing) expect(changed.length).toBeGreaterThan(0);
    expect(changed.filter((read) => !isTouchedBy(call, read)).map((read) => read.path)).toEqual([]);
  },
);

import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import type { TodayOut } from '../../../src/contract/lookback/today';
import { couponFields, type CouponField } from '../../../src/core/material/coupon';
import { fieldsOfKind, type CreativeField, type CreativeFields } from '../../../src/core/material/creative';
import { creativeKinds, type CreativeKind } from '../../../src/core/material/lists';
import type { Id } from '../../../src/core/text/id';
import { applyPlanned } from '../../../src/server/equip/due/due';
import { plannedChanges } from '../../../src/server/ground/tables/planned';
import type { Problemed } from '../../helpers/problem';
import { startServer, type TestServer } from '../../helpers/server';
import { make, pictureOf, upload } from './world';

let s: TestServer;
let owner: Client;
let wheel: Id<'product'>;
let course: Id<'product'>;
let loam: Id<'affiliate'>;
let portal: Client;
const hour = 3_600_000;
/** what files of creatives are stored as, by what they show */
let files: { small: string; large: string; film: string };

beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  wheel = (await s.product('WHEEL-1')) as Id<'product'>;
  course = (await s.product('THROW-V')) as Id<'product'>;
  ({ id: loam, client: portal } = await s.affiliate('Loam Letters'));
  const stored = async (name: string, bytes: Buffer) => (await upload(owner, name, bytes)).body.hash;
  files = {
    small: await stored('a.png', await pictureOf(300, 250)),
    large: await stored('b.png', await pictureOf(728, 90)),
    film: '',
  };
});
afterAll(() => s.close());

interface Shown {
  id: string;
  planned: { id: string; state: string; what: string; before: string | null; after: string }[];
}

const couponStart = {
  code: 'A',
  gives: 'percent',
  value: '10',
  words: '',
  least: '',
  products: [] as string[],
  landing: '',
  terms: '',
  owner: null,
  audience: { kind: 'everybody' },
  applied: true,
  active: true,
  from: null,
  until: null,
};

/** Another value of each field of a coupon, as it is sent; with what else has to change for it. */
const couponChange = (n: number): Record<CouponField, object> => ({
  code: { code: `OTHER${n}` },
  gives: { gives: 'other', words: 'two kilos of clay' },
  value: { value: '15' },
  words: { gives: 'other', words: 'a bag of grog' },
  least: { least: '50.00' },
  products: { products: [wheel] },
  landing: { landing: 'https://shop.quernstone.example/easter' },
  terms: { terms: 'Once for each buyer' },
  owner: { owner: loam },
  audience: { audience: { kind: 'named', affiliates: [loam] } },
  applied: { applied: false },
  active: { active: false },
  from: { from: s.app.clock.now() + 30 * 24 * hour },
  until: { until: s.app.clock.now() + 60 * 24 * hour },
});

const creativeStart = (): Record<CreativeKind, Partial<CreativeFields>> => ({
  banner: { name: 'A banner', products: [wheel], file: files.small, alt: 'A wheel' },
  'text-link': { name: 'A line', products: [wheel], words: 'The wheel in a cupboard' },
  html: { name: 'A piece', products: [wheel], code: '<a href="{link}">The wheel</a>' },
  video: { name: 'A film', products: [wheel], address: 'https://video.quernstone.example/wheel' },
  email: { name: 'A letter', products: [wheel], subjects: ['The wheel'], body: 'Look: {link}' },
});

const creativeChange = (): Record<CreativeField, Partial<CreativeFields>> => ({
  name: { name: 'Another name' },
  subject: { subject: 'Easter' },
  products: { products: [course] },
  landing: { landing: 'https://shop.quernstone.example/easter' },
  language: { language: 'pt' },
  audience: { audience: { kind: 'named', affiliates: [loam] } },
  active: { active: false },
  from: { from: s.app.clock.now() + 30 * 24 * hour },
  until: { until: s.app.clock.now() + 60 * 24 * hour },
  note: { note: 'From Monday' },
  file: { file: files.large },
  poster: { poster: files.small },
  alt: { alt: 'Another text' },
  words: { words: 'Another line' },
  around: { around: 'Before {link} after' },
  code: { code: '<b><a href="{link}">Another</a></b>' },
  address: { address: 'https://video.quernstone.example/other' },
  subjects: { subjects: ['Another', 'And one more'] },
  body: { body: 'Another text: {link}' },
});

/** What may become of a planned change, each leaving the record as it is afterwards. */
const outcomes: Record<string, (path: string, planned: Shown['planned']) => Promise<unknown>> = {
  undone: async (_, planned) => {
    for (const { id } of planned) expect((await owner.post(`/api/v1/planned/${id}/undo`)).status).toBe(200);
  },
  happened: () => {
    s.app.clock.advance(2 * hour);
    return Promise.resolve(applyPlanned(s.app));
  },
  'dropped, and its subject restored': async (path) => {
    await owner.post(`${path}/remove`, { on: true });
    s.app.clock.advance(2 * hour);
    applyPlanned(s.app);
    await owner.post(`${path}/remove`, { on: false });
  },
  'deleted and restored before its moment': async (path) => {
    await owner.post(`${path}/remove`, { on: true });
    await owner.post(`${path}/remove`, { on: false });
    s.app.clock.advance(2 * hour);
    applyPlanned(s.app);
  },
};

const lists = [
  '/api/v1/coupons',
  '/api/v1/creatives',
  '/api/v1/coupons?state=removed',
  '/api/v1/creatives?state=removed',
  '/api/v1/coverage',
  '/api/v1/counts',
  '/api/v1/timeline',
  '/api/v1/audit',
];

/** Every list and page that shows such records, and none with a part that failed. */
async function everythingAnswers(): Promise<void> {
  for (const at of lists) {
    const { status, body } = await owner.get<{ unreadable?: number }>(at);
    expect([at, status, body.unreadable]).toEqual([at, 200, undefined]);
  }
  const today = (await owner.get<TodayOut>('/api/v1/today')).body;
  expect(today.waiting.filter((w) => w.kind === 'faults')).toEqual([]);
  expect([today.performance, today.owed, today.people, today.next].includes(null)).toBe(false);
  for (const at of ['/api/v1/portal/coupons', '/api/v1/portal/material', '/api/v1/portal/home'])
    expect([at, (await portal.get(at)).status]).toEqual([at, 200]);
}

/** How many changes of a field came to each outcome. */
const seen: Record<string, number> = {};

async function goThrough(path: string, changes: object, outcome: string): Promise<void> {
  const at = s.app.clock.now() + hour;
  const { status, body } = await owner.post<Shown & Problemed>(`${path}/planned`, { at, changes });
  expect([path, outcome, changes, status, body.detail]).toEqual([path, outcome, changes, 200, undefined]);
  await outcomes[outcome]!(path, body.planned);
  const { status: shown, body: now } = await owner.get<Shown>(path);
  expect([path, shown]).toEqual([path, 200]);
  const after = now.planned;
  const state = { undone: 'undone', 'dropped, and its subject restored': 'dropped' }[outcome] ?? 'done';
  expect(after.map((p) => p.state)).toEqual(body.planned.map(() => state));
  // what never happened has nothing before it; what did has what it was
  expect(after.map((p) => p.before === null)).toEqual(body.planned.map(() => state !== 'done'));
  seen[outcome] = (seen[outcome] ?? 0) + 1;
}

describe.each(Object.keys(outcomes))('a planned change that is %s', (outcome) => {
  it('leaves every list and page that shows a coupon answering, whatever its field', async () => {
    for (const [n, field] of couponFields.entries()) {
      const code = `C${n}${outcome.replace(/\W/g, '').slice(0, 12)}`.toUpperCase();
      const { body } = await owner.post<Shown>('/api/v1/coupons', { ...couponStart, code });
      const change = couponChange(Object.keys(outcomes).indexOf(outcome) * 100 + n)[field];
      await goThrough(`/api/v1/coupons/${body.id}`, change, outcome);
    }
    await everythingAnswers();
  });

  it.each(creativeKinds)('the same of a creative: %s', async (kind) => {
    for (const field of fieldsOfKind[kind]) {
      if (kind === 'video' && field === 'file') continue;
      const { status, body } = await make(owner, kind, creativeStart()[kind]);
      expect([kind, status, body.detail]).toEqual([kind, 200, undefined]);
      await goThrough(`/api/v1/creatives/${body.id}`, creativeChange()[field], outcome);
    }
    await everythingAnswers();
  });
});

it('every outcome was seen of every field', () => {
  const fields =
    couponFields.length + creativeKinds.reduce((sum, kind) => sum + fieldsOfKind[kind].length, 0);
  // the file of a film needs one of these bytes
  expect(seen).toEqual(Object.fromEntries(Object.keys(outcomes).map((o) => [o, fields - 1])));
});

it('a coupon that cannot be read is left out and said; the others, Today and the counts are shown', async () => {
  const { body } = await owner.post<Shown>('/api/v1/coupons', { ...couponStart, code: 'BROKEN' });
  const at = s.app.clock.now() + hour;
  await owner.post(`/api/v1/coupons/${body.id}/planned`, { at, changes: { terms: 'Later' } });
  // a row as no version writes it
  s.app.db
    .update(plannedChanges)
    .set({ field: 'until', value: { is: 'soon' } })
    .run();
  const list = (await owner.get<{ rows: Shown[]; unreadable?: number }>('/api/v1/coupons')).body;
  expect(list.unreadable).toBeGreaterThan(0);
  expect(list.rows.some((r) => r.id === body.id)).toBe(false);
  const today = await owner.get<TodayOut>('/api/v1/today');
  expect([today.status, today.body.performance === null, today.body.owed === null]).toEqual([
    200,
    false,
    false,
  ]);
  expect(today.body.waiting.find((w) => w.text === 'Something failed here')?.more).toContain('coupons');
  expect((await owner.get<Record<string, number>>('/api/v1/counts')).body.faults).toBeGreaterThan(0);
});

it('fields planned in one act are judged by what they come to together', async () => {
  const now = s.app.clock.now();
  const { body } = await owner.post<Shown>('/api/v1/coupons', {
    ...couponStart,
    code: 'TOGETHER',
    until: now + 10 * hour,
  });
  const plan = (at: number, changes: object) =>
    owner.post<Shown & Problemed>(`/api/v1/coupons/${body.id}/planned`, { at, changes });
  const audience = { kind: 'named', affiliates: [loam] };
  // it ends before: a new end comes with the new audience
  expect((await plan(now + 12 * hour, { until: now + 30 * hour, audience })).status).toBe(200);
  // a start and an end after the old end
  expect((await plan(now + 40 * hour, { from: now + 50 * hour, until: now + 60 * hour })).status).toBe(200);
  const refused = await plan(now + 45 * hour, { from: now + 70 * hour, until: now + 65 * hour });
  expect([refused.status, refused.body.detail]).toEqual([
    422,
    expect.stringContaining('end before the start'),
  ]);
});

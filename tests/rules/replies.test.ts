import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { endpoints } from '../../src/contract/index';
import { ReportAnswer } from '../../src/contract/tracking';
import { ProblemOut } from '../../src/contract/shared';
import { faultsOf } from '../../src/server/http/validate';
import type { TestServer } from '../helpers/server';
import { startServer } from '../helpers/server';
import { takePartners } from '../../src/server/prospects/copy';
import { partnerAt } from '../../src/standins/partners';

let s: TestServer;
const ids: Record<string, string> = {};
let mine: Awaited<ReturnType<TestServer['affiliate']>>;

beforeAll(async () => {
  s = await startServer();
  const owner = await s.as('owner');
  ids.products = await s.product('WHEEL-1');
  mine = await s.affiliate('Loam Letters', { timing: 'at-sale' });
  ids.affiliates = mine.id;
  const link = await mine.link('WHEEL-1');
  const at = new Date(s.app.clock.now()).toISOString();
  await s.report('orders', { order: 'Q-1', placedAt: at, currency: 'EUR', lines: [{ product: 'WHEEL-1', quantity: 2, amount: '200.00', discount: '10.00' }], visit: await s.visit(link) });
  await s.report('orders', { order: 'Q-2', placedAt: at, currency: 'EUR', lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }], visit: await s.visit(link) });
  await s.report('refunds', { refund: 'R-1', order: 'Q-1', at, kind: 'refund', lines: [{ product: 'WHEEL-1', amount: '50.00' }] });
  await s.report('orders', { order: 'Q-3' });
  const run = (await owner.post<{ id: string; version: number; total: { amount: number } }>('/api/v1/payouts', { cutoff: at.slice(0, 10), minimum: '' })).body;
  ids.payouts = run.id;
  await owner.post(`/api/v1/payouts/${run.id}/approve`, { version: run.version, total: run.total.amount });
  await owner.post(`/api/v1/payouts/${run.id}/send`, { version: run.version + 1 });
  await (await s.as('viewer')).post('/api/v1/join', { name: 'Waiting', email: 'w@waiting.example', country: 'PT', address: '', sites: ['waiting.example'], channels: '', note: 'Hello', product: '' });
  const one = (sql: string) => s.app.sqlite.prepare(sql).pluck().get() as string;
  ids.applications = one("SELECT id FROM applications WHERE state = 'waiting'");
  await owner.post(`/api/v1/applications/${ids.applications}/ask`, { question: 'Which site?' });
  ids.question = /answer\/(\S+)/.exec(one("SELECT body FROM messages WHERE kind = 'application-question'"))![1]!;
  ids.orders = one("SELECT id FROM orders WHERE reference = 'Q-1'");
  ids.earnings = one("SELECT c.id FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = 'Q-1'");
  ids.reports = one('SELECT id FROM reports LIMIT 1');
  ids.payments = one('SELECT id FROM payments');
  ids.sets = 'set_standard';
  takePartners(s.app, [partnerAt(1), partnerAt(2)]);
  ids.prospects = partnerAt(1).id;
  await owner.post('/api/v1/prospects/invite', { ids: [ids.prospects], message: 'Would you like to join {programme}?' });
  const offer = (await owner.post<{ id: string; slug: string; version: number }>('/api/v1/offers', { headline: 'A wheel', about: '', benefits: [], language: 'en', products: [ids.products], category: 'Other' })).body;
  await owner.post(`/api/v1/offers/${offer.id}/live`, { on: true, version: offer.version });
  [ids.offers, ids.slug] = [offer.id, offer.slug];
  await owner.post('/api/v1/notices', { kind: 'news', title: 'News', body: 'New.', product: null });
  const draft = (await owner.post<{ id: string; content: object; version: number }>('/api/v1/policies/draft')).body;
  const edited = (await owner.put<{ version: number }>(`/api/v1/policies/${draft.id}`, { ...draft.content, general: 'Mark your links.', version: draft.version })).body;
  await owner.post(`/api/v1/policies/${draft.id}/publish`, { version: edited.version });
  ids.policies = draft.id;
  await owner.post('/api/v1/segments', { name: 'Active', filter: { state: 'active' }, columns: [] });
  await owner.post('/api/v1/templates', { use: 'message', name: 'T', subject: 'S', body: 'Body' });
  await owner.post('/api/v1/messages', { ids: [mine.id], subject: 'S', body: 'Body', kind: 'letter' });
  ids.letter = /letters\/(\S+)/.exec(one("SELECT body FROM messages WHERE kind = 'letter'"))![1]!;
  await owner.post('/api/v1/draft/rates', { column: { of: 'everyone' }, row: { of: 'everything' }, event: 'sale', mode: 'base', reward: { kind: 'percent', value: '20' } });
  ids.rehearsals = (await owner.post<{ id: string }>('/api/v1/rehearsals', { from: '2026-01-01', to: at.slice(0, 10) })).body.id;
  for (let tries = 0; tries < 400 && (await owner.get<{ state: string }>(`/api/v1/rehearsals/${ids.rehearsals}`)).body.state === 'running'; tries += 1) await new Promise((done) => { setTimeout(done, 25); });
});
afterAll(() => s.close());

/** What a call cannot do without. */
const asked: Record<string, string> = { search: '?q=loam', confirmation: '?bought=WHEEL-1', 'rate-book/ask': '?column=everyone', 'lines/:order': '?position=0' };

const reading = endpoints.filter(([, end]) => end.method === 'GET');

describe('every answer is what the contract says', () => {
  it.each(reading)('%s', async (_, end) => {
    const parts = end.path.split('/');
    const path = end.path.replace('open/v1/products/:id', 'open/v1/products/WHEEL-1').replace(':id', ids[parts[parts.indexOf(':id') - 1] ?? ''] ?? '').replace(':order', ids.orders!).replace('letters/:token', `letters/${ids.letter}`).replace(':slug', ids.slug!).replace(':token', ids.question!);
    expect(path).not.toContain(':');
    const client = end.access === 'affiliate' ? mine.client : await s.as('owner');
    const answer = await client.get(`${path}${Object.entries(asked).find(([ending]) => end.path.endsWith(`/${ending}`))?.[1] ?? ''}`);
    expect(answer.status, answer.text).toBe(200);
    if (end.media) expect(answer.headers.get('content-type')).toContain(end.media);
    else expect(faultsOf(end.reply, answer.body)).toEqual([]);
  });
  it('so are the answers to reports, and refusals', async () => {
    const at = new Date(s.app.clock.now()).toISOString();
    const order = { order: 'Q-9', placedAt: at, currency: 'EUR', lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }] };
    for (const body of [order, order, { ...order, order: 'Q-10', visit: await s.visit(await mine.link('WHEEL-1')) }]) {
      expect(faultsOf(ReportAnswer, (await s.report('orders', body)).body)).toEqual([]);
    }
    expect((await mine.client.get('/docs/errors')).text).toContain('## contradicts');
    for (const refused of [await s.report('orders', {}), await s.report('orders', order, { 'x-gravenel-key': 'x' }), await (await s.as('viewer')).post('/api/v1/products', {}), await mine.client.get('/api/v1/products')]) {
      expect(faultsOf(ProblemOut, refused.body)).toEqual([]);
      expect(refused.headers.get('content-type')).toContain('application/problem+json');
    }
  });
});

describe('the contract', () => {
  it('asks for a key wherever money moves or something is decided', () => {
    const without = endpoints.filter(([, e]) => e.method !== 'GET' && Array.isArray(e.access) && !e.once).map(([name]) => name);
    // these are harmless when repeated: the bank knows a file by its id, a status report changes nothing twice, a secret is only shown, a preview changes nothing, a page is only looked at, the same upload is kept once, a password is the same the second time
    expect(without.sort()).toEqual(['changeOwnPassword', 'checkPages', 'collectStatus', 'deliverRun', 'previewBulk', 'previewImport', 'previewInvite', 'previewMembers', 'previewMessage', 'previewPlaces', 'readStatusReport', 'refreshProspects', 'revealKey', 'setFile', 'setLogo', 'setPicture', 'weighDecision']);
  });
  it('lets a viewer change nothing', () => {
    // but the own password
    expect(endpoints.filter(([, e]) => e.method !== 'GET' && Array.isArray(e.access) && (e.access as string[]).includes('viewer')).map(([name]) => name)).toEqual(['changeOwnPassword']);
  });
});

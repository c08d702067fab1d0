import PostalMime from 'postal-mime';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import type { CoverageOut } from '../../../src/contract/equip/coverage';
import type { CreativeOut } from '../../../src/contract/equip/creatives';
import type { OwnRequest, RequestOut } from '../../../src/contract/equip/requests';
import type { ResultsOut } from '../../../src/contract/equip/results';
import type { OwnCreative, OwnRow } from '../../../src/contract/portal/material';
import type { Id } from '../../../src/core/text/id';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import type { Problemed } from '../../helpers/problem';
import { startServer, type TestServer } from '../../helpers/server';
import { edited, make, makeLink, pictureOf, upload } from './world';

let s: TestServer;
let owner: Client;
let wheel: Id<'product'>;
let loam: Awaited<ReturnType<TestServer['affiliate']>>;
let kiln: Awaited<ReturnType<TestServer['affiliate']>>;

beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  wheel = (await s.product('WHEEL-1')) as Id<'product'>;
  await s.product('THROW-V');
  loam = await s.affiliate('Loam Letters');
  kiln = await s.affiliate('Kiln Diaries', { product: 'THROW-V' });
});
afterAll(() => s.close());

const names = async (client: Client, query = '') =>
  (await client.get<{ rows: OwnRow[] }>(`/api/v1/portal/material${query}`)).body.rows.map((r) => r.name);
const take = (client: Client, id: string) =>
  client.post<OwnCreative & Problemed>(`/api/v1/portal/material/${id}/link`);

it('an affiliate finds what is on, for it, and for what it promotes; nothing else', async () => {
  const { body: tag } = await owner.post<{ id: Id<'set'> }>('/api/v1/sets', {
    ...{ of: 'tag', name: 'front page', about: '', colour: '' },
  });
  await makeLink(owner, { name: 'For all', products: [wheel] });
  await makeLink(owner, { name: 'Off', products: [wheel], active: false });
  await makeLink(owner, {
    ...{ name: 'For Kiln', products: [], landing: 'https://shop.quernstone.example/' },
    audience: { kind: 'named', affiliates: [kiln.id] },
  });
  await makeLink(owner, { name: 'Tagged', products: [wheel], audience: { kind: 'tag', set: tag.id } });
  expect(await names(loam.client)).toEqual(['For all']);
  // who promotes the course alone finds nothing of the wheel
  expect(await names(kiln.client)).toEqual(['For Kiln']);
  await owner.post(`/api/v1/sets/${tag.id}/members`, { names: 'loam-letters', others: 'keep' });
  expect(await names(loam.client)).toEqual(['Tagged', 'For all']);
});

it('its link is made the first time, once, also when it is taken twice at once, and earns', async () => {
  const { body: made } = await makeLink(owner, { name: 'Taken', products: [wheel] });
  const count = () =>
    s.app.sqlite.prepare('SELECT count(*) FROM links WHERE creative = ?').pluck().get(made.id);
  expect(count()).toBe(0);
  const both = await Promise.all([take(loam.client, made.id), take(loam.client, made.id)]);
  expect(new Set(both.map((r) => r.body.copies?.link)).size).toBe(1);
  expect(count()).toBe(1);
  const visit = await s.visit(both[0].body.copies!.link);
  const placedAt = new Date(s.app.clock.now()).toISOString();
  const order = { order: 'M-1', placedAt, currency: 'EUR', visit };
  const line = { product: 'WHEEL-1', quantity: 1, amount: '100.00' };
  await s.report('orders', { ...order, lines: [line] });
  const results = async () => (await owner.get<ResultsOut>(`/api/v1/creatives/${made.id}/results`)).body;
  expect(await results()).toMatchObject({
    clicks: 1,
    orders: 1,
    affiliates: 1,
    commission: { amount: 1_000 },
    epc: { amount: 100_000 },
  });
  // a look that nobody took leaves the last click as it is
  const { lastUsed } = await results();
  s.app.clock.advance(60_000);
  await owner.send('HEAD', both[0].body.copies!.link);
  expect([(await results()).lastUsed, lastUsed]).toEqual([lastUsed, expect.any(Number)]);
  await s.report('refunds', { refund: 'R-M', order: 'M-1', at: placedAt, kind: 'refund', full: true });
  expect((await results()).commission.amount).toBe(0);
  const id = s.app.sqlite.prepare("SELECT id FROM orders WHERE reference = 'M-1'").pluck().get() as string;
  const sale = await owner.get<{ came: { creative: { name: string } } }>(`/api/v1/orders/${id}`);
  expect(sale.body.came.creative.name).toBe('Taken');
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('a link of what was switched off or taken away leads on and earns, and is offered to nobody', async () => {
  const { body: made } = await makeLink(owner, { name: 'Goes', products: [wheel] });
  const { link } = (await take(loam.client, made.id)).body.copies!;
  await owner.post(`/api/v1/creatives/${made.id}/remove`, { on: true });
  const visit = await s.visit(link);
  const row = s.app.sqlite.prepare('SELECT barred, creative FROM visits WHERE id = ?').get(visit);
  expect(row).toEqual({ barred: null, creative: made.id });
  expect((await take(loam.client, made.id)).status).toBe(404);
  expect(await names(loam.client)).not.toContain('Goes');
});

it('a page of its own leads there, a change of it at once, and a product that is paused to what it says', async () => {
  const { body: made } = await makeLink(owner, {
    ...{ name: 'Leads', products: [wheel], landing: 'https://shop.quernstone.example/easter' },
  });
  const { link } = (await take(loam.client, made.id)).body.copies!;
  const path = async () => new URL((await owner.send('GET', link)).headers.get('location')!).pathname;
  expect(await path()).toBe('/easter');
  await owner.put(`/api/v1/creatives/${made.id}`, edited(made, { landing: '' }));
  expect(await path()).toBe('/p/WHEEL-1');
});

it('what came since the last visit is marked as new, for the whole of a visit', async () => {
  await loam.client.post('/api/v1/portal/seen');
  s.app.clock.advance(3_600_000);
  await makeLink(owner, { name: 'Fresh', products: [wheel] });
  await loam.client.post('/api/v1/portal/seen');
  const fresh = async () =>
    (await loam.client.get<{ rows: OwnRow[] }>('/api/v1/portal/material')).body.rows
      .filter((r) => r.isNew)
      .map((r) => r.name);
  expect(await fresh()).toEqual(['Fresh']);
  s.app.clock.advance(60_000);
  await loam.client.post('/api/v1/portal/seen');
  expect(await fresh()).toEqual(['Fresh']);
  s.app.clock.advance(3_600_000);
  await loam.client.post('/api/v1/portal/seen');
  expect(await fresh()).toEqual([]);
});

it('a ready-made e-mail is a file that a mail program opens, with the words filled', async () => {
  await owner.post('/api/v1/coupons', {
    ...{ code: 'LETTER5', gives: 'percent', value: '5', words: '', least: '', products: [wheel] },
    ...{ landing: '', terms: '', owner: null, audience: { kind: 'everybody' }, applied: true },
    ...{ active: true, from: null, until: null },
  });
  const { body: made } = await make(owner, 'email', {
    name: 'First pot',
    products: [wheel],
    subjects: ['My first pot', 'For {price WHEEL-1}: {product}'],
    body: 'Dear reader,\n\n[the *{product}*]({link}) with {coupon}. <b>no</b>\n\n{name}, {handle}',
  });
  const { body } = await take(loam.client, made.id);
  expect(body.letter.text).toContain(`with LETTER5. <b>no</b>\n\nLoam Letters, loam-letters`);
  expect(body.letter.html).toContain(`<a href="${body.copies!.link}">the <em>Product WHEEL-1</em></a>`);
  expect(body.letter.html).toContain('&lt;b&gt;no&lt;/b&gt;');
  const eml = await loam.client.get(`/api/v1/portal/material/${made.id}/letter.eml?subject=2`);
  const mail = await PostalMime.parse(eml.text);
  expect(mail.subject).toBe('For €100.00: Product WHEEL-1');
  expect(mail.text).toContain(body.copies!.link);
  expect(mail.html).toContain(`href="${body.copies!.link}"`);
  expect(mail.headers.find((h) => h.key === 'x-unsent')?.value).toBe('1');
  expect(mail.to ?? []).toEqual([]);
});

it('an affiliate asks for a size, is answered with a creative that it finds, and is told', async () => {
  const asked = await loam.client.post<OwnRequest & Problemed>('/api/v1/portal/requests', {
    ...{ kind: 'banner', size: '160 x 600', subject: '', language: '', product: 'WHEEL-1' },
    words: 'A tall one for my column.',
  });
  expect([asked.status, asked.body.size]).toEqual([200, '160×600']);
  const open = (await owner.get<{ rows: RequestOut[] }>('/api/v1/requests')).body.rows;
  expect(open.map((r) => [r.affiliate.name, r.state])).toEqual([['Loam Letters', 'open']]);
  const { body: file } = await upload(owner, 'tall.png', await pictureOf(160, 600));
  const hidden = await make(owner, 'banner', {
    ...{ name: 'Hidden', products: [wheel], file: file.hash },
    audience: { kind: 'named', affiliates: [kiln.id] },
  });
  const answer = (creative: string | null, words = '') =>
    owner.post<RequestOut & Problemed>(`/api/v1/requests/${asked.body.id}/answer`, {
      ...{ creative, answer: words, version: open[0]!.version },
    });
  expect((await answer(hidden.body.id)).body.errors?.[0]?.pointer).toBe('/creative');
  expect((await answer(null)).body.errors?.[0]?.pointer).toBe('/answer');
  const tall = await make(owner, 'banner', { name: 'Tall', products: [wheel], file: file.hash });
  expect((await answer(tall.body.id, 'Here it is.')).status).toBe(200);
  expect((await answer(tall.body.id)).body.code).toBe('stale');
  const own = (await loam.client.get<{ rows: OwnRequest[] }>('/api/v1/portal/requests')).body.rows;
  expect(own[0]).toMatchObject({ state: 'answered', answer: 'Here it is.', creative: { name: 'Tall' } });
  const told = s.app.sqlite
    .prepare("SELECT body FROM messages WHERE kind = 'material'")
    .pluck()
    .get() as string;
  expect(told).toContain(`/portal/creatives?id=${tall.body.id}`);
  expect(await names(loam.client, '?size=160x600')).toEqual(['Tall']);
  await owner.post(`/api/v1/requests/${asked.body.id}/reopen`);
  expect((await owner.get<{ rows: RequestOut[] }>('/api/v1/requests')).body.rows).toHaveLength(1);
});

it('somebody else’s requests do not exist, and ten that wait are the most', async () => {
  const ask = (client: Client, words: string) =>
    client.post<OwnRequest & Problemed>('/api/v1/portal/requests', {
      ...{ kind: 'email', size: '', subject: '', language: '', product: '', words },
    });
  const { body } = await ask(kiln.client, 'A letter, please.');
  expect((await loam.client.post(`/api/v1/portal/requests/${body.id}/withdraw`)).status).toBe(404);
  for (let i = 1; i < 10; i += 1) await ask(kiln.client, `Number ${i}`);
  expect((await ask(kiln.client, 'One too many')).status).toBe(429);
  expect((await kiln.client.post(`/api/v1/portal/requests/${body.id}/withdraw`)).status).toBe(200);
  expect((await ask(kiln.client, 'Now it fits')).status).toBe(200);
});

it('coverage says what is missing, and a creative fills it', async () => {
  const read = async () => (await owner.get<CoverageOut>('/api/v1/coverage')).body;
  const rowOf = (c: CoverageOut, code: string) => c.rows.find((r) => r.code === code)!;
  const before = await read();
  expect(before.missing.map((m) => m.text)).toContain('Product THROW-V has nothing at all');
  expect(rowOf(before, 'WHEEL-1').sizes.find((x) => x.size === '160×600')?.count).toBe(2);
  expect(rowOf(before, 'WHEEL-1').sizes.find((x) => x.size === '728×90')?.count).toBe(0);
  const { body: file } = await upload(owner, 'wide.png', await pictureOf(728, 90));
  await make(owner, 'banner', { name: 'Wide', products: [wheel], file: file.hash });
  expect(rowOf(await read(), 'WHEEL-1').sizes.find((x) => x.size === '728×90')?.count).toBe(1);
});

it('words that say otherwise than it is are marked', async () => {
  const { body } = await makeLink(owner, {
    name: 'Wrong',
    products: [wheel],
    words: 'Save 12 % with LETTER5',
  });
  const shown = (await owner.get<CreativeOut>(`/api/v1/creatives/${body.id}`)).body.row.contradicts;
  expect(shown).toEqual([{ says: '12 %', stands: 'LETTER5 gives 5 %' }]);
  const waiting = (await owner.get<{ waiting: { kind: string; text: string }[] }>('/api/v1/today')).body
    .waiting;
  expect(waiting.map((w) => w.text)).toContain('1 creative contradicts your terms');
});

it('what is on for a month without a click looks unused, and is found as such; with an order its share is said', async () => {
  const { body: made } = await makeLink(owner, { name: 'Left alone', products: [wheel] });
  const book = async (query: string) =>
    (
      await owner.get<{
        rows: { name: string; unused: boolean; conversion: number | null; orders: number }[];
      }>(`/api/v1/creatives?${query}`)
    ).body.rows;
  const lookedAt = async () => (await book('')).find((r) => r.name === 'Left alone')!;
  const unused = async () => (await book('state=unused')).map((r) => r.name);
  expect(await unused()).not.toContain('Left alone');
  expect(await lookedAt()).toMatchObject({ unused: false, conversion: null });
  s.days(31);
  expect(await unused()).toContain('Left alone');
  expect((await lookedAt()).unused).toBe(true);
  const link = (await take(loam.client, made.id)).body.copies!.link;
  await s.visit(link);
  const visit = await s.visit(link);
  expect(await unused()).not.toContain('Left alone');
  await s.report('orders', {
    order: 'USED-1',
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
    visit,
  });
  expect(await lookedAt()).toMatchObject({ unused: false, orders: 1, conversion: 500_000 });
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

import { parseJsonFeed, parseRssFeed } from 'feedsmith';
import Papa from 'papaparse';
import Parser from 'rss-parser';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import type { OwnFeeds } from '../../../src/contract/portal/feeds';
import { startServer, type TestServer } from '../../helpers/server';

let s: TestServer;
let owner: Client;
let loam: Awaited<ReturnType<TestServer['affiliate']>>;
let feeds: OwnFeeds;
let ending: number;

const coupon = (code: string, fields: object = {}) =>
  owner.post('/api/v1/coupons', {
    ...{ code, gives: 'percent', value: '10', words: '', least: '', products: [], landing: '' },
    ...{ terms: 'Once & only <once>.', owner: null, audience: { kind: 'everybody' }, applied: true },
    ...{ active: true, from: null, until: null, ...fields },
  });

beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  const wheel = await s.product('WHEEL-1', { description: 'A wheel & a bat, "ready".' });
  loam = await s.affiliate('Loam Letters');
  ending = s.app.clock.now() + 3_600_000;
  await coupon('WHEEL10', { until: ending });
  await coupon('TYPED5', { applied: false });
  await owner.post('/api/v1/offers', {
    ...{ headline: 'A wheel that fits', about: 'For {price WHEEL-1}.', benefits: [], language: 'en' },
    ...{ products: [wheel], category: 'Other' },
  });
  const { rows } = (await owner.get<{ rows: { id: string; version: number }[] }>('/api/v1/offers')).body;
  await owner.post(`/api/v1/offers/${rows[0]!.id}/live`, { on: true, version: rows[0]!.version });
  feeds = (await loam.client.post<OwnFeeds>('/api/v1/portal/feeds')).body;
});
afterAll(() => s.close());

const get = (address: string, headers: Record<string, string> = {}) => fetch(address, { headers });
const text = async (address: string) => (await get(address)).text();

it('coupons are RSS 2.0 to readers that nobody here wrote, with an own link of each', async () => {
  const body = await text(feeds.own!.coupons.rss);
  const channel = parseRssFeed(body);
  expect(channel.title).toBe('Quernstone Clayworks: coupons');
  expect(channel.items?.map((i) => i.title)).toEqual(['TYPED5: 10 % off', 'WHEEL10: 10 % off']);
  const other = await new Parser().parseString(body);
  expect(other.items.map((i) => i.guid)).toEqual(channel.items?.map((i) => i.guid?.value));
  // readers take a description for HTML
  expect(other.items[1]!.contentSnippet).toContain('Once & only <once>.');
  const led = await fetch(other.items[1]!.link!, { redirect: 'manual' });
  expect(new URL(led.headers.get('location')!).searchParams.get('coupon')).toBe('WHEEL10');
  expect(new Date(other.items[0]!.isoDate!).getTime()).toBeLessThanOrEqual(s.app.clock.now());
});

it('the same as JSON Feed 1.1', async () => {
  const answer = await get(feeds.own!.coupons.json);
  expect(answer.headers.get('content-type')).toContain('application/feed+json');
  const body: unknown = await answer.json();
  expect(body).toMatchObject({ version: 'https://jsonfeed.org/version/1.1' });
  const feed = parseJsonFeed(body);
  expect(feed.items?.map((i) => [i.title, typeof i.date_published])).toEqual([
    ['TYPED5: 10 % off', 'string'],
    ['WHEEL10: 10 % off', 'string'],
  ]);
  expect((body as { items: { _gravenel: object }[] }).items[1]!._gravenel).toMatchObject({
    code: 'WHEEL10',
    until: new Date(ending).toISOString(),
  });
});

it('products have present price, rate and own link as RSS, JSON and CSV', async () => {
  const link = await loam.link('WHEEL-1');
  const rss = parseRssFeed(await text(feeds.own!.products.rss));
  expect(rss.items?.[0]).toMatchObject({ title: 'Product WHEEL-1, 100.00 EUR', link });
  const json = parseJsonFeed(JSON.parse(await text(feeds.own!.products.json)));
  expect(json.items?.[0]).toMatchObject({
    url: link,
    content_text: expect.stringContaining('You earn 10 %'),
  });
  const csv = Papa.parse<Record<string, string>>((await text(feeds.own!.products.csv)).trim(), {
    header: true,
  });
  expect(csv.data[0]).toMatchObject({
    code: 'WHEEL-1',
    price: '100.00',
    currency: 'EUR',
    description: 'A wheel & a bat, "ready".',
    link,
  });
});

it('what has not changed is answered with 304, what has with the feed', async () => {
  const address = feeds.own!.products.json;
  const first = await get(address);
  const tag = first.headers.get('etag')!;
  expect((await get(address, { 'if-none-match': tag })).status).toBe(304);
  // written anew it has the same tag
  s.app.clock.advance(61_000);
  expect((await get(address, { 'if-none-match': tag })).status).toBe(304);
  await s.product('ROLL-1');
  await owner.get('/api/v1/products');
  const approved = await loam.client.get<{ links: { code: string }[] }>('/api/v1/portal/home');
  expect(approved.body.links.map((l) => l.code)).toContain('ROLL-1');
  const after = await get(address, { 'if-none-match': tag });
  expect(after.status).toBe(200);
  expect(after.headers.get('etag')).not.toBe(tag);
});

it('a coupon leaves the feed the moment it ends', async () => {
  const address = feeds.own!.coupons.json;
  const tag = (await get(address)).headers.get('etag')!;
  s.app.clock.advance(ending - s.app.clock.now() - 1_000);
  expect((await get(address, { 'if-none-match': tag })).status).toBe(304);
  s.app.clock.advance(1_500);
  const after = await get(address, { 'if-none-match': tag });
  expect(after.status).toBe(200);
  expect(await after.text()).not.toContain('WHEEL10');
});

it('addresses that were renewed, made up, or of who has left lead nowhere', async () => {
  const before = feeds.own!.coupons.rss;
  feeds = (await loam.client.post<OwnFeeds>('/api/v1/portal/feeds')).body;
  expect(feeds.own!.coupons.rss).not.toBe(before);
  expect((await get(before)).status).toBe(404);
  expect((await get(feeds.own!.coupons.rss)).status).toBe(200);
  for (const path of [
    '/feeds/aaaa/coupons.rss',
    '/feeds/nothing.rss',
    `/feeds/${'x'.repeat(24)}/coupons.csv`,
  ])
    expect((await get(s.address + path)).status, path).toBe(404);
  s.app.sqlite.prepare("UPDATE affiliates SET state = 'blocked' WHERE id = ?").run(loam.id);
  expect((await get(feeds.own!.coupons.rss)).status).toBe(404);
  s.app.sqlite.prepare("UPDATE affiliates SET state = 'active' WHERE id = ?").run(loam.id);
});

it('the offers are a feed for everybody; staff who look at a portal see no secret', async () => {
  const offers = parseRssFeed(await text(feeds.offers.rss));
  expect(offers.items?.map((i) => [i.title, i.description])).toEqual([['A wheel that fits', 'For €100.00.']]);
  const looked = await owner.send<OwnFeeds>('GET', '/api/v1/portal/feeds', undefined, {
    'x-gravenel-as': loam.id,
  });
  expect(looked.body.own).toBeNull();
});

import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { Client } from '../scripts/journey/client';
import type { OwnCreative } from '../src/contract/portal/material';
import { withServer, type Running } from './children';
import { moreCreatives, moreProducts, type Enlarged } from './equip-data';
import { compare, Load, request } from './load';
import { report } from './report';

const password = 'quernstone clay';
const connections = 64;

/** Links of creatives, the sample book, files, coverage and feeds, each against its limit in the same run. */
export async function benchEquip(): Promise<void> {
  let large: Enlarged | null = null;
  await withServer(
    async (running) => {
      await redirects(running);
      await book(running);
      await file(running, large!);
      await coverage(running);
    },
    (data) => {
      large = moreCreatives(data);
    },
  );
  await withServer(feed, moreProducts);
}

async function signedIn(port: number, side: 'portal/session' | 'session', email: string): Promise<Client> {
  const client = new Client(`http://127.0.0.1:${port}`);
  await client.post(`/api/v1/${side}`, { email, password });
  return client;
}
const mara = (port: number) => signedIn(port, 'portal/session', 'mara@loamletters.example');
const ines = (port: number) => signedIn(port, 'session', 'ines@quernstone.example');

async function redirects({ port, data, bare }: Running): Promise<void> {
  const portal = await mara(port);
  const { rows } = (await portal.get<{ rows: { id: string }[] }>('/api/v1/portal/material?kind=banner')).body;
  const taken = await portal.post<OwnCreative>(`/api/v1/portal/material/${rows[0]!.id}/link`);
  const bytes = request('GET', new URL(taken.body.copies!.link).pathname);
  const open = (to: number) => Load.open(to, connections, () => bytes, 'HTTP/1.1 302');
  const http = await open(await bare('bare-http.ts'));
  const express = await open(await bare('bare-express.ts', { DATA: data }));
  const ours = await open(port);
  report('redirect by a creative ÷ bare node:http redirect', await compare(ours, http, 8), 0.4);
  report(
    'redirect by a creative ÷ Express redirect that stores nothing',
    await compare(ours, express, 8),
    2.5,
  );
  [http, express, ours].forEach((load) => load.close());
}

const inAPage = 50;

/** The cursor of a page far into the book. */
async function pageFiftyOf(desk: Client): Promise<string> {
  let after = '';
  for (let page = 1; page < 50; page += 1) {
    const found = await desk.get<{ next: string | null }>(
      `/api/v1/creatives?limit=${inAPage}${after && `&after=${after}`}`,
    );
    after = found.body.next!;
  }
  return after;
}

async function book({ port }: Running): Promise<void> {
  const desk = await ines(port);
  const after = await pageFiftyOf(desk);
  const open = (path: string) =>
    Load.open(port, 1, () => request('GET', path, { cookie: desk.cookies }), 'HTTP/1.1 200');
  const first = await open(`/api/v1/creatives?limit=${inAPage}`);
  const far = await open(`/api/v1/creatives?limit=${inAPage}&after=${after}`);
  report('sample book of 5,000 creatives, page 50 ÷ page 1', await compare(far, first, 6), 0.7);
  [first, far].forEach((load) => load.close());
}

async function file({ port, data, bare }: Running, { hash, bytes }: Enlarged): Promise<void> {
  const path = join(data, 'material', hash.slice(0, 2), hash);
  if (readFileSync(path).length !== bytes) throw new Error('the file is another');
  const get = () => request('GET', `/material/${hash}.png`);
  const ours = await Load.open(port, 16, get, 'HTTP/1.1 200');
  const limit = await Load.open(await bare('bare-static.ts', { FILE: path }), 16, get, 'HTTP/1.1 200');
  report('a banner’s file ÷ bare node:http that streams it', await compare(ours, limit, 8), 0.5);
  [ours, limit].forEach((load) => load.close());
}

/** What is on, by product, kind and size: the one question that coverage is made of. */
const counted = `SELECT p.product, c.kind, c.width, c.height, count(*) FROM creatives c JOIN creative_products p ON p.creative = c.id
  WHERE c.removed_at IS NULL AND (c.valid_until IS NULL OR c.valid_until > @now) AND c.active = 1 AND (c.valid_from IS NULL OR c.valid_from <= @now)
    AND EXISTS (SELECT 1 FROM creative_products s WHERE s.creative = c.id AND +s.product IN (SELECT 'programme' UNION ALL SELECT id FROM products WHERE state = 'live'))
  GROUP BY 1, 2, 3, 4`;

async function coverage({ port, data }: Running): Promise<void> {
  const desk = await ines(port);
  const sqlite = new Database(join(data, 'gravenel.sqlite'), { readonly: true });
  const ask = sqlite.prepare(counted);
  const rate = async (work: () => unknown): Promise<number> => {
    const began = performance.now();
    let times = 0;
    for (; performance.now() - began < 2_000; times += 1) await work();
    return (times * 1000) / (performance.now() - began);
  };
  const { now } = (await desk.get<{ now: number }>('/api/v1/session')).body;
  const answer = () => desk.get('/api/v1/coverage');
  await answer();
  const [ours, limit] = [await rate(answer), await rate(() => ask.all({ now }))];
  sqlite.close();
  report(
    'coverage of 5,000 creatives over HTTP ÷ the one question it is made of',
    { ours: Math.round(ours), limit: Math.round(limit), ratio: Number((ours / limit).toFixed(2)) },
    0.5,
  );
}

async function feed({ port }: Running): Promise<void> {
  const portal = await mara(port);
  const { own } = (await portal.post<{ own: { products: { rss: string } } }>('/api/v1/portal/feeds')).body;
  const path = new URL(own.products.rss).pathname;
  const full = await portal.send('GET', path);
  const etag = full.headers.get('etag')!;
  // whoever fetches a feed is counted: not many a minute, so each is timed
  const [known, whole]: [number[], number[]] = [[], []];
  const timed = async (times: number[], headers: Record<string, string>, wanted: number) => {
    const began = performance.now();
    const { status } = await portal.send('GET', path, undefined, headers);
    if (status !== wanted) throw new Error(`the feed answered ${status}`);
    times.push(performance.now() - began);
  };
  for (let i = 0; i < 10; i += 1) {
    await timed(whole, {}, 200);
    await timed(known, { 'if-none-match': etag }, 304);
  }
  const rateOf = (times: number[]) => 1000 / [...times].sort((x, y) => x - y)[times.length >> 1]!;
  const [ours, limit] = [rateOf(known), rateOf(whole)];
  report(
    'feed of 2,000 products, 304 ÷ the whole of it',
    { ours: Math.round(ours), limit: Math.round(limit), ratio: Number((ours / limit).toFixed(1)) },
    5,
  );
}

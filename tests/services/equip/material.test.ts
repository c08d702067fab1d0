import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { isId, type Id } from '../../../src/core/text/id';
import { sweepUploads } from '../../../src/server/equip/creatives/sweep';
import { startServer, type TestServer } from '../../helpers/server';
import { edited, make, pictureOf, upload } from './world';

let s: TestServer;
let owner: Client;
let product: Id<'product'>;

beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  const id = await s.product('WHEEL-1');
  if (isId(id, 'product')) product = id;
});
afterAll(() => s.close());

it('a picture is taken by its content: size and kind are read from it, and it is served for ever', async () => {
  const bytes = await pictureOf(300, 250);
  const { status, body } = await upload(owner, 'box.txt', bytes);
  expect([status, body.format, body.width, body.height, body.moving]).toEqual([200, 'PNG', 300, 250, false]);
  const served = await fetch(body.url);
  expect(Buffer.from(await served.arrayBuffer()).equals(bytes)).toBe(true);
  expect(served.headers.get('content-type')).toBe('image/png');
  expect(served.headers.get('x-content-type-options')).toBe('nosniff');
  expect(served.headers.get('cache-control')).toContain('immutable');
  expect(served.headers.get('access-control-allow-origin')).toBe('*');
  expect(served.headers.get('content-security-policy')).toContain('sandbox');
});

it('the same content is kept once, also when two upload it at once', async () => {
  const bytes = await pictureOf(320, 50, '#9A4A1F');
  const both = await Promise.all([upload(owner, 'a.png', bytes), upload(owner, 'b.png', bytes)]);
  expect(both.map((r) => r.status)).toEqual([200, 200]);
  expect(new Set(both.map((r) => r.body.hash)).size).toBe(1);
  const count = s.app.sqlite
    .prepare('SELECT count(*) FROM material_files WHERE hash = ?')
    .pluck()
    .get(both[0].body.hash);
  expect(count).toBe(1);
});

const header = (width: number, height: number) => {
  const gif = Buffer.alloc(40);
  gif.write('GIF89a');
  gif.writeUInt16LE(width, 6);
  gif.writeUInt16LE(height, 8);
  return gif;
};

it.each<[string, string, () => Buffer | Promise<Buffer>, RegExp]>([
  [
    'a page under a picture’s name',
    'box.png',
    () => Buffer.from('<!doctype html><html><body>'),
    /is a page in HTML/,
  ],
  [
    'a drawing with a script',
    'box.svg',
    () => Buffer.from('<svg xmlns="x"><script>1</script></svg>'),
    /is an SVG drawing/,
  ],
  ['a moving picture of 60 megapixels', 'big.gif', () => header(10_000, 6_000), /megapixels|broken/],
  [
    'an archive called a video',
    'pot.mp4',
    () => Buffer.from('PK\u0003\u0004aaaaaaaaaaaaaaaaaaaaaaaaa'),
    /is a ZIP archive/,
  ],
  [
    'a picture that ends in the middle',
    'half.png',
    async () =>
      (
        await sharp({
          create: {
            width: 400,
            height: 400,
            channels: 3,
            background: '#123',
            noise: { type: 'gaussian', mean: 90, sigma: 60 },
          },
        })
          .png()
          .toBuffer()
      ).subarray(0, 9_000),
    /is broken/,
  ],
  [
    'a banner of ten megabytes and a byte',
    'big.png',
    async () => Buffer.concat([await pictureOf(300, 250), Buffer.alloc(10 * 1024 * 1024)]),
    /has [\d,]+ bytes more than 10\.0 MB: a banner may have 10\.0 MB/,
  ],
  [
    'a video without its list',
    'pot.mp4',
    () => Buffer.from('\0\0\0\u0018ftypisom\0\0\u0002\0isomiso2'),
    /no list of its contents/,
  ],
])('%s is refused with what was found', async (_, name, bytes, said) => {
  const { status, body } = await upload(owner, name, await bytes());
  expect([status, body.errors?.[0]?.pointer]).toEqual([422, '/file']);
  expect(body.detail).toMatch(said);
});

it('a file of more than a video may have is refused before it is looked at, and one that breaks off changes nothing', async () => {
  const before = s.app.sqlite.prepare('SELECT count(*) FROM material_files').pluck().get();
  const large = await upload(owner, 'large.mp4', Buffer.alloc(25 * 1024 * 1024 + 1));
  expect([large.status, large.body.code]).toEqual([413, 'too-large']);
  const empty = await upload(owner, 'empty.png', Buffer.alloc(0));
  expect([empty.status, empty.body.errors?.[0]?.pointer]).toEqual([422, '/file']);
  expect(s.app.sqlite.prepare('SELECT count(*) FROM material_files').pluck().get()).toBe(before);
});

it('a heavy picture is said to be one, with what it would have as WebP, and the copy is made', async () => {
  const noisy = await sharp({
    create: {
      width: 900,
      height: 700,
      channels: 3,
      background: '#888',
      noise: { type: 'gaussian', mean: 128, sigma: 40 },
    },
  })
    .png()
    .toBuffer();
  const { body } = await upload(owner, 'noisy.png', noisy);
  expect(body.bytes).toBeGreaterThan(1024 * 1024);
  expect(body.asWebp).toBeLessThan(body.bytes);
  const made = await make(owner, 'banner', { name: 'Heavy', products: [product], file: body.hash });
  expect(made.body.advice).toEqual([expect.stringMatching(/^It has \d\.\d MB.* as WebP it would have/)]);
  const lighter = await owner.post<{ format: string; bytes: number; width: number }>(
    `/api/v1/material/${body.hash}/webp`,
  );
  expect(lighter.body).toMatchObject({ format: 'WebP', width: 900, bytes: body.asWebp });
  const again = await owner.post<{ code: string }>(
    `/api/v1/material/${(lighter.body as { hash?: string }).hash}/webp`,
  );
  expect(again.body.code).toBe('conflict');
});

it('a part of a file is answered as such, and an address that is none of ours is not found', async () => {
  const { body } = await upload(owner, 'box.png', await pictureOf(300, 250));
  const part = await fetch(body.url, { headers: { range: 'bytes=0-9' } });
  expect([part.status, part.headers.get('content-range')]).toEqual([206, `bytes 0-9/${body.bytes}`]);
  for (const path of [
    `/material/${'0'.repeat(64)}.png`,
    `/material/${body.hash}.jpg`,
    `/material/${body.hash}`,
    '/material/..%2f..%2fseal.key',
  ])
    expect([path, (await fetch(s.address + path)).status]).toEqual([path, 404]);
  for (const query of ['download=a.png&download=b.png', 'download[x]=1', 'download=%0d%0ax'])
    expect([query, (await fetch(`${body.url}?${query}`)).status]).toEqual([query, 200]);
});

it('who only reads, and affiliates, upload nothing', async () => {
  const bytes = await pictureOf(300, 250);
  expect((await upload(await s.as('viewer'), 'a.png', bytes)).status).toBe(403);
  const { client } = await s.affiliate('Loam Letters');
  expect((await upload(client, 'a.png', bytes)).status).toBe(401);
});

it('an upload that no creative ever had is swept away after a month; what one had once stays', async () => {
  const [kept, planned, left, late] = await Promise.all(
    [81, 82, 83, 84].map(async (width) => (await upload(owner, 'p.png', await pictureOf(width, 60))).body),
  );
  const { body: made } = await make(owner, 'banner', {
    ...{ name: 'Changes its file', alt: 'A pot', products: [product], file: kept!.hash },
  });
  const day = 86_400_000;
  const plan = await owner.post(`/api/v1/creatives/${made.id}/planned`, {
    at: s.app.clock.now() + 90 * day,
    changes: { file: planned!.hash },
  });
  expect(plan.status).toBe(200);
  const other = (await upload(owner, 'q.png', await pictureOf(90, 60))).body;
  await owner.put(`/api/v1/creatives/${made.id}`, edited(made, { file: other.hash }));
  const found = async () =>
    Promise.all([kept, planned, left, late, other].map(async (file) => (await fetch(file!.url)).status));
  s.days(29);
  expect([sweepUploads(s.app), await found()]).toEqual([0, [200, 200, 200, 200, 200]]);
  // what is uploaded once more waits once more
  await upload(owner, 'p.png', await pictureOf(84, 60));
  s.days(2);
  expect(sweepUploads(s.app)).toBeGreaterThan(0);
  expect(await found()).toEqual([200, 200, 404, 200, 200]);
  expect(sweepUploads(s.app)).toBe(0);
  // it can be uploaded anew
  const again = await upload(owner, 'p.png', await pictureOf(83, 60));
  expect([again.status, (await fetch(left!.url)).status]).toEqual([200, 200]);
});

it('an upload that breaks off half-way leaves nothing, and can be sent again', async () => {
  const bytes = await pictureOf(640, 480, '#2F6F4E');
  const rows = () => s.app.sqlite.prepare('SELECT count(*) FROM material_files').pluck().get();
  const before = rows();
  const { port, hostname } = new URL(s.address);
  await new Promise<void>((resolve) => {
    const socket = connect(Number(port), hostname, () => {
      socket.write(
        `PUT /api/v1/material?name=half.png HTTP/1.1\r\nhost: ${hostname}:${port}\r\norigin: ${s.address}\r\ncookie: ${owner.cookies}\r\ncontent-type: application/octet-stream\r\nidempotency-key: ${randomUUID()}\r\ncontent-length: ${bytes.length}\r\n\r\n`,
      );
      socket.write(bytes.subarray(0, bytes.length >> 1), () => socket.destroy());
    });
    socket.once('close', () => resolve());
  });
  const whole = await upload(owner, 'whole.png', bytes);
  expect(whole.status).toBe(200);
  expect(rows()).toBe(Number(before) + 1);
  const served = await fetch(whole.body.url);
  expect(Buffer.from(await served.arrayBuffer()).equals(bytes)).toBe(true);
});

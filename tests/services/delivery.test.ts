import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import type { ProductOut } from '../../src/contract/setup/products';
import { deliverWaiting } from '../../src/server/registers/outbox/delivery';
import { formOf } from '../helpers/product-form';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let owner: Client;
let book: string;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  book = await s.product('BOOK-1', { price: '18.00', reward: '10' });
});
afterAll(() => s.close());

interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
interface Product {
  version: number;
  picture: string;
  ownPicture: boolean;
  file: { name: string; size: number } | null;
  [field: string]: unknown;
}
const upload = (client: Client, path: string, bytes: Buffer, name: string) =>
  client.upload<Product & Fault>(
    `/api/v1/products/${path}?name=${encodeURIComponent(name)}`,
    new Uint8Array(bytes),
  );
const read = async (id = book) => (await owner.get<Product>(`/api/v1/products/${id}`)).body;
/** Saves a product with something changed. */
const save = async (more: object, id = book) => {
  const form = formOf((await owner.get<ProductOut>(`/api/v1/products/${id}`)).body);
  return owner.put<Fault & Product>(`/api/v1/products/${id}`, { ...form, ...more });
};
const now = () => new Date(s.app.clock.now()).toISOString();
const order = (reference: string, product: string, more: object = {}) =>
  s.report('orders', {
    order: reference,
    placedAt: now(),
    currency: 'EUR',
    lines: [{ product, quantity: 1, amount: '18.00' }],
    ...more,
  });

describe('pictures', () => {
  const png = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: '#9A4A1F' } })
      .png()
      .toBuffer();
  it('are generated until one is uploaded, and again when it is removed', async () => {
    const before = await read();
    expect([before.picture, before.ownPicture]).toEqual(['/pictures/BOOK-1.svg', false]);
    expect((await new Client(s.address).get('/pictures/BOOK-1.svg')).text).toContain('<svg');
    const { body } = await upload(owner, `${book}/picture`, await png(2000, 1000), 'wheel.png');
    expect(body.ownPicture).toBe(true);
    const kept = await sharp(
      Buffer.from(await (await fetch(s.address + body.picture)).arrayBuffer()),
    ).metadata();
    expect([kept.format, kept.width, kept.height]).toEqual(['webp', 640, 320]);
    expect((await owner.post<Product>(`/api/v1/products/${book}/picture/remove`, {})).body.ownPicture).toBe(
      false,
    );
  });
  it.each([
    [
      'a page called a picture',
      Buffer.from('<html><script>alert(1)</script></html>'),
      /is no picture in JPEG, PNG, GIF or WebP/,
    ],
    [
      'a drawing with a script',
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'),
      /is no picture/,
    ],
    ['a picture cut off', Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'), /is no picture|is broken/],
  ])('refuses %s', async (_, bytes, said) => {
    const { status, body } = await upload(owner, `${book}/picture`, bytes, 'logo.png');
    expect([status, body.errors[0]!.pointer]).toEqual([422, '/picture']);
    expect(body.errors[0]!.detail).toMatch(said);
  });
  it('refuses what is too small, too large, empty, or by somebody who may not', async () => {
    expect((await upload(owner, `${book}/picture`, await png(40, 40), 'x.png')).body.detail).toContain(
      'at least 64 by 64',
    );
    expect(
      (await upload(owner, `${book}/picture`, Buffer.alloc(4 * 1024 * 1024 + 1), 'x.png')).body.code,
    ).toBe('too-large');
    expect(
      (await upload(owner, `${book}/picture`, Buffer.alloc(0), 'x.png')).body.errors[0]!.detail,
    ).toContain('The file is missing');
    expect((await upload(await s.as('viewer'), `${book}/picture`, await png(100, 100), 'x.png')).status).toBe(
      403,
    );
  });
});

describe('a file that is delivered', () => {
  const content = Buffer.from('%PDF-1.4 made up');
  it('is needed before a product that promises one is live', async () => {
    expect((await save({ delivery: 'file', downloadDays: 3 })).body.errors).toMatchObject([
      { pointer: '/delivery', detail: expect.stringContaining('The file that buyers get') },
    ]);
    expect((await upload(owner, `${book}/file`, content, '../../glaze “book”.pdf')).body.file).toEqual({
      name: 'glaze “book”.pdf',
      size: content.length,
      at: expect.any(Number),
    });
    expect((await save({ delivery: 'file', downloadDays: 3 })).status).toBe(200);
  });
  it('comes to the buyer by a link of its own, the same when the order is told twice', async () => {
    const first = (await order('B-1', 'BOOK-1')).body;
    const placed = s.app.sqlite
      .prepare("SELECT placed_at FROM orders WHERE reference = 'B-1'")
      .pluck()
      .get() as number;
    const again = (await order('B-1', 'BOOK-1', { placedAt: new Date(placed).toISOString() })).body;
    expect(again.downloads).toEqual(first.downloads);
    const { url } = first.downloads[0]!;
    const page = await fetch(url);
    expect([page.status, (await page.text()).includes('Quernstone Clayworks')]).toEqual([200, true]);
    const file = await fetch(`${url}/file`);
    expect([
      file.headers.get('content-type'),
      file.headers.get('content-disposition'),
      file.headers.get('x-content-type-options'),
    ]).toEqual(['application/octet-stream', expect.stringMatching(/^attachment/), 'nosniff']);
    expect(Buffer.from(await file.arrayBuffer()).equals(content)).toBe(true);
    // another order, another moment, another line: the mark fits none of them
    const token = url.slice(url.lastIndexOf('/') + 1).split('.');
    const forged = [
      [token[0], '1', token[2], token[3]],
      [token[0], token[1], String(Number(token[2]) + 86_400_000), token[3]],
      [...token.slice(0, 3), `${token[3]!.slice(0, -1)}${token[3]!.endsWith('0') ? '1' : '0'}`],
      ['x'],
    ];
    for (const parts of forged)
      expect((await fetch(`${s.address}/get/${parts.join('.')}/file`)).status, parts.join('.')).toBe(404);
    s.days(4);
    const late = await fetch(url);
    expect([late.status, (await late.text()).includes('has expired')]).toEqual([410, true]);
    // the desk gives a new one
    const id = s.app.sqlite.prepare("SELECT id FROM orders WHERE reference = 'B-1'").pluck().get() as string;
    const fresh = (await owner.get<{ downloads: { url: string }[] }>(`/api/v1/orders/${id}`)).body
      .downloads[0]!.url;
    expect((await fetch(`${fresh}/file`)).status).toBe(200);
    await s.report('refunds', { refund: 'R-B-1', order: 'B-1', at: now(), kind: 'refund', full: true });
    expect((await fetch(fresh)).status).toBe(410);
  });
  it('goes along when the product is copied, and nobody else’s order gives it', async () => {
    const copy = (await owner.post<Product & { id: string }>(`/api/v1/products/${book}/copy`, {})).body;
    expect(copy.file).toMatchObject({ name: 'glaze “book”.pdf' });
    await s.product('MUG-1', { price: '9.00' });
    expect((await order('B-2', 'MUG-1')).body).not.toHaveProperty('downloads');
  });
});

describe('the confirmation page', () => {
  const offers = async (bought: string) =>
    (
      await new Client(s.address).get<{ offers: { code: string; price: { value: string } }[] }>(
        `/api/open/v1/confirmation?bought=${bought}`,
      )
    ).body.offers.map((o) => o.code);
  it('offers what is switched on, but not what was bought nor what is excluded after it', async () => {
    const mug = s.app.sqlite.prepare("SELECT id FROM products WHERE code = 'MUG-1'").pluck().get() as string;
    expect(await offers('KILN-9')).toEqual([]);
    expect(
      (await save({ confirmOffer: true, confirmNotAfter: 'mug-1, NOTHING-7' }, book)).body.errors,
    ).toMatchObject([{ pointer: '/confirmNotAfter', detail: 'NOTHING-7: no product has this code' }]);
    await save({ confirmOffer: true, confirmNotAfter: 'mug-1' }, book);
    await save({ confirmOffer: true }, mug);
    expect([await offers('KILN-9'), await offers('BOOK-1'), await offers('MUG-1')]).toEqual([
      ['BOOK-1', 'MUG-1'],
      ['MUG-1'],
      [],
    ]);
    await owner.post(`/api/v1/products/${mug}/state`, {
      state: 'paused',
      version: (await read(mug)).version,
    });
    expect(await offers('BOOK-1')).toEqual([]);
  });
});

describe('what the merchant and the buyer are told', () => {
  it('a sale notice goes to the contact, for products that ask for it, and never for a test', async () => {
    await save({ saleNotice: true });
    await order('B-10', 'BOOK-1');
    await order('B-11', 'BOOK-1', { test: true });
    await deliverWaiting(s.app);
    const notices = s.app.sqlite
      .prepare("SELECT to_address, subject, body FROM messages WHERE kind = 'sale-notice'")
      .all() as { to_address: string; subject: string; body: string }[];
    expect(notices.map((n) => [n.to_address, n.subject])).toEqual([
      ['hello@quernstone.example', 'Sold: 1 × Product BOOK-1'],
    ]);
    expect(notices[0]!.body).toContain('€18.00; nobody is credited');
  });
  it('buyers read the name and the contacts of the settings, a product’s own first', async () => {
    const settings = (await owner.get<{ version: number }>('/api/v1/settings')).body;
    const put = (more: object, version = settings.version) =>
      owner.put<Fault>('/api/v1/settings/buyers', {
        brand: 'Quernstone Pots',
        supportAddress: 'help@quernstone.example',
        supportPage: '',
        supportPhone: '+351 285 000 120',
        version,
        ...more,
      });
    expect((await put({ supportAddress: '' })).body.errors[0]!.pointer).toBe('/supportAddress');
    expect((await put({ supportPhone: 'call me' })).body.errors[0]!.pointer).toBe('/supportPhone');
    expect((await put({})).status).toBe(200);
    const offer = async () =>
      (await new Client(s.address).get<{ brand: string; support: object }>('/api/open/v1/products/BOOK-1'))
        .body;
    expect(await offer()).toMatchObject({
      brand: 'Quernstone Pots',
      support: { address: 'help@quernstone.example', page: '', phone: '+351 285 000 120' },
    });
    await save({ supportAddress: 'books@quernstone.example' });
    expect((await offer()).support).toMatchObject({ address: 'books@quernstone.example' });
  });
});

interface Settings {
  version: number;
  intro: string;
  summary: string;
  logo: string | null;
  live: Record<string, string>;
}
const settings = async () => (await owner.get<Settings>('/api/v1/settings')).body;
const put = async (more: object) =>
  owner.put<Fault>('/api/v1/settings/programme', {
    name: 'Quernstone Clayworks',
    contact: 'hello@quernstone.example',
    intro: '',
    summary: '',
    rate: '8',
    windowDays: 30,
    landingHosts: ['shop.quernstone.example'],
    version: (await settings()).version,
    ...more,
  });
const page = async () =>
  (await new Client(s.address).get<{ intro: string; summary: string; logo: string | null }>('/api/v1/join'))
    .body;
it('the programme’s profile: reads with the terms of the moment in its words', async () => {
  expect(
    (
      await put({
        intro: 'The book pays {rate BOOK-1}, all else {rate}.',
        summary: 'A visit earns for {window}.',
      })
    ).status,
  ).toBe(200);
  expect(await page()).toMatchObject({
    intro: 'The book pays 10 %, all else 8 %.',
    summary: 'A visit earns for 30 days.',
  });
  await save({ reward: '12.5' });
  expect((await page()).intro).toBe('The book pays 12.5 %, all else 8 %.');
  expect((await settings()).live).toMatchObject({
    'rate BOOK-1': '12.5 %',
    'price BOOK-1': '€18.00',
    window: '30 days',
  });
});
it('the programme’s profile: refuses what cannot be filled in, and a summary of three sentences', async () => {
  expect((await put({ intro: 'We pay {rate NOTHING-9} and {luck}.' })).body.errors[0]).toMatchObject({
    pointer: '/intro',
    detail: expect.stringContaining('{rate NOTHING-9}, {luck} cannot be filled in'),
  });
  expect((await put({ summary: 'One. Two. Three.' })).body.errors[0]).toMatchObject({
    pointer: '/summary',
    detail: 'Summary: at most two sentences, these are 3',
  });
});
it('the programme’s profile: has a logo, which is no page in disguise', async () => {
  const logo = (bytes: Buffer, name: string) =>
    owner.upload<Settings & Fault>(`/api/v1/settings/logo?name=${name}`, new Uint8Array(bytes));
  expect((await logo(Buffer.from('<html></html>'), 'logo.png')).body.errors[0]).toMatchObject({
    pointer: '/logo',
    detail: 'Logo: logo.png is no picture in JPEG, GIF or PNG',
  });
  expect(
    (
      await logo(
        await sharp({ create: { width: 300, height: 300, channels: 3, background: '#fff' } })
          .webp()
          .toBuffer(),
        'logo.webp',
      )
    ).body.errors[0]!.detail,
  ).toContain('JPEG, GIF or PNG');
  const kept = (
    await logo(
      await sharp({ create: { width: 300, height: 90, channels: 3, background: '#1F6F63' } })
        .gif()
        .toBuffer(),
      'logo.gif',
    )
  ).body;
  expect((await page()).logo).toBe(kept.logo);
  expect((await fetch(s.address + kept.logo!)).headers.get('content-type')).toBe('image/webp');
  await owner.post('/api/v1/settings/logo/remove', {});
  expect((await page()).logo).toBeNull();
});

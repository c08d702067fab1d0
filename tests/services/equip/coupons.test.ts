import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { CouponOut } from '../../../src/contract/equip/coupons';
import type { listOwnCoupons } from '../../../src/contract/portal/coupons';
import type { Id } from '../../../src/core/text/id';
import { applyPlanned } from '../../../src/server/equip/due/due';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { linkAddress, linkMade } from '../../../src/server/registers/people/links';
import type { Problemed } from '../../helpers/problem';
import { startServer, type TestServer } from '../../helpers/server';
import { makeLink } from './world';

let s: TestServer;
let owner: Client;
let wheel: Id<'product'>;
let loam: Awaited<ReturnType<TestServer['affiliate']>>;
const day = 86_400_000;

beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  wheel = (await s.product('WHEEL-1')) as Id<'product'>;
  loam = await s.affiliate('Loam Letters');
});
afterAll(() => s.close());

const blank = {
  gives: 'percent',
  value: '10',
  words: '',
  least: '',
  products: [],
  landing: '',
  terms: '',
  owner: null,
  audience: { kind: 'everybody' },
  applied: true,
  active: true,
  from: null,
  until: null,
};
const make = (code: string, fields: object = {}) =>
  owner.post<CouponOut & Problemed>('/api/v1/coupons', { ...blank, code, ...fields });
const read = async (id: string) => (await owner.get<CouponOut>(`/api/v1/coupons/${id}`)).body;
const pointers = ({ errors = [] }: Problemed) => errors.map((e) => e.pointer);
const order = async (reference: string, more: object) =>
  s.report('orders', {
    order: reference,
    placedAt: new Date(s.app.clock.now()).toISOString(),
    currency: 'EUR',
    lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
    ...more,
  });

it('a coupon for a segment is found by its members, also where no creative is for it', async () => {
  const found = async (who: Client, code: string) =>
    (await who.get<{ rows: { code: string }[] }>('/api/v1/portal/coupons')).body.rows.some(
      (row) => row.code === code,
    );
  const segment = async (name: string, q: string) =>
    (await owner.post<{ id: string }>('/api/v1/segments', { name, filter: { q }, columns: [] })).body.id;
  const own = await segment('Letters', 'Loam');
  const other = await segment('Others', 'Nobody of this name');
  const audience = (id: string) => ({ audience: { kind: 'segment', segment: id } });
  expect((await make('LETTERS5', audience(own))).status).toBe(200);
  expect((await make('OTHERS5', audience(other))).status).toBe(200);
  expect([await found(loam.client, 'LETTERS5'), await found(loam.client, 'OTHERS5')]).toEqual([true, false]);
});
it('a code is kept in capitals, and is there once at a time', async () => {
  const { status, body } = await make('wheel10', { products: [wheel] });
  expect([status, body.code, body.says, body.shop, body.warning]).toEqual([
    200,
    'WHEEL10',
    '10 % off',
    'never',
    'It is on and was never seen in the shop.',
  ]);
  const twice = await make('Wheel10');
  expect([twice.status, pointers(twice.body)]).toEqual([422, ['/code']]);
  expect(twice.body.detail).toContain('is there already for some of this time');
});

it('every fault of a coupon is named at its field, all at once', async () => {
  const { body } = await make('TWO WORDS', {
    value: '101',
    least: 'much',
    until: 1,
    from: 2,
    landing: 'https://elsewhere.example/',
    terms: 'For {price WHEEL-1}',
    owner: 'aff_01j8znobody',
  });
  expect(new Set(pointers(body))).toEqual(
    new Set(['/code', '/value', '/least', '/until', '/landing', '/terms', '/owner']),
  );
  expect(body.detail).toContain('no more than 100 can be taken off');
});

it('an owner who left can own none', async () => {
  const gone = await s.affiliate('Gone Away');
  s.app.sqlite.prepare("UPDATE affiliates SET state = 'ended' WHERE id = ?").run(gone.id);
  const { body } = await make('GONE', { owner: gone.id });
  expect([pointers(body), body.detail]).toEqual([['/owner'], expect.stringContaining('is ended')]);
});

it.each([
  [{ gives: 'amount', value: '5.00', least: '50.00' }, '€5.00 off orders from €50.00'],
  [{ gives: 'shipping', value: '' }, 'free shipping'],
  [{ gives: 'other', value: '', words: 'two kilos of clay' }, 'two kilos of clay'],
])('what a buyer gets is said: %j', async (fields, said) => {
  const { body } = await make(`SAYS-${said.length}`, fields);
  expect(body.says).toBe(said);
});

it('its link hands the code to the shop while it holds, and leads on afterwards', async () => {
  const until = s.app.clock.now() + 2 * day;
  const { body } = await make('TWODAYS', { products: [wheel], until });
  const link = linkAddress(s.app, linkMade(s.app, loam.id, { coupon: body.id }));
  const led = async () => new URL((await owner.send('GET', link)).headers.get('location')!);
  expect((await led()).searchParams.get('coupon')).toBe('TWODAYS');
  s.days(3);
  const after = await led();
  expect([after.pathname, after.searchParams.get('coupon')]).toEqual(['/p/WHEEL-1', null]);
  expect((await read(body.id)).results.clicks).toBe(2);
});

it('an order that carries it is evidence; what only a picture says is none', async () => {
  const { body } = await make('SEEN', { products: [wheel] });
  await fetch(
    `${s.address}/px/${s.key.id}.gif?order=PX-1&amount=100.00&currency=EUR&product=WHEEL-1&coupon=SEEN`,
  );
  expect((await read(body.id)).shop).toBe('never');
  const placedAt = new Date(s.app.clock.now()).toISOString();
  expect((await order('C-1', { coupon: ' seen ', placedAt })).status).toBe(201);
  const seen = await read(body.id);
  expect([seen.shop, seen.results.orders, seen.results.value.amount, seen.warning]).toEqual([
    'seen',
    1,
    10_000,
    null,
  ]);
  // the same report again counts once
  expect((await order('C-1', { coupon: ' seen ', placedAt })).status).toBe(200);
  expect((await read(body.id)).results.orders).toBe(1);
});

it('what the shop refused is offered to nobody, and one that no order has shown to work is marked', async () => {
  const { body } = await make('OFFERED', { products: [wheel] });
  const offered = async () =>
    (await loam.client.get<ReplyOf<typeof listOwnCoupons>>('/api/v1/portal/coupons')).body.rows.find(
      (row) => row.id === body.id,
    )?.seenWorking;
  expect(await offered()).toBe(false);
  await order('O-1', { refusedCoupon: 'OFFERED' });
  expect(await offered()).toBeUndefined();
  expect((await loam.client.post(`/api/v1/portal/coupons/${body.id}/link`)).status).toBe(404);
  s.app.clock.advance(60_000);
  await order('O-2', { coupon: 'OFFERED' });
  expect(await offered()).toBe(true);
});

it('a refusal by the shop is evidence, until an order shows otherwise; a person can say that it is set up', async () => {
  const { body } = await make('TRIED', { products: [wheel] });
  await owner.post(`/api/v1/coupons/${body.id}/shop`, { what: 'said' });
  expect((await read(body.id)).shopSays).toMatch(/^set up, says Inês Falcão on /);
  s.app.clock.advance(60_000);
  await order('C-2', { refusedCoupon: 'TRIED' });
  expect(await read(body.id)).toMatchObject({
    shop: 'refused',
    warning: 'The shop refused it the last time a buyer tried it.',
  });
  s.app.clock.advance(60_000);
  await order('C-3', { coupon: 'TRIED' });
  expect((await read(body.id)).shop).toBe('seen');
});

it('one that is over and still used is named, and can be launched again with new dates', async () => {
  const until = s.app.clock.now() + day;
  const { body } = await make('AUTUMN', { products: [wheel], until, terms: 'Once for each buyer.' });
  s.days(3);
  await order('C-4', { coupon: 'AUTUMN' });
  expect((await read(body.id)).warning).toBe('It is over and still used: the shop takes it on.');
  const from = s.app.clock.now() + day;
  const again = await owner.post<CouponOut>(`/api/v1/coupons/${body.id}/relaunch`, {
    code: 'AUTUMN',
    from,
    until: from + day,
  });
  expect(again.body).toMatchObject({
    code: 'AUTUMN',
    terms: 'Once for each buyer.',
    state: 'scheduled',
    shop: 'never',
  });
  // an order is of the one that held when it was placed
  s.days(1.5);
  await order('C-5', { coupon: 'AUTUMN' });
  expect([(await read(body.id)).results.orders, (await read(again.body.id)).results.orders]).toEqual([1, 1]);
});

it('one that was used on its last day is not still used, and was last used at that moment', async () => {
  const until = s.app.clock.now() + 2 * day;
  const { body } = await make('LASTDAY', { products: [wheel], until });
  s.app.clock.advance(until - 20 * 60_000 - s.app.clock.now());
  const placed = s.app.clock.now();
  await order('C-L1', { coupon: 'LASTDAY', placedAt: new Date(placed).toISOString() });
  s.days(1);
  const over = await read(body.id);
  expect([over.state, over.warning, over.results.lastUsed]).toEqual(['ended', null, placed]);
  // one of the minute after its end is
  await order('C-L2', { coupon: 'LASTDAY', placedAt: new Date(until + 60_000).toISOString() });
  const used = await read(body.id);
  expect([used.results.lastUsed, used.warning]).toEqual([
    until + 60_000,
    expect.stringContaining('still used'),
  ]);
});

it('a sale keeps the code that it carried, also one that is none of ours', async () => {
  await order('C-6', { coupon: 'not-ours' });
  const row = s.app.sqlite
    .prepare("SELECT coupon_code AS code, coupon FROM orders WHERE reference = 'C-6'")
    .get();
  expect(row).toEqual({ code: 'NOT-OURS', coupon: null });
});

it('a change of a coupon can be planned, its figures read as they are typed', async () => {
  const { body } = await make('LATER', { products: [wheel] });
  const at = s.app.clock.now() + day;
  const planned = await owner.post<CouponOut & Problemed>(`/api/v1/coupons/${body.id}/planned`, {
    at,
    changes: { value: '15', least: '30.00' },
  });
  expect(planned.body.planned.map((p) => [p.what, p.before, p.after])).toEqual([
    ['how much it gives', '10 %', '15 %'],
    ['least order value', 'none', '€30.00'],
  ]);
  const wrong = await owner.post<Problemed>(`/api/v1/coupons/${body.id}/planned`, {
    at,
    changes: { value: '150' },
  });
  expect(pointers(wrong.body)).toEqual(['/value']);
  s.days(1.1);
  applyPlanned(s.app);
  expect((await read(body.id)).says).toBe('15 % off orders from €30.00');
});

it('taken away it is gone from the list, and comes back unless its code was given again', async () => {
  const { body } = await make('AWAY');
  await owner.post(`/api/v1/coupons/${body.id}/remove`, { on: true });
  const codes = async () =>
    (await owner.get<{ rows: CouponOut[] }>('/api/v1/coupons?limit=100')).body.rows.map((r) => r.code);
  expect(await codes()).not.toContain('AWAY');
  const other = await make('AWAY');
  const back = await owner.post<Problemed>(`/api/v1/coupons/${body.id}/remove`, { on: false });
  expect(back.body.code).toBe('conflict');
  await owner.post(`/api/v1/coupons/${other.body.id}/remove`, { on: true });
  expect((await owner.post(`/api/v1/coupons/${body.id}/remove`, { on: false })).status).toBe(200);
});

it('refunds take back what it brought, and its total is the sum of its rows', async () => {
  const { body } = await make('BACK', { products: [wheel] });
  const visit = await s.visit(linkAddress(s.app, linkMade(s.app, loam.id, { coupon: body.id })));
  await order('C-7', { coupon: 'BACK', visit });
  expect((await read(body.id)).results.commission.amount).toBe(1_000);
  await s.report('refunds', {
    refund: 'R-7',
    order: 'C-7',
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'refund',
    full: true,
  });
  expect((await read(body.id)).results.commission.amount).toBe(0);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('a search finds codes and creatives by a part of them, and the history says which they are', async () => {
  const coupon = (await make('SEEK-10')).body;
  const piece = (await makeLink(owner, { name: 'A line to seek', subject: 'Seekers', products: [wheel] }))
    .body;
  const found = async (q: string) =>
    (
      await owner.get<{ rows: { kind: string; title: string; sub: string; to: string }[] }>(
        `/api/v1/search?q=${q}`,
      )
    ).body.rows;
  expect(await found('eek')).toEqual([
    { kind: 'Creative', title: 'A line to seek', sub: 'text link · Seekers', to: `/creatives/${piece.id}` },
    { kind: 'Coupon', title: 'SEEK-10', sub: '10 % off', to: `/coupons?id=${coupon.id}` },
  ]);
  const { rows } = (await owner.get<{ rows: { action: string; subject: string }[] }>('/api/v1/audit')).body;
  expect(rows.slice(0, 2)).toMatchObject([
    { action: 'creative-made', subject: 'A line to seek' },
    { action: 'coupon-made', subject: 'SEEK-10' },
  ]);
  await owner.post(`/api/v1/coupons/${coupon.id}/remove`, { on: true });
  await owner.post(`/api/v1/creatives/${piece.id}/remove`, { on: true });
  expect(await found('eek')).toEqual([]);
});

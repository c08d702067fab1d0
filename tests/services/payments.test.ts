import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import type { ReplyOf } from '../../src/contract/endpoint';
import type { listProducts, previewChange } from '../../src/contract/setup/products';
import type { askRateBook } from '../../src/contract/setup/rate-book';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { deliverWaiting } from '../../src/server/registers/outbox/delivery';
import { sendRenewalNotices } from '../../src/server/track/orders/subscriptions';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let owner: Client;
let mara: Awaited<ReturnType<TestServer['affiliate']>>;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  await s.product('BOX-M', {
    kind: 'recurring',
    price: '5.00',
    renewalPrice: '24.00',
    interval: 'month',
    renewals: '5',
    trialDays: 14,
    noticeDays: 3,
    reward: '50',
    renewalRewardKind: 'percent',
    renewalReward: '10',
    renewalName: 'Glaze box',
    renewalAbout: 'Three glazes and their tiles',
  });
  await s.product('CALC-0', { kind: 'free', price: '', rewardKind: 'flat', reward: '0.40' });
  await s.product('CRATE-1', {
    price: '12.00',
    step: '0.50',
    stepEvery: '5',
    stepCeiling: '14.00',
    stock: '7',
  });
  mara = await s.affiliate('Mara');
});
afterAll(() => s.close());

interface Answer {
  status?: number;
  outcome?: string;
  code?: string;
  detail?: string;
  reason?: string;
  credited?: { affiliate: string; by: string } | null;
  commissions?: { amount: { value: string } }[];
  errors?: { pointer: string; detail: string }[];
}
const now = () => new Date(s.app.clock.now()).toISOString();
const body = async (answer: Promise<{ status: number; body: unknown }>) => {
  const a = await answer;
  return { status: a.status, ...(a.body as Answer) };
};
const renewal = (number: number, payment: string, more = {}) => ({
  subscription: 'SUB-1',
  payment,
  number,
  placedAt: now(),
  currency: 'EUR',
  lines: [{ product: 'BOX-M', quantity: 1, amount: '24.00' }],
  ...more,
});

it('subscriptions: a first payment earns its rate, renewals theirs, credited to who brought the first', async () => {
  const visit = await s.visit(await mara.link('BOX-M'));
  const first = await body(
    s.report('orders', {
      order: 'Q-1',
      placedAt: now(),
      currency: 'EUR',
      lines: [{ product: 'BOX-M', quantity: 1, amount: '5.00' }],
      visit,
      subscription: 'SUB-1',
      customer: { email: 'ada@buyers.example' },
    }),
  );
  expect([first.status, first.commissions![0]!.amount.value]).toEqual([201, '2.50']);
  s.days(40);
  const second = await body(s.report('renewals', renewal(2, 'Q-1-2')));
  expect([second.status, second.credited, second.commissions![0]!.amount.value]).toEqual([
    201,
    { affiliate: 'mara', by: 'subscription' },
    '2.40',
  ]);
});
it('subscriptions: the same renewal again counts once; the same number under another reference contradicts', async () => {
  const known = s.app.sqlite
    .prepare("SELECT placed_at FROM orders WHERE payment = 'Q-1-2'")
    .pluck()
    .get() as number;
  const again = renewal(2, 'Q-1-2', { placedAt: new Date(known).toISOString() });
  expect(await body(s.report('renewals', again))).toMatchObject({
    status: 200,
    outcome: 'already-recorded',
  });
  expect(await body(s.report('renewals', { ...again, payment: 'Q-1-2b' }))).toMatchObject({
    status: 409,
    code: 'contradicts',
  });
});
it('subscriptions: a subscription id used as payment reference is recognised and named', async () => {
  const answer = await body(s.report('renewals', renewal(3, 'SUB-1')));
  expect([answer.status, answer.errors![0]!.detail]).toEqual([
    422,
    'Payment SUB-1 is the subscription’s own id: each payment has a reference of its own',
  ]);
  expect(
    (await body(s.report('renewals', renewal(3, 'x', { subscription: 'SUB-9' })))).errors![0]!.pointer,
  ).toBe('/subscription');
  expect((await body(s.report('renewals', renewal(1, 'x')))).errors![0]!.pointer).toBe('/number');
});
it('subscriptions: one subscription begins once', async () => {
  expect(
    await body(
      s.report('orders', {
        order: 'Q-2',
        placedAt: now(),
        currency: 'EUR',
        lines: [{ product: 'BOX-M', quantity: 1, amount: '5.00' }],
        subscription: 'SUB-1',
      }),
    ),
  ).toMatchObject({ status: 409, code: 'contradicts' });
  expect(s.app.sqlite.prepare("SELECT count(*) FROM orders WHERE reference = 'Q-2'").pluck().get()).toBe(0);
});
it('subscriptions: a refund names the payment it is for', async () => {
  const back = await body(
    s.report('refunds', {
      refund: 'R-1',
      order: 'Q-1',
      payment: 'Q-1-2',
      at: now(),
      kind: 'refund',
      full: true,
    }),
  );
  expect([back.status, back.reason]).toEqual([201, 'refund: 2.40 EUR of the commission taken back']);
});
it('subscriptions: buyers are told before a renewal, once, until the renewals are used up', async () => {
  const due = s.app.sqlite
    .prepare("SELECT next_at FROM subscriptions WHERE reference = 'SUB-1'")
    .pluck()
    .get() as number;
  expect(sendRenewalNotices(s.app)).toBe(0);
  s.app.clock.advance(due - 2 * 86_400_000 - s.app.clock.now());
  expect([sendRenewalNotices(s.app), sendRenewalNotices(s.app)]).toEqual([1, 0]);
  await deliverWaiting(s.app);
  const mails = (
    await owner.get<{ to: string; subject: string; body: string }[]>(`${s.standins}/mailroom/messages.json`)
  ).body.filter((m) => m.to === 'ada@buyers.example');
  expect(mails).toHaveLength(1);
  expect(mails[0]!.body).toMatch(
    /Glaze box renews for €24.00[^]*Three glazes and their tiles[^]*tell us before then: hello@quernstone.example/,
  );
  for (let n = 3; n <= 6; n += 1)
    expect((await body(s.report('renewals', renewal(n, `Q-1-${n}`)))).status).toBe(201);
  expect(
    s.app.sqlite.prepare("SELECT next_at FROM subscriptions WHERE reference = 'SUB-1'").pluck().get(),
  ).toBeNull();
});

describe('leads', () => {
  it('earn their flat amount, once', async () => {
    const visit = await s.visit(await mara.link('CALC-0'));
    const lead = { lead: 'L-1', product: 'CALC-0', at: now(), visit };
    expect(await body(s.report('leads', lead))).toMatchObject({
      status: 201,
      commissions: [{ amount: { value: '0.40' } }],
    });
    expect(await body(s.report('leads', lead))).toMatchObject({ status: 200 });
    expect(
      (await body(s.report('leads', { lead: 'L-2', product: 'NONE-1', at: now() }))).errors![0]!.pointer,
    ).toBe('/product');
  });
});

describe('stepped price and stock', () => {
  interface Quote {
    quote: string;
    price: { value: string };
    left: number | null;
    detail?: string;
  }
  const quote = async (quantity = 1) => {
    const a = await s.report<Quote>('quotes', { product: 'CRATE-1', quantity });
    return { status: a.status, ...a.body };
  };
  const offer = async () =>
    (
      await owner.get<{ price: { value: string }; left: number; onSale: boolean }>(
        '/api/open/v1/products/CRATE-1',
      )
    ).body;
  it('says a price that holds, counts what is held, and never sells the last one twice', async () => {
    expect(await offer()).toMatchObject({ price: { value: '12.00' }, left: 5 });
    const all = await Promise.all(Array.from({ length: 12 }, () => quote()));
    const said = all.filter((q) => q.status === 201);
    expect(said).toHaveLength(7);
    expect(said.map((q) => q.price.value).sort()).toEqual([
      ...Array<string>(5).fill('12.00'),
      '12.50',
      '12.50',
    ]);
    expect(all.filter((q) => q.status === 409).map((q) => q.detail)[0]).toBe('Product CRATE-1 is sold out');
    const sold = await body(
      s.report('orders', {
        order: 'C-1',
        placedAt: now(),
        currency: 'EUR',
        lines: [{ product: 'CRATE-1', quantity: 1, amount: '12.00', quote: said[0]!.quote }],
      }),
    );
    expect(sold.status).toBe(201);
    // those who left without paying give their unit back after a quarter of an hour
    s.app.clock.advance(16 * 60_000);
    expect(await offer()).toMatchObject({ price: { value: '12.00' }, left: 4 });
    expect((await quote(6)).status).toBe(201);
    expect((await quote()).detail).toBe('Product CRATE-1 is sold out');
  });
});

describe('a launch', () => {
  it('links lead to the pre-launch page until the moment, then to the sales page, and the early visit keeps its credit', async () => {
    const at = new Date(s.app.clock.now() + 2 * 86_400_000).toISOString().slice(0, 14);
    await s.product('SOON-1', { prelaunchPage: 'https://shop.quernstone.example/soon', launchAt: `${at}00` });
    const link = await mara.link('SOON-1');
    const early = new URL((await owner.send('GET', link)).headers.get('location')!);
    expect(early.pathname).toBe('/soon');
    expect((await owner.get<{ onSale: boolean }>('/api/open/v1/products/SOON-1')).body.onSale).toBe(false);
    s.days(3);
    expect(new URL((await owner.send('GET', link)).headers.get('location')!).pathname).toBe('/p/SOON-1');
    expect(
      await body(
        s.report('orders', {
          order: 'S-1',
          placedAt: now(),
          currency: 'EUR',
          lines: [{ product: 'SOON-1', quantity: 1, amount: '100.00' }],
          visit: early.searchParams.get('gvn'),
        }),
      ),
    ).toMatchObject({ status: 201, credited: { affiliate: 'mara', by: 'visit' } });
  });
});

it.each([
  [{ kind: 'recurring', renewalPrice: '' }, '/renewalPrice'],
  [{ kind: 'free', price: '9.00', rewardKind: 'flat', reward: '1.00' }, '/price'],
  [{ kind: 'free', price: '', reward: '10' }, '/rewardKind'],
  [{ step: '0.50', stepEvery: '', stepCeiling: '14.00' }, '/stepEvery'],
  [{ price: '20.00', step: '0.50', stepEvery: '5', stepCeiling: '14.00' }, '/stepCeiling'],
  [{ prices: { EUR: '9.00' } }, '/prices'],
  [{ prices: { USD: '9.005' } }, '/prices'],
  [{ categories: 'a, b, c, d' }, '/categories'],
  [{ furtherPages: 'not a page' }, '/furtherPages'],
  [{ launchAt: '2027-05-01T09:00' }, '/prelaunchPage'],
  [{ launchAt: '2027-02-30T09:00', prelaunchPage: 'https://shop.quernstone.example/s' }, '/launchAt'],
  [{ delivery: 'access' }, '/accessPage'],
  [{ stock: '-3' }, '/stock'],
  [{ language: 'english' }, '/language'],
] as [object, string][])('products: %j is refused at its field', async (fields, pointer) => {
  const a = await owner.post<Answer>('/api/v1/products', {
    code: 'BAD-1',
    name: 'Bad',
    description: '',
    currency: 'EUR',
    price: '12.00',
    refundDays: 14,
    salesPage: '',
    rewardKind: 'percent',
    reward: '10',
    ...fields,
  });
  expect([a.status, a.body.errors?.map((e) => e.pointer)]).toEqual([422, expect.arrayContaining([pointer])]);
});
it('products: a free product goes live only with a commission of its own: the programme’s is for sales', async () => {
  const made = (
    await owner.post<{ id: string; version: number }>('/api/v1/products', {
      code: 'FREE-1',
      name: 'Free',
      description: 'x',
      currency: 'EUR',
      price: '',
      refundDays: 0,
      salesPage: 'https://shop.quernstone.example/f',
      rewardKind: 'none',
      reward: '',
      kind: 'free',
    })
  ).body;
  const { name, contact, intro, windowDays, landingHosts, version } = (
    await owner.get<{
      name: string;
      contact: string;
      intro: string;
      windowDays: number;
      landingHosts: string[];
      version: number;
    }>('/api/v1/settings')
  ).body;
  await owner.put('/api/v1/settings/programme', {
    name,
    contact,
    intro,
    summary: '',
    windowDays,
    landingHosts,
    version,
    rate: '8',
  });
  const live = await owner.post<Answer>(`/api/v1/products/${made.id}/state`, {
    state: 'live',
    version: made.version,
  });
  expect([live.status, live.body.errors!.map((e) => e.pointer)]).toEqual([422, ['/reward']]);
});
it('products: a copy has everything but code, state and what was sold', async () => {
  const id = s.app.sqlite.prepare("SELECT id FROM products WHERE code = 'CRATE-1'").pluck().get() as string;
  const copy = (await owner.post<Record<string, unknown>>(`/api/v1/products/${id}/copy`)).body;
  expect(copy).toMatchObject({
    code: 'CRATE-1-2',
    state: 'draft',
    sold: 0,
    step: '0.50',
    stepEvery: '5',
    stepCeiling: '14.00',
    stock: '7',
    price: '12.00',
    reward: '10',
  });
});
it('products: a stepped price counts at its present step wherever a price is shown or asked', async () => {
  const fields = { price: '12.00', step: '0.50', stepEvery: '5', stepCeiling: '14.00', reward: '50' };
  const id = await s.product('CRATE-9', fields);
  const lines = [{ product: 'CRATE-9', quantity: 11, amount: '132.00' }];
  await s.report('orders', { order: 'STEP-1', placedAt: now(), currency: 'EUR', lines });
  const listed = (await owner.get<ReplyOf<typeof listProducts>>('/api/v1/products?q=CRATE-9')).body.rows[0]!;
  expect(listed.price).toEqual({ amount: 1_300, currency: 'EUR' });
  const { value, total } = (
    await owner.get<ReplyOf<typeof askRateBook>>(`/api/v1/rate-book/ask?column=everyone&product=${id}`)
  ).body;
  expect([value.amount, total.amount]).toEqual([1_300, 650]);
  // a start 0.50 lower makes the next sale 0.50 cheaper
  const lower = await owner.get<ReplyOf<typeof previewChange>>(`/api/v1/products/${id}/preview?price=11.50`);
  expect([lower.body.before.amount, lower.body.after.amount]).toEqual([650, 625]);
});
it('products: keeps every invariant', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

describe('the buy button', () => {
  it('is a script for any page, and the offer it shows may be read from anywhere', async () => {
    const script = await owner.get('/button.js');
    expect(script.headers.get('content-type')).toContain('javascript');
    expect(script.text).toContain('/api/open/v1/products/');
    const offer = await owner.get<{ left: number; price: { value: string } }>(
      '/api/open/v1/products/CRATE-1',
    );
    expect(offer.headers.get('access-control-allow-origin')).toBe('*');
    expect((await owner.get('/api/open/v1/products/NONE-1')).status).toBe(404);
  });
  it('says the price in the buyer’s own currency first, by the country or the browser’s language', async () => {
    await s.product('KIT-7', { price: '89.00', prices: { GBP: '79.00', JPY: '14500' } });
    const asked = async (path: string, language?: string) =>
      (
        await owner.send<{ asked: { value: string; currency: string }[] }>(
          'GET',
          `/api/open/v1/products/KIT-7${path}`,
          undefined,
          language ? { 'accept-language': language } : {},
        )
      ).body.asked.map((p) => `${p.value} ${p.currency}`);
    expect(await asked('?country=JP')).toEqual(['14500 JPY', '89.00 EUR', '79.00 GBP']);
    expect(await asked('', 'en-GB,en;q=0.8')).toEqual(['79.00 GBP', '89.00 EUR', '14500 JPY']);
    expect(await asked('', 'nb-NO')).toEqual(['89.00 EUR', '79.00 GBP', '14500 JPY']);
  });
});

import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { checkDuePages } from '../../src/server/registers/catalogue/pages';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let shop: Client;
let link: string;
beforeAll(async () => {
  s = await startServer();
  await s.product('WHEEL-1', { salesPage: `${s.standins}/p/WHEEL-1` });
  const loam = await s.affiliate('Loam Letters');
  link = await loam.link('WHEEL-1');
  shop = new Client(s.standins);
  await shop.form('/switches', { key: s.key.id, secret: s.key.secret });
  await shop.form('/shelf', { code: 'wheel-1', name: 'Table-top wheel kit', price: '100', currency: 'EUR' });
});
afterAll(() => s.close());
const buy = async (fields: Record<string, string> = {}) => {
  const answer = await shop.form('/checkout/WHEEL-1', {
    gvn: await s.visit(link),
    quantity: '1',
    buyer: 'buyer@potlovers.example',
    card: '1000 2000 3000 4000',
    ...fields,
  });
  return {
    status: answer.status,
    text: answer.text,
    reference: (answer.headers.get('location') ?? '').split('/').pop()!,
  };
};
const order = async (reference: string) =>
  (
    await (
      await s.as('viewer')
    ).get<{ rows: { affiliate: string | null; commission: { amount: number } | null }[] }>(
      `/api/v1/orders?q=${reference}`,
    )
  ).body.rows;
const switches = (on: Record<string, string>) => shop.form('/switches', on);

it('the shop: charges nothing for a refused card or a quantity that is none', async () => {
  expect((await buy({ card: '1000 2000 3000 9999' })).text).toContain('The card was refused');
  expect((await buy({ quantity: '0' })).text).toContain('whole number from 1 to 99');
  expect((await shop.get('/')).text).not.toContain('Q-10001');
});
it('the shop: keeps a secret as it is, also one that ends with a slash', async () => {
  const secret = 'whsec_cXVlcm5zdG9uZS1kZW1vLXNob3Atc2Vj/+//';
  await switches({ secret });
  expect((await shop.get('/switches')).text).toContain(`value="${secret}"`);
  await switches({ secret: s.key.secret });
  expect(await order((await buy()).reference)).toHaveLength(1);
});
it('the shop: asks for the visitor’s own currency first, and sells in the one chosen', async () => {
  await s.product('COURSE-9', {
    price: '89.00',
    prices: { GBP: '79.00' },
    salesPage: `${s.standins}/p/COURSE-9`,
  });
  await (
    await s.as('owner')
  ).put('/api/v1/settings/exchange', { currency: 'GBP', day: '2020-01-01', rate: '0.79' });
  await shop.form('/shelf', { code: 'COURSE-9', name: 'Course', price: '89', currency: 'EUR' });
  expect((await shop.send('GET', '/p/COURSE-9', undefined, { 'accept-language': 'en-GB' })).text).toMatch(
    /79\.00 GBP<\/p><p class="note">or 89\.00 EUR/,
  );
  const answer = await shop.form('/checkout/COURSE-9', {
    gvn: '',
    quantity: '2',
    buyer: 'buyer@potlovers.example',
    card: '1000 2000 3000 4000',
    currency: 'GBP',
  });
  const sold = (
    await (
      await s.as('viewer')
    ).get<{ rows: { value: object; base: object }[] }>(
      `/api/v1/orders?q=${(answer.headers.get('location') ?? '').split('/').pop()}`,
    )
  ).body.rows[0];
  expect(sold).toMatchObject({
    value: { amount: 15_800, currency: 'GBP' },
    base: { amount: 20_000, currency: 'EUR' },
  });
});
it('the shop: offers on its order page what Gravenel says, with the file and whom to ask', async () => {
  const owner = await s.as('owner');
  const id = await s.product('MUG-9', {
    price: '9.00',
    confirmOffer: true,
    salesPage: `${s.standins}/p/MUG-9`,
  });
  await shop.form('/shelf', { code: 'MUG-9', name: 'Mug', price: '9', currency: 'EUR' });
  await owner.upload(`/api/v1/products/${id}/file?name=mug.txt`, Buffer.from('a mug'));
  const { reference } = await buy();
  const page = (await shop.get(`/orders/${reference}`)).text;
  expect(page).toContain('You may like as well');
  expect(page).toContain('Questions: hello@quernstone.example');
  expect(page).toMatch(/\/p\/MUG-9\?gvn=vis_/);
});
it('the shop: reports late when told to', async () => {
  await switches({ 'shop-late': 'on' });
  const { reference } = await buy();
  expect(await order(reference)).toEqual([]);
  await shop.form(`/orders/${reference}/report`, {});
  expect(await order(reference)).toMatchObject([{ affiliate: 'Loam Letters', commission: { amount: 1000 } }]);
  await switches({});
});
it('the shop: loses the click when told to', async () => {
  await switches({ 'shop-lose': 'on' });
  expect(await order((await buy()).reference)).toMatchObject([{ affiliate: null, commission: null }]);
  await switches({});
});
it('the shop: leaves out a field when told to, and shows what Gravenel says', async () => {
  await switches({ 'shop-omit': 'on' });
  const { reference } = await buy();
  expect(await order(reference)).toEqual([]);
  expect((await shop.get(`/orders/${reference}`)).text).toContain('Currency is missing');
  await switches({});
});
it('the shop: reports both ways when told to, and the order counts once', async () => {
  await switches({ 'shop-picture': 'on' });
  const { reference } = await buy();
  const picture = /<img src="([^"]+)"/
    .exec((await shop.get(`/orders/${reference}`)).text)![1]!
    .replaceAll('&#38;', '&');
  expect((await new Client(s.address).get(picture)).headers.get('x-gravenel-outcome')).toBe(
    'already-recorded',
  );
  expect(await order(reference)).toHaveLength(1);
  await switches({});
});
it('the shop: gives back a part, and no more than there is', async () => {
  const { reference } = await buy();
  await shop.form(`/orders/${reference}/refund`, { amount: '40.00', kind: 'refund' });
  expect(await order(reference)).toMatchObject([{ commission: { amount: 600 } }]);
  await shop.form(`/orders/${reference}/refund`, { amount: '60.01', kind: 'refund' });
  expect((await shop.get(`/orders/${reference}`)).text).toContain('more than the 60.00 EUR left');
  expect(await order(reference)).toMatchObject([{ commission: { amount: 600 } }]);
});
it('the shop: never gives two buyers of the same moment one order number', async () => {
  const bought = await Promise.all(Array.from({ length: 6 }, () => buy()));
  expect(new Set(bought.map((b) => b.reference)).size).toBe(6);
  expect((await Promise.all(bought.map((b) => order(b.reference)))).every((rows) => rows.length === 1)).toBe(
    true,
  );
});
it('the shop: keeps what is typed harmless', async () => {
  await shop.form('/shelf', {
    code: 'X-1',
    name: '<script>alert(1)</script>',
    price: '1.00',
    currency: 'EUR',
  });
  expect((await shop.get('/')).text).not.toContain('<script>alert(1)');
});

const shelf = (code: string, price: string) =>
  shop.form('/shelf', { code, name: `Product ${code}`, price, currency: 'EUR' });
const pay = (code: string, fields: Record<string, string> = {}) =>
  shop.form(`/checkout/${code}`, {
    quantity: '1',
    buyer: 'ada@potlovers.example',
    card: '1000 2000 3000 4000',
    ...fields,
  });
interface Row {
  event: string;
  number: number;
  products: string;
  value: { amount: number };
  commission: { amount: number } | null;
  test: boolean;
}
const rows = async (q: string) =>
  (await (await s.as('viewer')).get<{ rows: Row[] }>(`/api/v1/orders?q=${q}`)).body.rows;
it('the shop plays every kind of product: renewals come with the clock, at the renewal price', async () => {
  await s.product('BOX-M', {
    kind: 'recurring',
    price: '5.00',
    renewalPrice: '24.00',
    interval: 'month',
    renewals: '2',
    renewalRewardKind: 'percent',
    renewalReward: '10',
  });
  await shelf('BOX-M', '5.00');
  const reference = (await pay('BOX-M')).headers.get('location')!.split('/').pop()!;
  s.days(65);
  await shop.get(`/orders/${reference}`);
  expect((await rows(reference)).map((r) => [r.event, r.number, r.value.amount])).toEqual(
    expect.arrayContaining([
      ['sale', 1, 500],
      ['renewal', 2, 2400],
      ['renewal', 3, 2400],
    ]),
  );
  s.days(40);
  await shop.get(`/orders/${reference}`);
  expect(await rows(reference)).toHaveLength(3);
});
it('the shop plays every kind of product: follow-on offers are asked one after the other, at the price of their step', async () => {
  const wheel = s.app.sqlite
    .prepare("SELECT id FROM products WHERE code = 'WHEEL-1'")
    .pluck()
    .get() as string;
  const [roll, apron] = [
    await s.product('ROLL-1', { price: '38.50' }),
    await s.product('APRON-1', { price: '46.00' }),
  ];
  await (
    await s.as('owner')
  ).post('/api/v1/funnels', {
    name: 'After the wheel',
    opening: wheel,
    first: 'roll',
    steps: [
      { code: 'roll', product: roll, price: '30.00', onYes: 'apron', onNo: null },
      { code: 'apron', product: apron, price: '', onYes: null, onNo: null },
    ],
  });
  const first = (await pay('WHEEL-1')).headers.get('location')!;
  expect((await shop.get(first)).text).toContain('30.00 EUR');
  const second = (await shop.form(first, { answer: 'yes' })).headers.get('location')!;
  const end = (await shop.form(second, { answer: 'no' })).headers.get('location')!;
  const reference = end.split('/').pop()!;
  expect(end).toMatch(/^\/orders\//);
  expect((await rows(`${reference}-roll`)).map((r) => [r.products, r.value.amount])).toEqual([
    ['Product ROLL-1', 3000],
  ]);
  expect(await rows(`${reference}-apron`)).toEqual([]);
});
it('the shop plays every kind of product: a test purchase is marked, earns nothing, and is cleared with one click', async () => {
  const reference = (await pay('WHEEL-1', { test: 'on', gvn: await s.visit(link) })).headers
    .get('location')!
    .split('/')[2]!;
  expect(await rows(reference)).toMatchObject([{ test: true, commission: null }]);
  expect(
    (await (await s.as('owner')).post<{ cleared: number }>('/api/v1/orders/clear-tests')).body.cleared,
  ).toBe(1);
  expect(await rows(reference)).toEqual([]);
});
it('the shop plays every kind of product: sells what is left and no more', async () => {
  await s.product('LAST-1', { price: '10.00', stock: '1' });
  await shelf('LAST-1', '10.00');
  expect((await pay('LAST-1')).status).toBe(303);
  expect((await pay('LAST-1')).text).toContain('Product LAST-1 is sold out');
});
it('the shop plays every kind of product: somebody who leaves an address is a lead', async () => {
  await s.product('CALC-0', { kind: 'free', price: '', rewardKind: 'flat', reward: '0.40' });
  await shelf('CALC-0', '0.00');
  expect((await shop.form('/leads/CALC-0', { buyer: 'ada@potlovers.example' })).text).toContain('<b>201</b>');
});

describe('the bank', () => {
  const file = (sum: string, count = '1') =>
    `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.001.001.09"><CstmrCdtTrfInitn><GrpHdr><MsgId>M-1</MsgId><NbOfTxs>${count}</NbOfTxs><CtrlSum>${sum}</CtrlSum></GrpHdr><PmtInf><CdtTrfTxInf><PmtId><EndToEndId>E-1</EndToEndId></PmtId><Amt><InstdAmt Ccy="EUR">12.50</InstdAmt></Amt><Cdtr><Nm>Ann &amp; Co</Nm></Cdtr><CdtrAcct><Id><IBAN>GB33BUKB20201555555555</IBAN></Id></CdtrAcct></CdtTrfTxInf></PmtInf></CstmrCdtTrfInitn></Document>`;
  const hand = (xml: string) =>
    shop.send<{ said?: string; repeated?: boolean }>('POST', '/bank/files', xml, {
      'content-type': 'application/xml',
    });
  it('refuses sums and counts that do not fit, and what is no payment file', async () => {
    expect((await hand(file('12.51'))).body.said).toContain('CtrlSum');
    expect((await hand(file('12.50', '2'))).body.said).toContain('NbOfTxs');
    expect((await hand('<Document/>')).body.said).toContain('pain.001');
  });
  it('takes the same file once', async () => {
    expect((await hand(file('12.50'))).status).toBe(201);
    expect((await hand(file('12.50'))).body).toMatchObject({ repeated: true });
  });
  it('answers, returns an answered payment later, and can be down', async () => {
    await shop.form('/bank/files/M-1/answer', {});
    await shop.form('/bank/files/M-1/answer', { returning: 'on', 'E-1': 'AC04' });
    const reports = (await shop.get<{ content: string }[]>('/bank/reports.json')).body;
    expect(reports.map((r) => /<TxSts>(\w+)</.exec(r.content)![1])).toEqual(['ACSC', 'RJCT']);
    await shop.form('/bank/switches', { 'bank-down': 'on' });
    expect((await hand(file('12.50'))).status).toBe(503);
    expect((await (await s.as('finance')).post('/api/v1/payouts/collect')).body).toMatchObject({
      status: 503,
      code: 'unavailable',
      detail: 'The bank does not answer; nothing was changed',
    });
    await shop.form('/bank/switches', {});
  });
});

describe('the mail room', () => {
  it('shows each message and gives it as .eml', async () => {
    const id = (await shop.get<{ id: string }[]>('/mailroom/messages.json')).body[0]!.id;
    expect((await shop.get(`/mailroom/${id}`)).text).toContain('Quernstone Clayworks');
    const eml = await shop.get(`/mailroom/${id}.eml`);
    expect(eml.headers.get('content-type')).toContain('message/rfc822');
    expect(eml.text).toMatch(/^(From|To|Subject): /m);
    expect((await shop.get('/mailroom/nothing')).status).toBe(404);
  });
});

describe('the pages of a product', () => {
  it('are looked at, marked where they do not answer, and looked at again', async () => {
    const owner = await s.as('owner');
    interface View {
      pages: { role: string; ok: boolean | null; said: string }[];
    }
    const id = await s.product('PAGE-1', {
      salesPage: `${s.standins}/`,
      mobilePage: `${s.standins}/no-such-page`,
      fallbackPage: 'http://127.0.0.1:9/',
    });
    expect((await owner.get<View>(`/api/v1/products/${id}`)).body.pages.map((p) => p.ok)).toEqual([
      null,
      null,
      null,
    ]);
    expect(
      (await owner.post<View>(`/api/v1/products/${id}/check-pages`)).body.pages.map((p) => [
        p.role,
        p.ok,
        p.said.replace(/ on .*/, ''),
      ]),
    ).toEqual([
      ['sales page', true, 'answered 200'],
      ['mobile page', false, 'answers 404'],
      ['fallback page', false, 'leads into a private network, where nothing is asked for'],
    ]);
    expect(await checkDuePages(s.app, [], 100)).toBeGreaterThan(0);
    expect(await checkDuePages(s.app, [], 100)).toBe(0);
    s.app.clock.advance(11 * 60_000);
    expect(await checkDuePages(s.app, [], 100)).toBeGreaterThanOrEqual(2);
  });
});

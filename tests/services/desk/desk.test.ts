import { describe, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { password } from '../../helpers/server';
import { owner, prepare, product, s, type Body, type Fault } from './world';

prepare();

it.each([
  [{ price: '12.345' }, '/price', /at most 2 decimals/],
  [{ currency: 'JPY', price: '12.50' }, '/price', /no decimals/],
  [{ price: '-1' }, '/price', /negative/],
  [{ price: '999999999999999' }, '/price', /at most/],
  [{ code: 'no spaces' }, '/code', /form that is not accepted/],
  [{ code: '' }, '/code', /is empty/],
  [{ name: '  ' }, '/name', /is empty/],
  [{ name: 'x'.repeat(121) }, '/name', /too long: at most 120/],
  [{ currency: 'XYZ' }, '/currency', /not known/],
  [{ refundDays: -1 }, '/refundDays', /at least 0/],
  [{ refundDays: 2.5 }, '/refundDays', /whole number/],
  [{ reward: '101' }, '/reward', /more than 100 %/],
  [{ reward: '100.00001' }, '/reward', /four decimals/],
  [{ rewardKind: 'flat', reward: '891' }, '/reward', /more than the price/],
  [{ salesPage: 'ftp://x' }, '/salesPage', /web address/],
  [{ rewardKind: 'gift' }, '/rewardKind', /must be one of/],
  [{ price: 5 }, '/price', /must be text/],
] as [object, string, RegExp][])('products: %j is refused at its field', async (more, pointer, reason) => {
  const a = await owner.post<Body>('/api/v1/products', { ...product, ...more });
  expect(a.status).toBe(422);
  expect(a.body.errors.find((e) => e.pointer === pointer)?.detail).toMatch(reason);
});
it('products: a draft may lack what going live needs, which is named', async () => {
  const made = (
    await owner.post<Body & { id: string; version: number }>('/api/v1/products', {
      ...product,
      code: 'DRAFT-1',
      price: '',
      description: '',
      salesPage: '',
      rewardKind: 'none',
      reward: '',
    })
  ).body;
  const refused = await owner.post<Body>(`/api/v1/products/${made.id}/state`, {
    state: 'live',
    version: made.version,
  });
  expect(refused.body.errors.map((e) => e.pointer)).toEqual([
    '/description',
    '/price',
    '/salesPage',
    '/reward',
  ]);
});
it('products: a code is unique whatever its case', async () => {
  expect((await owner.post('/api/v1/products', product)).status).toBe(200);
  expect(
    (await owner.post<Body>('/api/v1/products', { ...product, code: 'kiln-s' })).body.errors[0],
  ).toMatchObject({
    pointer: '/code',
    detail: 'Code KILN-S belongs to Small kiln already',
    example: 'KILN-S-2',
  });
});
it('products: an edit that began from an older version is refused with the present one', async () => {
  const made = (
    await owner.post<{ id: string; version: number }>('/api/v1/products', { ...product, code: 'TWO-1' })
  ).body;
  const first = await owner.put<Body>(`/api/v1/products/${made.id}`, {
    ...product,
    code: 'TWO-1',
    name: 'First',
    version: made.version,
  });
  const second = await owner.put<Body>(`/api/v1/products/${made.id}`, {
    ...product,
    code: 'TWO-1',
    name: 'Second',
    version: made.version,
  });
  expect(first.status).toBe(200);
  expect(second.body).toMatchObject({ status: 409, code: 'stale', current: { name: 'First' } });
});
it('products: the same key answers the same and does it once; with another body it is refused', async () => {
  const headers = { 'idempotency-key': 'the-same-key-1' };
  const one = await owner.send<{ id: string }>(
    'POST',
    '/api/v1/products',
    { ...product, code: 'ONCE-1' },
    headers,
  );
  const two = await owner.send<{ id: string }>(
    'POST',
    '/api/v1/products',
    { ...product, code: 'ONCE-1' },
    headers,
  );
  expect(two.body.id).toBe(one.body.id);
  expect(
    (await owner.send('POST', '/api/v1/products', { ...product, code: 'ONCE-2' }, headers)).body,
  ).toMatchObject({ code: 'key-reused' });
  expect(
    (
      await owner.send<Body>(
        'POST',
        '/api/v1/products',
        { ...product, code: 'ONCE-3' },
        { 'idempotency-key': '' },
      )
    ).body.errors[0]!.pointer,
  ).toBe('/Idempotency-Key');
});
it('products: a change of rate leaves earlier sales alone and is in the audit', async () => {
  const id = await s.product('RATE-1', { reward: '10' });
  const loam = await s.affiliate('Rate Reader');
  const visit = await s.visit(await loam.link('RATE-1'));
  const order = (reference: string, at: number) =>
    s.report('orders', {
      order: reference,
      placedAt: new Date(at).toISOString(),
      currency: 'EUR',
      lines: [{ product: 'RATE-1', quantity: 1, amount: '100.00' }],
      visit,
    });
  const before = s.app.clock.now();
  s.days(1);
  const { version } = (await owner.get<{ version: number }>(`/api/v1/products/${id}`)).body;
  await owner.put(`/api/v1/products/${id}`, {
    ...product,
    code: 'RATE-1',
    price: '100.00',
    reward: '20',
    version,
  });
  const now = s.app.clock.now();
  s.days(1);
  const amount = async (sent: ReturnType<typeof order>) => (await sent).body.commissions[0]!.amount.value;
  // reported late, resolved as of the day it was placed
  expect(await amount(order('RATE-A', before + 3_600_000))).toBe('10.00');
  expect(await amount(order('RATE-B', now + 3_600_000))).toBe('20.00');
  const audit = (
    await owner.get<{ rows: { action: string; before: unknown; after: { reward: unknown } }[] }>(
      `/api/v1/audit?subject=${id}`,
    )
  ).body.rows.find((r) => r.action === 'rate-changed')!;
  expect([audit.before, audit.after.reward]).toEqual([
    { reward: { type: 'percent', ppm: 100_000 } },
    { type: 'percent', ppm: 200_000 },
  ]);
  s.days(-2);
});
it('products: pages by cursor, and a made-up cursor is refused', async () => {
  const first = (await owner.get<{ rows: { name: string }[]; next: string }>('/api/v1/products?limit=2'))
    .body;
  const second = (
    await owner.get<{ rows: { name: string }[] }>(`/api/v1/products?limit=2&after=${first.next}`)
  ).body;
  expect(first.rows).toHaveLength(2);
  expect(second.rows[0]!.name >= first.rows[1]!.name).toBe(true);
  expect((await owner.get<Body>('/api/v1/products?after=nonsense')).body.errors[0]!.pointer).toBe('/after');
  expect((await owner.get<Body>('/api/v1/products?limit=9999')).body.errors[0]!.detail).toMatch(
    /at most 500/,
  );
});

describe('joining', () => {
  const person = {
    name: 'Slip Trail',
    email: 'jo@sliptrail.example',
    country: 'IE',
    address: '',
    sites: ['https://SlipTrail.example/', 'sliptrail.example', 'blog.sliptrail.example:8080/notes'],
    channels: '',
    note: 'مرحبا',
    product: '',
  };
  it('recognises the same person, however the address is typed', async () => {
    const visitor = await s.as('viewer');
    const first = (await visitor.post('/api/v1/join', person)).body;
    expect(first.outcome).toBe('received');
    // the answer is the same whatever is known of the address
    expect((await visitor.post('/api/v1/join', { ...person, email: ' JO@SlipTrail.example ' })).body).toEqual(
      first,
    );
    expect(
      s.app.sqlite
        .prepare(
          "SELECT count(*) FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email_key = 'jo@sliptrail.example'",
        )
        .pluck()
        .get(),
    ).toBe(1);
    await s.product('JOIN-1');
    expect((await visitor.post('/api/v1/join', { ...person, product: 'JOIN-1' })).body).toEqual(first);
    expect(
      s.app.sqlite
        .prepare(
          "SELECT count(*) FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email_key = 'jo@sliptrail.example'",
        )
        .pluck()
        .get(),
    ).toBe(2);
    const sites = s.app.sqlite
      .prepare("SELECT sites FROM affiliates WHERE email_key = 'jo@sliptrail.example'")
      .pluck()
      .get() as string;
    expect(JSON.parse(sites)).toEqual(['sliptrail.example', 'blog.sliptrail.example:8080/notes']);
  });
  it.each([
    [{ email: 'not an address' }, '/email', /not an e-mail address/],
    [{ name: '' }, '/name', /is empty/],
    [{ country: 'Portugal' }, '/country', /too long/],
    [{ sites: [] }, '/sites', /at least 1/],
    [{ note: 'x'.repeat(5001) }, '/note', /too long: at most 5000/],
    [{ product: 'NOPE' }, '/product', /no product NOPE/],
    [{ sites: ['not a site'] }, '/sites/0', /Site address is not a site/],
  ] as [object, string, RegExp][])('%j is refused at its field', async (more, pointer, reason) => {
    const a = await (
      await s.as('viewer')
    ).post<Body>('/api/v1/join', { ...person, email: 'new@person.example', ...more });
    expect(a.status).toBe(422);
    expect(a.body.errors.find((e) => e.pointer === pointer)?.detail).toMatch(reason);
  });
});

const apply = async (name: string) => {
  await (
    await s.as('viewer')
  ).post('/api/v1/join', {
    name,
    email: `${name.toLowerCase()}@potters.example`,
    country: 'PT',
    address: '',
    sites: ['potters.example'],
    channels: '',
    note: `${name} throws`,
    product: '',
  });
  return (
    await owner.get<{ rows: { id: string; name: string; remarks: string[] }[] }>(
      '/api/v1/applications?limit=100',
    )
  ).body.rows.find((r) => r.name === name)!;
};
const decide = (client: Client, ids: string[], more: object = {}) =>
  client.post<{ decided: string[]; passed: { why: string }[] } & Fault>('/api/v1/applications/decide', {
    ids,
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
    ...more,
  });
it('deciding: two at once: one decides, the other is told', async () => {
  const row = await apply('Doubly');
  expect(row.remarks).toEqual([]);
  const [a, b] = await Promise.all([
    decide(owner, [row.id]),
    decide(await s.as('manager'), [row.id], { decision: 'decline', reason: 'No' }),
  ]);
  expect([...a.body.decided, ...b.body.decided]).toEqual([row.id]);
  expect([...a.body.passed, ...b.body.passed][0]!.why).toMatch(/was (approved|declined) meanwhile/);
});
it('deciding: several at once; a decline needs a reason, an approval a timing', async () => {
  const rows = await Promise.all(['Anna', 'Bela', 'Cleo'].map(apply));
  expect(
    (
      await decide(
        owner,
        rows.map((r) => r.id),
        { decision: 'decline', reason: ' ' },
      )
    ).body.errors[0]!.pointer,
  ).toBe('/reason');
  expect(
    (
      await decide(
        owner,
        rows.map((r) => r.id),
        { timing: undefined },
      )
    ).body.errors[0]!.pointer,
  ).toBe('/timing');
  expect(
    (
      await decide(
        owner,
        rows.map((r) => r.id),
      )
    ).body.decided,
  ).toHaveLength(3);
});
it('deciding: can be taken back until its message has left', async () => {
  process.env.GRAVENEL_UNDO_SECONDS = '10';
  const row = await apply('Dora');
  await decide(owner, [row.id]);
  expect(
    (await owner.post<{ reopened: string[] }>('/api/v1/applications/reopen', { ids: [row.id] })).body
      .reopened,
  ).toEqual([row.id]);
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  expect(
    (await owner.get<{ state: string; decidedAt: null }>(`/api/v1/applications/${row.id}`)).body,
  ).toMatchObject({ state: 'waiting', decidedAt: null });
  expect(s.app.sqlite.prepare('SELECT count(*) FROM messages WHERE subject_of = ?').pluck().get(row.id)).toBe(
    0,
  );
  expect(
    s.app.sqlite.prepare("SELECT state FROM affiliates WHERE email = 'dora@potters.example'").pluck().get(),
  ).toBe('applied');
  await decide(owner, [row.id]);
  expect(
    (await owner.post<{ passed: { why: string }[] }>('/api/v1/applications/reopen', { ids: [row.id] })).body
      .passed[0]!.why,
  ).toBe('its message has left');
});

describe('payout details', () => {
  it('checks the IBAN by its digits and keeps it without spaces', async () => {
    const { client } = await s.affiliate('Iban Owner', { details: false });
    const { version } = (await client.get<{ version: number }>('/api/v1/portal/payout-details')).body;
    const put = (iban: string, v = version) =>
      client.put<Body>('/api/v1/portal/payout-details', {
        holder: 'Iban Owner',
        iban,
        address: 'Kiln Lane 4',
        version: v,
        password,
      });
    expect((await put('GB33 BUKB 2020 1555 5555 56')).body.errors[0]).toMatchObject({
      pointer: '/iban',
      detail: expect.stringContaining('check digits'),
    });
    expect((await put('gb33 bukb 2020 1555 5555 55')).body).toMatchObject({ iban: 'GB33BUKB20201555555555' });
    expect((await put('GB33BUKB20201555555555')).body).toMatchObject({ code: 'stale' });
  });
});

describe('lists', () => {
  it('refuse a reversed or impossible range at its field', async () => {
    expect(
      (await owner.get<Body>('/api/v1/orders?from=2027-03-02&to=2027-03-01')).body.errors[0],
    ).toMatchObject({ pointer: '/to', detail: expect.stringContaining('reversed') });
    expect((await owner.get<Body>('/api/v1/orders?from=2027-13-41')).body.errors[0]!.pointer).toBe('/from');
  });
  it('find by any part, with wildcards taken as they are', async () => {
    expect(
      (await owner.get<{ rows: { name: string }[] }>('/api/v1/affiliates?q=LIPTRA')).body.rows.map(
        (r) => r.name,
      ),
    ).toEqual(['Slip Trail']);
    expect((await owner.get<{ rows: unknown[] }>('/api/v1/affiliates?q=%25')).body.rows).toEqual([]);
    expect(
      (await owner.get<{ rows: { title: string; to: string }[] }>('/api/v1/search?q=kiln-s')).body.rows[0],
    ).toMatchObject({ title: 'Small kiln', to: expect.stringMatching(/^\/products\/prd_/) });
  });
  it('export harmless cells', async () => {
    await s.product('CELL-1', { name: '=SUM(A1)' });
    await s.report('orders', {
      order: '+cmd',
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines: [{ product: 'CELL-1', quantity: 1, amount: '1.00' }],
    });
    const csv = (await owner.get('/api/v1/orders.csv?q=cmd')).text;
    expect(csv).toContain('"\'=SUM(A1)"');
    expect(csv).toContain("'+cmd");
  });
});

it('unknown calls and pages answer as problems', async () => {
  const a = await owner.get<Body>('/api/v1/nothing');
  expect([a.status, a.headers.get('content-type'), a.body.code]).toEqual([
    404,
    'application/problem+json; charset=utf-8',
    'not-found',
  ]);
  expect(
    (await owner.send<Body>('POST', '/api/v1/products', '{"a":', { 'content-type': 'application/json' })).body
      .code,
  ).toBe('malformed');
});

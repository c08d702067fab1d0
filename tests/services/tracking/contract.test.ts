import { request } from 'node:http';
import { describe, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { sign } from '../../../src/server/track/reports/signature';
import { answer, now, order, prepare, s } from './world';

prepare();

type Warned = { warnings?: { pointer: string; detail: string }[] };
const line = (more: object = {}) => ({ product: 'WHEEL-1', quantity: 1, amount: '199.00', ...more });
const warned = async (sent: ReturnType<typeof s.report>) => {
  const { status, body } = await sent;
  return { status, warnings: (body as Warned).warnings ?? [] };
};
const sold = (code: string) =>
  s.app.sqlite.prepare<[string], number>('SELECT sold FROM products WHERE code = ?').pluck().get(code)!;

/** A signed report as bytes, whatever they are. */
async function sendBytes(
  bytes: Buffer,
  type = 'application/json',
): Promise<{ status: number; code: string }> {
  const id = `msg_bytes_${Math.random()}`;
  const timestamp = String(Math.floor(Date.now() / 1000));
  const { hostname, port } = new URL(s.address);
  return new Promise((done, failed) => {
    const sent = request(
      {
        ...{ hostname, port, method: 'POST', path: '/api/track/v1/orders' },
        headers: {
          'content-type': type,
          'x-gravenel-key': s.key.id,
          'webhook-id': id,
          'webhook-timestamp': timestamp,
          'webhook-signature': sign(s.key.secret, id, timestamp, bytes),
        },
      },
      (res) => {
        let text = '';
        res.on('data', (part) => (text += String(part)));
        res.on('end', () =>
          done({ status: res.statusCode!, code: (JSON.parse(text) as { code: string }).code }),
        );
      },
    );
    sent.on('error', failed);
    sent.end(bytes);
  });
}

describe('a discount', () => {
  it('given by line and again for the order is refused at both, and recorded given one way', async () => {
    const both = await answer(
      s.report('orders', order('D-1', { discount: '10.00', lines: [line({ discount: '10.00' })] })),
    );
    expect([both.status, both.errors.map((e) => e.pointer).sort()]).toEqual([
      422,
      ['/discount', '/lines/0/discount'],
    ]);
    for (const more of [
      { discount: '10.00' },
      { lines: [line({ discount: '10.00' })] },
      { discount: '0.00', lines: [line({ discount: '10.00' })] },
    ])
      expect((await answer(s.report('orders', order(`D-${JSON.stringify(more).length}`, more)))).status).toBe(
        201,
      );
  });
});

describe('a body', () => {
  it('that is not UTF-8 is refused: two references would become one', async () => {
    for (const byte of [0xe4, 0xe5]) {
      const text = Buffer.from(JSON.stringify(order('K?LN-1', { placedAt: now() })));
      text[text.indexOf('?')] = byte;
      expect(await sendBytes(text)).toEqual({ status: 400, code: 'malformed' });
    }
    expect(
      s.app.sqlite.prepare("SELECT count(*) FROM orders WHERE reference LIKE 'K%LN-1'").pluck().get(),
    ).toBe(0);
  });

  it('in another character set is refused with 415, in UTF-8 by any of its names it is read', async () => {
    const text = (n: number) => Buffer.from(JSON.stringify(order(`CS-${n}`)));
    expect(await sendBytes(text(1), 'application/json; charset=iso-8859-1')).toEqual({
      status: 415,
      code: 'unknown-charset',
    });
    expect((await sendBytes(text(2), 'application/json; charset="UTF-8"')).status).toBe(201);
    expect((await sendBytes(text(3), 'application/json;charset=utf8')).status).toBe(201);
  });

  it('of the desk is held to the same', async () => {
    const owner = await s.as('owner');
    const sent = await owner.send<{ code: string }>(
      'POST',
      '/api/v1/connection/keys',
      Buffer.from([0x22, 0xff, 0x22]),
      {
        'content-type': 'application/json',
        'idempotency-key': 'not-utf8-1',
      },
    );
    expect([sent.status, sent.body.code]).toEqual([400, 'malformed']);
  });
});

describe('a reference', () => {
  it('is compared without white space around it and composed: the same order counts once', async () => {
    const first = await answer(s.report('orders', order('Caf\u00e9-1')));
    expect([first.status, first.order]).toEqual([201, 'Caf\u00e9-1']);
    const again = await answer(s.report('orders', order('  Cafe\u0301-1 ')));
    expect([again.status, again.outcome]).toEqual([200, 'already-recorded']);
    const refund = { refund: 'R-cafe', order: 'Cafe\u0301-1 ', at: now(), kind: 'refund', full: true };
    expect((await s.report('refunds', refund)).status).toBe(201);
    expect((await s.report('refunds', { ...refund, refund: ' R-cafe' })).status).toBe(200);
  });
});

describe('refused with a sentence', () => {
  it('an empty visit', async () => {
    const a = await answer(s.report('orders', order('V-1', { visit: '' })));
    expect([a.status, a.errors[0]?.pointer, a.detail]).toEqual([
      422,
      '/visit',
      expect.stringContaining('leave it out'),
    ]);
    expect((await s.report('orders', order('V-1', { visit: null }))).status).toBe(201);
  });

  it('a refund that is dated before its order', async () => {
    await s.report('orders', order('T-1', { placedAt: '2027-03-12T09:00:00Z' }));
    const refund = { refund: 'R-T1', order: 'T-1', kind: 'refund', full: true };
    const a = await answer(s.report('refunds', { ...refund, at: '2027-03-12T08:59:59Z' }));
    expect([a.status, a.errors[0]?.pointer, a.detail]).toEqual([
      422,
      '/at',
      expect.stringContaining('before the order itself'),
    ]);
    expect((await s.report('refunds', { ...refund, at: '2027-03-12T09:00:00Z' })).status).toBe(201);
  });

  it('a refund of a lead', async () => {
    await s.product('CALC-0', { kind: 'free', price: '', rewardKind: 'flat', reward: '2.00' });
    expect((await s.report('leads', { lead: 'L-1', product: 'CALC-0', at: now() })).status).toBe(201);
    const a = await answer(
      s.report('refunds', { refund: 'R-L1', order: 'L-1', at: now(), kind: 'refund', full: true }),
    );
    expect([a.status, a.detail]).toEqual([422, expect.stringContaining('is a lead')]);
  });

  it('a wrong method, with those that the address takes', async () => {
    for (const [method, path, allowed] of [
      ['GET', '/api/track/v1/orders', 'POST'],
      ['DELETE', '/api/v1/today', 'GET, HEAD'],
      ['POST', `/px/${s.key.id}.gif`, 'GET, HEAD'],
    ] as const) {
      const sent = await new Client(s.address).send<{ code: string }>(method, path);
      expect([path, sent.status, sent.body.code, sent.headers.get('allow')]).toEqual([
        path,
        405,
        'wrong-method',
        allowed,
      ]);
    }
    expect((await new Client(s.address).get('/api/v1/no-such')).status).toBe(404);
  });
});

describe('recorded with a warning', () => {
  const quote = async (product = 'WHEEL-1', quantity = 1) =>
    (await s.report<{ quote: string }>('quotes', { product, quantity })).body.quote;

  it('an address of a buyer that is not exactly one: it is not kept', async () => {
    for (const [n, email] of ['a@b.example, c@d.example', 'nobody', 'a@b.example\u200b'].entries()) {
      const { status, warnings } = await warned(s.report('orders', order(`E-${n}`, { customer: { email } })));
      expect([status, warnings.map((w) => w.pointer)]).toEqual([201, ['/customer/email']]);
    }
    const subscribed = order('E-SUB', {
      subscription: 'SUB-E',
      customer: { email: 'a@b.example; c@d.example' },
    });
    expect((await warned(s.report('orders', subscribed))).status).toBe(201);
    expect(
      s.app.sqlite.prepare("SELECT email FROM subscriptions WHERE reference = 'SUB-E'").pluck().all(),
    ).not.toContain('a@b.example; c@d.example');
    const fine = order('E-9', { customer: { email: 'ana@potters.example' } });
    expect((await warned(s.report('orders', fine))).warnings).toEqual([]);
  });

  it('is in the log and in the answer to a repeat as well', async () => {
    const body = order('W-1', { lines: [line({ quote: 'quo_none' })] });
    const first = await warned(s.report('orders', body));
    expect(first.warnings[0]!.detail).toContain('is not known here');
    expect((await warned(s.report('orders', body))).warnings).toEqual(first.warnings);
    const owner = await s.as('owner');
    const { rows } = (await owner.get<{ rows: { said: string }[] }>('/api/v1/reports?q=W-1')).body;
    expect(rows.every((r) => r.said.includes('Warning: Quote quo_none is not known here'))).toBe(true);
  });

  it('a quote of another product, of another price, of another order, and one that has expired', async () => {
    const [one, two, late] = [await quote(), await quote(), await quote('APRON-1')];
    const detail = async (reference: string, more: object, at = now()) =>
      (
        await warned(s.report('orders', order(reference, { placedAt: at, lines: [line(more)] })))
      ).warnings.map((w) => w.detail);
    expect(await detail('QU-1', { quote: one })).toEqual([]);
    expect(await detail('QU-2', { quote: one })).toEqual([`Quote ${one} served order QU-1 already`]);
    expect(await detail('QU-3', { quote: two, amount: '150.00' })).toEqual([
      'The amount is €150.00, and the quote was €199.00',
    ]);
    expect(await detail('QU-4', { quote: late })).toEqual([`Quote ${late} was for another product`]);
    const expired = await quote();
    s.app.clock.advance(16 * 60_000);
    expect((await detail('QU-5', { quote: expired }))[0]).toContain('had expired on');
  });

  it('more sold than there is', async () => {
    await s.product('KILN-1', { price: '900.00', stock: '1' });
    const kiln = { product: 'KILN-1', quantity: 1, amount: '900.00' };
    expect((await warned(s.report('orders', order('K-1', { lines: [kiln] })))).warnings).toEqual([]);
    const second = await warned(s.report('orders', order('K-2', { lines: [kiln] })));
    expect([second.status, second.warnings[0]?.detail]).toEqual([
      201,
      'Product KILN-1 is oversold: 2 sold of 1 in stock',
    ]);
  });
});

it('stock counts the units of an order once, whatever its payments', async () => {
  await s.product('BENCH-1', { price: '300.00', stock: '9' });
  const part = (payment: string, quantity: number, amount: string) =>
    s.report('orders', order('P-1', { payment, lines: [{ product: 'BENCH-1', quantity, amount }] }));
  for (const n of [1, 2, 3]) expect((await part(`P-1-${n}`, 2, '200.00')).status).toBe(201);
  expect(sold('BENCH-1')).toBe(2);
  // a later payment that has more of it counts what is more
  await part('P-1-4', 3, '300.00');
  expect(sold('BENCH-1')).toBe(3);
});

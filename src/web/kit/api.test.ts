import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createProduct, listProducts, readProduct } from '../../contract/setup/products';
import { addressOf, call, Refused } from './api';
import { useSigned } from './signed';

interface Sent {
  url: string;
  method: string;
  headers: Record<string, string>;
  body: string | undefined;
}
let sent: Sent[];
let answers: { status: number; body: unknown }[];
beforeEach(() => {
  sent = [];
  answers = [];
  vi.stubGlobal(
    'fetch',
    (url: string, init: { method: string; headers: Record<string, string>; body?: string }) => {
      sent.push({ url, method: init.method, headers: init.headers, body: init.body });
      const next = answers.shift();
      if (!next) return Promise.reject(new TypeError('network'));
      return Promise.resolve({
        ok: next.status < 400,
        status: next.status,
        json: () => Promise.resolve(next.body),
      });
    },
  );
});
afterEach(() => {
  vi.unstubAllGlobals();
  useSigned.setState({ expired: null });
});
const product = {
  code: 'A-1',
  name: 'A',
  description: '',
  currency: 'EUR',
  price: '1.00',
  refundDays: 0,
  salesPage: '',
  rewardKind: 'none' as const,
  reward: '',
};
const problem = (code: string, status: number) => ({
  status,
  body: { type: '', title: '', status, code, detail: code, errors: [] },
});

describe('an address', () => {
  it('fills parameters in and leaves empty filters out', () => {
    expect(addressOf(readProduct, { id: 'prd_a/b' })).toBe('/api/v1/products/prd_a%2Fb');
    expect(addressOf(listProducts, {}, { q: 'a b&c', state: undefined, after: '' })).toBe(
      '/api/v1/products?q=a+b%26c',
    );
  });
});

describe('a call', () => {
  it('carries a key where the contract asks for one, and only there', async () => {
    answers = [
      { status: 200, body: { rows: [], next: null } },
      { status: 200, body: {} },
      { status: 200, body: {} },
    ];
    await call(listProducts);
    await call(createProduct, { body: product });
    await call(createProduct, { body: product, key: 'the-same-key' });
    expect(sent.map((s) => s.headers['idempotency-key'])).toEqual([
      undefined,
      expect.stringMatching(/^[0-9a-f-]{36}$/),
      'the-same-key',
    ]);
  });
  it('says what the server refused', async () => {
    answers = [problem('invalid', 422)];
    await expect(call(createProduct, { body: product })).rejects.toMatchObject({
      problem: { code: 'invalid' },
    });
  });
  it('says that the server does not answer, and that nothing is lost', async () => {
    await expect(call(listProducts)).rejects.toThrow(/does not answer. What you typed is kept/);
    await expect(call(listProducts)).rejects.toBeInstanceOf(Refused);
  });
  it('asks to sign in when the session has ended, and goes on with the same key', async () => {
    answers = [problem('not-signed-in', 401), { status: 200, body: { id: 'prd_1' } }];
    const pending = call(createProduct, { body: product });
    await vi.waitFor(() => expect(useSigned.getState().expired).toBe('desk'));
    expect(sent).toHaveLength(1);
    useSigned.getState().done();
    expect(await pending).toEqual({ id: 'prd_1' });
    expect(useSigned.getState().expired).toBeNull();
    expect(sent[1]!.headers['idempotency-key']).toBe(sent[0]!.headers['idempotency-key']);
    expect(sent[1]!.body).toBe(sent[0]!.body);
  });
});

import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AnyEndpoint } from '../../src/contract/endpoint';
import { endpoints } from '../../src/contract/index';
import { everyId, type Every } from '../helpers/every';
import { startServer, type TestServer } from '../helpers/server';

// Whatever a call takes, what does not fit is named at its field before anything is done, and is never a fault of ours.

interface Schema {
  type?: string;
  properties?: Record<string, Schema>;
  required?: string[];
  enum?: unknown[];
  anyOf?: Schema[];
  pattern?: string;
}
interface Refusal {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}

let s: TestServer;
let every: Every;
beforeAll(async () => {
  s = await startServer();
  every = await everyId(s);
}, 120_000);
afterAll(() => s.close());

const schemaOf = (end: AnyEndpoint) => end.body as Schema;
const taking = endpoints
  .filter(([, end]) => end.method !== 'GET' && Object.keys(schemaOf(end).properties ?? {}).length > 0)
  // who is signed in stays so, and the clock where it is
  .filter(([, end]) => !/session|set-up|\/password$|\/clock$/.test(end.path));

async function send(end: AnyEndpoint, body: unknown): Promise<{ status: number; body: Refusal }> {
  const client = end.access === 'affiliate' ? every.mine.client : await s.as('owner');
  return client.send<Refusal>(end.method, every.pathOf(end), body);
}
const pointers = (refused: { body: Refusal }) => refused.body.errors.map((e) => e.pointer);
/** What has been written down so far: a refusal adds nothing to it. */
const written = () =>
  s.app.sqlite
    .prepare("SELECT (SELECT count(*) FROM audit) || ' ' || (SELECT count(*) FROM entries)")
    .pluck()
    .get() as string;

/** A value that no field of this kind takes. */
function misfit(field: Schema): unknown {
  const kinds = [field, ...(field.anyOf ?? [])].map((one) => one.type);
  return kinds.includes('object') ? [[]] : kinds.includes('array') ? 7 : { nested: true };
}

describe('a body that does not fit', () => {
  it('is tried with every call that takes one', () => {
    expect(taking.length).toBeGreaterThan(70);
  });

  it.each(taking)('%s: what is missing is named, all of it', async (_, end) => {
    const required = schemaOf(end).required ?? [];
    const before = written();
    const refused = await send(end, {});
    expect(refused.status).not.toBe(500);
    if (!required.length) return;
    expect([refused.status, refused.body.code]).toEqual([422, 'invalid']);
    for (const name of required.slice(0, 20)) expect(pointers(refused)).toContain(`/${name}`);
    expect(written()).toBe(before);
  });

  it.each(taking)('%s: a field that is not known is named, not passed over', async (_, end) => {
    const refused = await send(end, { 'nothing-of-ours': 1 });
    expect([refused.status, refused.body.code]).toEqual([422, 'invalid']);
    expect(pointers(refused)).toContain('/nothing-of-ours');
  });

  it.each(taking)('%s: a value of another kind is named at its field', async (_, end) => {
    const fields = Object.entries(schemaOf(end).properties!);
    const before = written();
    const refused = await send(
      end,
      Object.fromEntries(fields.map(([name, schema]) => [name, misfit(schema)])),
    );
    expect([refused.status, refused.body.code]).toEqual([422, 'invalid']);
    const named = new Set(pointers(refused).map((p) => p.split('/')[1]));
    // a field that takes anything is refused nothing
    const wanted = fields
      .filter(([, schema]) => schema.type !== undefined || schema.anyOf)
      .map(([name]) => name);
    // an answer names twenty faults
    if (wanted.length <= 12) for (const name of wanted) expect([...named]).toContain(name);
    expect(refused.body.errors.every((e) => e.detail.length > 5)).toBe(true);
    expect(written()).toBe(before);
  });

  it.each(taking)('%s: characters that cannot be shown stop at the door', async (_, end) => {
    const texts = Object.entries(schemaOf(end).properties!)
      .filter(([, schema]) => schema.type === 'string' && !schema.enum)
      .map(([name]) => name);
    for (const name of texts) {
      const refused = await send(end, { [name]: 'clay\u0000\u0007and water' });
      expect(refused.status, name).toBe(422);
      expect(pointers(refused), name).toContain(`/${name}`);
    }
  });

  it.each(taking)('%s: is no body at all, or a list, and is refused in words', async (_, end) => {
    for (const body of [[], 'clay', 7]) {
      const refused = await send(end, body);
      expect([400, 422], JSON.stringify(body)).toContain(refused.status);
      expect(refused.body.detail.length).toBeGreaterThan(10);
    }
  });
});

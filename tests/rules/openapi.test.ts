import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { createConfig, lintFromString } from '@redocly/openapi-core';
import createClient from 'openapi-fetch';
import openapiTS, { astToString } from 'openapi-typescript';
import ts from 'typescript';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { endpoints } from '../../src/contract';
import { signedCalls } from '../../src/contract/track/signed-calls';
import { openApi } from '../../src/server/ground/http/openapi';
import { sign } from '../../src/server/track/reports/signature';
import { startServer, type TestServer } from '../helpers/server';

interface Operation {
  operationId: string;
  security: object[];
  responses: Record<string, object>;
}
interface Document {
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, object>; securitySchemes: Record<string, object> };
}
const document = openApi('http://127.0.0.1:3000') as Document;
const operations = Object.values(document.paths).flatMap((path) => Object.values(path));

describe('the OpenAPI document', () => {
  it('has every call, each with an id of its own, its security and what it is refused with', () => {
    expect(operations.length).toBe(endpoints.length + Object.keys(signedCalls).length);
    expect(new Set(operations.map((o) => o.operationId)).size).toBe(operations.length);
    for (const o of operations)
      expect(
        [
          o.operationId,
          Array.isArray(o.security),
          Object.keys(o.responses).some((status) => status.startsWith('4')),
        ],
        o.operationId,
      ).toEqual([o.operationId, true, true]);
    expect(Object.keys(document.components.securitySchemes)).toEqual(['session', 'portalSession', 'signed']);
  });

  it('says each schema once: it is below 350 kB', () => {
    expect(Buffer.byteLength(JSON.stringify(document))).toBeLessThan(350_000);
    const texts = Object.values(document.components.schemas).map((schema) => JSON.stringify(schema));
    expect(new Set(texts).size).toBe(texts.length);
  });

  it('has no error by the recommended rules', async () => {
    const config = await createConfig({ extends: ['recommended'] });
    const found = await lintFromString({ source: JSON.stringify(document), config });
    expect(found.filter((f) => f.severity === 'error').map((f) => `${f.ruleId}: ${f.message}`)).toEqual([]);
  });

  it('describes every field of the calls of a shop, what is sent and what is answered', () => {
    const undescribed: string[] = [];
    const look = (schema: Record<string, unknown>, at: string) => {
      const { properties, items, anyOf } = schema as {
        properties?: Record<string, Record<string, unknown>>;
        items?: Record<string, unknown>;
        anyOf?: Record<string, unknown>[];
      };
      for (const [name, field] of Object.entries(properties ?? {})) {
        const inner = [field, ...((field.anyOf ?? []) as Record<string, unknown>[])];
        const isObject = inner.some((f) => f.type === 'object' || f.properties);
        if (!isObject && !inner.some((f) => typeof f.description === 'string'))
          undescribed.push(`${at}.${name}`);
        look(field, `${at}.${name}`);
      }
      if (items) look(items, at);
      for (const one of anyOf ?? []) look(one, at);
    };
    for (const [name, { body, answer }] of Object.entries(signedCalls)) {
      look(body, name);
      look(answer, `${name} answer`);
    }
    expect(undescribed).toEqual([]);
  });
});

let s: TestServer;
let folder: string;
beforeAll(async () => {
  s = await startServer();
  await s.product('WHEEL-1', { price: '199.00', reward: '12' });
  // beside the packages, so that its imports are found
  const dist = join(import.meta.dirname, '../../dist');
  mkdirSync(dist, { recursive: true });
  folder = mkdtempSync(join(dist, 'client-'));
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await s.close();
});

const order = {
  order: 'G-1',
  placedAt: '2027-03-12T09:00:00+00:00',
  currency: 'EUR',
  lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }],
};

it('a client that a generator makes of it compiles', async () => {
  const types = astToString(await openapiTS(JSON.stringify(document)));
  writeFileSync(join(folder, 'calls.ts'), types);
  writeFileSync(
    join(folder, 'client.ts'),
    `import createClient from 'openapi-fetch';
import type { paths } from './calls';
const client = createClient<paths>({ baseUrl: 'http://127.0.0.1' });
export async function report() {
const { data } = await client.POST('/api/track/v1/orders', {
  params: { header: { 'webhook-id': '1', 'webhook-timestamp': '1', 'webhook-signature': 'v1,x' } },
  body: ${JSON.stringify(order)},
});
const outcome: string | undefined = data?.outcome;
return outcome;
}
`,
  );
  const program = ts.createProgram([join(folder, 'client.ts')], {
    ...{ strict: true, noEmit: true, skipLibCheck: true, types: [] },
    ...{ module: ts.ModuleKind.ESNext, moduleResolution: ts.ModuleResolutionKind.Bundler },
    target: ts.ScriptTarget.ES2022,
    lib: ['lib.es2022.d.ts', 'lib.dom.d.ts', 'lib.dom.iterable.d.ts'],
  });
  const faults = ts
    .getPreEmitDiagnostics(program)
    .map((d) => ts.flattenDiagnosticMessageText(d.messageText, '\n'));
  expect(faults).toEqual([]);
}, 60_000);

it('a client that a generator makes of it records an order', async () => {
  const client = createClient<Record<string, never>>({ baseUrl: s.address });
  client.use({
    onRequest: async ({ request }) => {
      const timestamp = String(Math.floor(Date.now() / 1000));
      const text = await request.clone().text();
      request.headers.set('x-gravenel-key', s.key.id);
      request.headers.set('webhook-id', 'generated-1');
      request.headers.set('webhook-timestamp', timestamp);
      request.headers.set('webhook-signature', sign(s.key.secret, 'generated-1', timestamp, text));
      return request;
    },
  });
  const post = client.POST as (path: string, init: object) => Promise<{ data?: { outcome: string } }>;
  const { data } = await post('/api/track/v1/orders', { body: order });
  expect(data?.outcome).toBe('recorded');
});

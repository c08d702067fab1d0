import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { endpoints } from '../../src/contract/index';
import { demoKey } from '../../src/demo/scenario';
import { openApi } from '../../src/server/ground/http/openapi';
import { problemStatus } from '../../src/server/ground/http/problem';

const root = join(import.meta.dirname, '../..');
const doc = (name: string) => readFileSync(join(root, 'docs', name), 'utf8');

it('every error code has its section with its status, and no section lacks a code', () => {
  const sections = [...doc('errors.md').matchAll(/^## (.+)\n(\d+)\./gm)].map(([, code, status]) => [
    code,
    Number(status),
  ]);
  expect(Object.fromEntries(sections)).toEqual(problemStatus);
});
it('the demo’s key is the printed one', () => {
  expect(doc('connecting-a-shop.md')).toContain(demoKey.id);
  expect(doc('connecting-a-shop.md')).toContain(demoKey.secret);
  expect(demoKey.secret).toMatch(/^whsec_[A-Za-z0-9+/=]+$/);
});
it('OpenAPI has every call of the contract', () => {
  const { paths } = openApi('http://127.0.0.1:4310') as {
    paths: Record<string, Record<string, { operationId?: string }>>;
  };
  const named = Object.values(paths)
    .flatMap((p) => Object.values(p))
    .map((o) => o.operationId)
    .filter((name) => name && !name.startsWith('report'));
  expect(named.sort()).toEqual(endpoints.map(([name]) => name).sort());
  const signed = Object.keys(paths)
    .filter((p) => p.startsWith('/api/track/'))
    .sort();
  expect(signed).toEqual([
    '/api/track/v1/leads',
    '/api/track/v1/orders',
    '/api/track/v1/quotes',
    '/api/track/v1/refunds',
    '/api/track/v1/renewals',
  ]);
  // and the document for shops speaks of each
  for (const path of signed) expect(doc('connecting-a-shop.md')).toContain(`POST ${path}`);
});
it('every variable that is read is documented', () => {
  const sources = readdirSync(join(root, 'src/server'), { recursive: true, encoding: 'utf8' })
    .filter((f) => f.endsWith('.ts'))
    .map((f) => readFileSync(join(root, 'src/server', f), 'utf8'))
    .join('\n');
  const read = new Set(
    [...sources.matchAll(/env\.(GRAVENEL_[A-Z_]+)/g)]
      .map((m) => m[1]!)
      .filter((name) => name !== 'GRAVENEL_ROOT'),
  );
  for (const name of read) expect(doc('architecture.md'), name).toContain(`\`${name}\``);
});
it('every file that the architecture and CONTRIBUTING name by its path is there', () => {
  const text = doc('architecture.md') + readFileSync(join(root, 'CONTRIBUTING.md'), 'utf8');
  const named = [
    ...text.matchAll(/`((?:src|core|server|contract|tests|scripts)\/[\w./-]+?\.(?:ts|tsx|mjs))`/g),
  ].map((m) => m[1]!);
  expect(named.length).toBeGreaterThan(20);
  const isThere = (path: string) => existsSync(join(root, path)) || existsSync(join(root, 'src', path));
  expect(named.filter((path) => !isThere(path))).toEqual([]);
});
it('every picture that the README shows is there', () => {
  const shown = [
    ...readFileSync(join(root, 'README.md'), 'utf8').matchAll(/docs\/screenshots\/([\w-]+\.png)/g),
  ].map((m) => m[1]!);
  const there = readdirSync(join(root, 'docs/screenshots'));
  expect(there.sort()).toEqual([...new Set(shown)].sort());
  expect(there.length).toBeLessThan(20);
});

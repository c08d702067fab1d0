import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { openStore } from './open';

const migrations = join(import.meta.dirname, 'migrations');
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'gravenel-migrations-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** The migrations as they were when there were only so many. */
function firstMigrations(many: number): string {
  const copy = join(folder, 'first');
  cpSync(migrations, copy, { recursive: true });
  const journal = join(copy, 'meta/_journal.json');
  const all = JSON.parse(readFileSync(journal, 'utf8')) as { entries: unknown[] };
  writeFileSync(journal, JSON.stringify({ ...all, entries: all.entries.slice(0, many) }));
  return copy;
}

type Visit = [id: string, affiliate: string, at: number, barred: string | null];

function putVisit(store: ReturnType<typeof openStore>, [id, affiliate, at, barred]: Visit): void {
  store.sqlite
    .prepare(
      "INSERT INTO visits (id, link, affiliate, product, at, landing, barred) VALUES (?, 'abcd', ?, 'prd_1', ?, '', ?)",
    )
    .run(id, affiliate, at, barred);
}

it('why visits cannot earn comes over from words to codes, and what counts last clicks knows the code', () => {
  const file = join(folder, 'old.sqlite');
  const old = openStore(file, firstMigrations(18));
  const before: Visit[] = [
    ['v1', 'aff_1', 0, null],
    ['v2', 'aff_1', 0, 'the visitor looks automated'],
    ['v3', 'aff_1', 0, 'the affiliate is paused'],
    ['v4', 'aff_1', 0, 'the affiliate is blocked'],
    ['v5', 'aff_1', 0, 'the product is retired'],
  ];
  for (const visit of before) putVisit(old, visit);
  old.close();

  const store = openStore(file, migrations);
  expect(store.sqlite.prepare('SELECT barred FROM visits ORDER BY id').pluck().all()).toEqual([
    null,
    'automated',
    'affiliate-paused',
    'affiliate-blocked',
    'product-retired',
  ]);
  const day = 86_400_000;
  putVisit(store, ['v6', 'aff_1', 5 * day, 'affiliate-paused']);
  putVisit(store, ['v7', 'aff_1', 9 * day, 'automated']);
  expect(store.sqlite.prepare('SELECT * FROM last_clicks').all()).toEqual([{ affiliate: 'aff_1', day: 5 }]);
  store.close();
});

it('policies that were written before practices say so, and applications wait for their words to be looked through', () => {
  const file = join(folder, 'old.sqlite');
  const old = openStore(file, firstMigrations(19));
  old.sqlite
    .prepare(
      `INSERT INTO policies (id, number, state, content, created_at, "by", version) VALUES ('pol_1', 1, 'published', ?, 0, 'stf_1', 1)`,
    )
    .run(JSON.stringify({ general: 'Mark links.', ownBrand: true }));
  old.sqlite.pragma('foreign_keys = OFF');
  old.sqlite
    .prepare(
      "INSERT INTO applications (id, affiliate, note, channels, state, created_at, version) VALUES ('apl_1', 'aff_1', 'n', 'c', 'waiting', 0, 1)",
    )
    .run();
  old.close();

  const store = openStore(file, migrations);
  expect(JSON.parse(store.sqlite.prepare('SELECT content FROM policies').pluck().get() as string)).toEqual({
    general: 'Mark links.',
    ownBrand: true,
    form: 'sections',
  });
  expect(store.sqlite.prepare('SELECT * FROM practice_matches').all()).toEqual([
    { application: 'apl_1', policy: 0, asked: 0 },
  ]);
  store.close();
});

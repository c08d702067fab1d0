import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { owners } from '../../scripts/lib/house.mjs';
import { drawn } from '../../scripts/lib/picture.mjs';

const root = join(import.meta.dirname, '../..');
const server = join(root, 'src/server');
const sources = readdirSync(server, { recursive: true, encoding: 'utf8' })
  .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts'))
  .map((file) => ({ file, text: readFileSync(join(server, file), 'utf8') }));

interface Table {
  /** the constant, and the table in the database */
  constant: string;
  name: string;
  owner: string;
}

const tables: Table[] = sources
  .filter(({ file }) => file.startsWith('ground/tables/'))
  .flatMap(({ file, text }) =>
    [...text.matchAll(/export const (\w+) = sqliteTable\(\s*'(\w+)'/g)].map((m) => ({
      constant: m[1]!,
      name: m[2]!,
      owner: owners[/(\w+)\.ts$/.exec(file)![1]!]!,
    })),
  );

/** Ways in which a source writes a table: by the query builder, by what is prepared, by SQL. */
function writes(text: string, { constant, name }: Table): boolean {
  return [
    new RegExp(`\\.(insert|update|delete)\\(\\s*${constant}\\s*\\)`),
    new RegExp(`(insertion|changing)\\(\\s*app,\\s*${constant}\\b`),
    new RegExp(`(INSERT (OR \\w+ )?INTO|UPDATE|DELETE FROM) "?${name}\\b`),
  ].some((way) => way.test(text));
}

describe('the house', () => {
  it('every file of tables has an owner, and every owner is a room', () => {
    const files = readdirSync(join(server, 'ground/tables')).map((f) => f.replace('.ts', ''));
    expect(files.filter((f) => f !== 'columns').sort()).toEqual(Object.keys(owners).sort());
    for (const owner of Object.values(owners))
      expect(readdirSync(join(server, owner)), owner).not.toEqual([]);
  });
  it('every table is written by its owner alone', () => {
    expect(tables.length).toBeGreaterThan(60);
    const strangers = tables.flatMap((table) =>
      sources
        .filter(({ file, text }) => !file.startsWith(`${table.owner}/`) && writes(text, table))
        .map(({ file }) => `${file} writes ${table.name} of ${table.owner}`),
    );
    expect(strangers).toEqual([]);
  });
  it('and its owner writes it, so that the check above finds writing at all', () => {
    const written = tables.filter((table) =>
      sources.some(({ file, text }) => file.startsWith(`${table.owner}/`) && writes(text, table)),
    );
    // totals are written by triggers
    expect(tables.filter((t) => !written.includes(t)).map((t) => t.owner)).toEqual(
      tables.filter((t) => t.owner === 'totals').map(() => 'totals'),
    );
  });
  it('the picture of the floors is drawn from the rules as they are', () => {
    const document = readFileSync(join(root, 'docs/architecture.md'), 'utf8');
    expect(drawn(document)).toBe(document);
  });
});

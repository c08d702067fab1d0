// drizzle-kit cannot write STRICT tables: this adds the word to every CREATE TABLE of the migrations that lacks it,
// and WITHOUT ROWID where the key has several columns, which saves a tree for each row written.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = join(import.meta.dirname, '../src/server/ground/db/migrations');
for (const name of readdirSync(folder).filter((n) => n.endsWith('.sql'))) {
  const path = join(folder, name);
  const before = readFileSync(path, 'utf8');
  const after = before.replace(
    /CREATE TABLE [\s\S]*?\n\);/g,
    (table) => `${table.slice(0, -1)} STRICT${/PRIMARY KEY\(/.test(table) ? ', WITHOUT ROWID' : ''};`,
  );
  if (after !== before) writeFileSync(path, after);
}

// Copies a live database safely: npm run backup -- FILE
import Database from 'better-sqlite3';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fail, root } from './lib/prepare.mjs';

const [target] = process.argv.slice(2);
const source = join(process.env.GRAVENEL_DATA ?? join(root, 'data'), 'gravenel.sqlite');
if (!target) fail('Name the file to write: npm run backup -- gravenel-backup.sqlite');
if (!existsSync(source)) fail(`There is no database at ${source}`);
if (existsSync(target)) fail(`${target} exists already; a backup is never written over`);
const db = new Database(source, { readonly: true });
await db.backup(resolve(target));
db.close();
const copy = new Database(resolve(target));
const whole = copy.pragma('integrity_check', { simple: true });
copy.pragma('journal_mode = DELETE');
copy.close();
process.stdout.write(whole === 'ok' ? `Copied to ${target}, whole\n` : `The copy is not whole: ${String(whole)}\n`);
process.exitCode = whole === 'ok' ? 0 : 1;

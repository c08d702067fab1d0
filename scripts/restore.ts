// Puts a backup into the data folder: npm run restore -- FILE
import { join } from 'node:path';
import { restore } from '../src/server/ground/db/backup';
import { ownerOnly } from '../src/server/ground/environment';
import { fail, root } from './lib/prepare.mjs';

ownerOnly();
const [file] = process.argv.slice(2);
if (!file) fail('Name the backup: npm run restore -- gravenel-backup.sqlite');
try {
  const said = restore(process.env.GRAVENEL_DATA ?? join(root, 'data'), file, {
    migrations: join(root, 'src/server/ground/db/migrations'),
    sealInEnvironment: process.env.GRAVENEL_SEAL,
  });
  process.stdout.write(`${said.join('\n')}\n`);
} catch (fault) {
  fail(fault instanceof Error ? fault.message : String(fault));
}

// Copies a live database safely, and the seal key beside it: npm run backup -- FILE
import { join } from 'node:path';
import { backUp } from '../src/server/ground/db/backup';
import { ownerOnly } from '../src/server/ground/environment';
import { fail, root } from './lib/prepare.mjs';

ownerOnly();
const [target] = process.argv.slice(2);
if (!target) fail('Name the file to write: npm run backup -- gravenel-backup.sqlite');
try {
  const { said } = await backUp(
    process.env.GRAVENEL_DATA ?? join(root, 'data'),
    target,
    process.env.GRAVENEL_SEAL !== undefined,
  );
  process.stdout.write(`${said.join('\n')}\n`);
} catch (fault) {
  fail(fault instanceof Error ? fault.message : String(fault));
}

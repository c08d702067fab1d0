// A large programme, grown from the demo: npm run demo:large [-- --part=100]. Its folder is GRAVENEL_DATA, or data/large.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { built, checkNode, fail, installed, must, root } from './lib/prepare.mjs';

checkNode();
installed();
built();
const data = process.env.GRAVENEL_DATA ?? join(root, 'data/large');
if (existsSync(join(data, 'gravenel.sqlite')))
  fail(
    `There is a programme in ${data} already: choose another folder with GRAVENEL_DATA, or take that one away.`,
  );
const env = { ...process.env, GRAVENEL_ROOT: root, GRAVENEL_DATA: data };
must(process.execPath, [join(root, 'dist/server/demo.cjs')], { env });
must(process.execPath, [join(root, 'dist/server/large.cjs'), ...process.argv.slice(2)], { env });
process.stdout.write(`The large programme is in ${data}: GRAVENEL_DATA=${data} npm start\n`);

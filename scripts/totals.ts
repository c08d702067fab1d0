// Compares the totals with their rows and makes those anew that are wrong: npm run totals. The server may run meanwhile.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { openStore } from '../src/server/ground/db/open';
import { ownerOnly } from '../src/server/ground/environment';
import { rebuildTotals, totalTables } from '../src/server/totals/checks';
import { fail, root } from './lib/prepare.mjs';

ownerOnly();
const file = join(process.env.GRAVENEL_DATA ?? join(root, 'data'), 'gravenel.sqlite');
if (!existsSync(file)) fail(`There is no programme in ${file}: name its folder with GRAVENEL_DATA.`);
try {
  const store = openStore(file, join(root, 'src/server/ground/db/migrations'));
  const wrong = rebuildTotals(store.sqlite);
  store.close();
  for (const { table, keys } of wrong)
    process.stdout.write(`${table} was wrong and is made anew: ${keys.join(', ')}\n`);
  process.stdout.write(`${totalTables.length} totals compared with their rows, ${wrong.length} wrong.\n`);
} catch (fault) {
  fail(fault instanceof Error ? fault.message : String(fault));
}

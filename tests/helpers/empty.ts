import { join } from 'node:path';
import { openStore } from '../../src/server/ground/db/open';

/** Where the checked-in migrations are. */
export const migrations = join(import.meta.dirname, '../../src/server/ground/db/migrations');

let made: Buffer | undefined;

/**
 * The bytes of an empty data file of the present schema. The migrations are gone through once for all files of a process: for each
 * database anew they took a fifth of the time of all tests.
 */
export function emptyBytes(): Buffer {
  if (made) return made;
  const store = openStore(':memory:', migrations);
  made = store.sqlite.serialize();
  store.close();
  return made;
}

import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** How many migrations this version knows. */
export function knownMigrations(folder: string): number {
  const journal = JSON.parse(readFileSync(join(folder, 'meta/_journal.json'), 'utf8')) as {
    entries: unknown[];
  };
  return journal.entries.length;
}

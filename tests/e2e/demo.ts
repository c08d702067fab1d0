import { constants, cpSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { demoMade, demoPort, root } from '../../scripts/lib/prepare.mjs';

/** What a server of the tests is started with. */
export function serverSettings(data: string, port: number, kind: 'empty' | 'demo'): NodeJS.ProcessEnv {
  return {
    ...process.env,
    GRAVENEL_ROOT: root,
    GRAVENEL_DATA: data,
    GRAVENEL_PORT: String(port),
    GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
    GRAVENEL_UNDO_SECONDS: kind === 'empty' ? '0' : '10',
  };
}

/** Makes the demo once for all workers, before the first of them begins. */
export default function makeDemo(): void {
  demoMade();
}

/** Where texts name the address that the demo was made for: its own, the shop's and the registry's. */
const naming = {
  'gravenel.sqlite': [['messages', 'body']],
  'standins.sqlite': [
    ['mails', 'body'],
    ['mails', 'eml'],
    ['registry_kept', 'data'],
  ],
} as const;

/** Fills a folder with the demo, as if it had been made for the server at a port. */
export function copyDemo(data: string, port: number): void {
  // where the file system can, as a copy that takes no room until something is written
  cpSync(demoMade(), data, { recursive: true, mode: constants.COPYFILE_FICLONE });
  for (const [file, columns] of Object.entries(naming)) {
    const db = new Database(join(data, file));
    for (const [table, column] of columns)
      for (const at of [0, 1, 2]) {
        const [before, now] = [demoPort + at, port + at].map((p) => `127.0.0.1:${p}`);
        db.prepare(`UPDATE ${table} SET ${column} = replace(${column}, ?, ?)`).run(before, now);
      }
    db.close();
  }
}

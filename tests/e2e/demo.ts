import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';

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

/** Makes the demo once for all workers, before the first of them begins. @returns what takes it away */
export default async function makeDemo(): Promise<() => void> {
  built();
  const folder = mkdtempSync(join(tmpdir(), 'gravenel-demo-'));
  const port = await freePorts();
  const { status } = spawnSync(process.execPath, [join(root, 'dist/server/demo.cjs')], {
    env: serverSettings(folder, port, 'demo'),
    stdio: 'inherit',
  });
  if (status !== 0) throw new Error('The demo data could not be made');
  process.env.GRAVENEL_MADE_DEMO = folder;
  process.env.GRAVENEL_MADE_PORT = String(port);
  return () => rmSync(folder, { recursive: true, force: true });
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
  const { GRAVENEL_MADE_DEMO: folder, GRAVENEL_MADE_PORT: made } = process.env;
  if (!folder || !made) throw new Error('The demo was not made: the tests were begun without their set-up');
  cpSync(folder, data, { recursive: true });
  for (const [file, columns] of Object.entries(naming)) {
    const db = new Database(join(data, file));
    for (const [table, column] of columns)
      for (const at of [0, 1, 2]) {
        const [before, now] = [Number(made) + at, port + at].map((p) => `127.0.0.1:${p}`);
        db.prepare(`UPDATE ${table} SET ${column} = replace(${column}, ?, ?)`).run(before, now);
      }
    db.close();
  }
}

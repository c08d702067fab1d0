import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll } from 'vitest';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';

export const password = 'clay on the wheel at dawn';

export let data: string;
export let port: number;
export let server: ChildProcess | null = null;

/** A folder and a port for all starts of a file. */
export function prepare(): void {
  beforeAll(async () => {
    built();
    data = mkdtempSync(join(tmpdir(), 'gravenel-crash-'));
    port = await freePorts();
  });
  afterAll(() => {
    server?.kill('SIGKILL');
    rmSync(data, { recursive: true, force: true });
  });
}

export async function start(): Promise<void> {
  server = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      GRAVENEL_ROOT: root,
      GRAVENEL_DATA: data,
      GRAVENEL_PORT: String(port),
      GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
      GRAVENEL_UNDO_SECONDS: '0',
      GRAVENEL_REPORTS_PER_MINUTE: '1000000',
      GRAVENEL_LOG: 'silent',
    },
  });
  await new Promise<void>((resolve, reject) => {
    server!.once('message', () => resolve());
    server!.once('exit', (code) => reject(new Error(`ended with ${code}`)));
  });
  server.removeAllListeners('exit');
}

export function kill(): Promise<void> {
  return new Promise((resolve) => {
    server!.once('exit', () => resolve());
    server!.kill('SIGKILL');
  });
}

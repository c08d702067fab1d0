import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { built, root } from '../scripts/lib/prepare.mjs';
import { freePorts } from '../tests/helpers/free-ports';

interface Child {
  stop: () => Promise<void>;
  port: number;
}

async function child(args: string[], env: Record<string, string>, port: number): Promise<Child> {
  const process_ = spawn(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, ...env },
  });
  await new Promise<void>((resolve, reject) => {
    process_.once('message', () => resolve());
    process_.once('exit', (code) => reject(new Error(`${args.at(-1)} ended with ${code}`)));
  });
  return {
    port,
    stop: () =>
      new Promise((resolve) => {
        process_.once('exit', () => resolve());
        process_.kill('SIGTERM');
      }),
  };
}

export interface Running {
  /** of our server */
  port: number;
  data: string;
  /** begins a bare server, the limit of something @param env what it is told beside its port */
  bare: (file: string, env?: Record<string, string>) => Promise<number>;
}

/**
 * Runs something against our server with the demo's data, and ends all servers after it.
 * @param prepare changes the data before the server starts
 */
export async function withServer(
  work: (running: Running) => Promise<void>,
  prepare: (data: string) => void = () => undefined,
): Promise<void> {
  built();
  const data = mkdtempSync(join(tmpdir(), 'gravenel-bench-'));
  const port = await freePorts();
  const env = {
    GRAVENEL_ROOT: root,
    GRAVENEL_DATA: data,
    GRAVENEL_PORT: String(port),
    GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
    GRAVENEL_REPORTS_PER_MINUTE: '100000000',
    GRAVENEL_LOG: 'silent',
  };
  await new Promise<void>((resolve, reject) => {
    spawn(process.execPath, [join(root, 'dist/server/demo.cjs')], {
      env: { ...process.env, ...env },
      stdio: 'inherit',
    }).once('exit', (code) => (code === 0 ? resolve() : reject(new Error('demo failed'))));
  });
  const children: Child[] = [];
  const bare = async (file: string, more: Record<string, string> = {}) => {
    const own = await freePorts();
    const told = { PORT: String(own), ...more };
    children.push(await child(['--import', 'tsx', join(root, 'bench/servers', file)], told, own));
    return own;
  };
  try {
    prepare(data);
    children.push(await child([join(root, 'dist/server/main.cjs')], env, port));
    await work({ port, data, bare });
  } finally {
    for (const c of children) await c.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

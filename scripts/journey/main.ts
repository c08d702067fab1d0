// Plays the main job through HTTP alone, on a fresh data folder and free ports, and checks every amount against figures written by hand.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePorts } from '../../tests/helpers/free-ports';
import { built, root } from '../lib/prepare.mjs';
import { play } from './play';

built();
const data = mkdtempSync(join(tmpdir(), 'gravenel-journey-'));
const port = await freePorts();
const server = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
  cwd: root,
  stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  env: {
    ...process.env,
    GRAVENEL_ROOT: root,
    GRAVENEL_DATA: data,
    GRAVENEL_PORT: String(port),
    GRAVENEL_UNDO_SECONDS: '0',
    GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
  },
});
const ended = new Promise<void>((resolve) => server.once('exit', () => resolve()));
let differences = 1;
try {
  await new Promise<void>((resolve, reject) => {
    server.once('message', () => resolve());
    server.once('exit', (code) => reject(new Error(`The server ended with ${code}`)));
  });
  differences = await play(`http://127.0.0.1:${port}`, `http://127.0.0.1:${port + 1}`);
} finally {
  server.kill('SIGTERM');
  await ended;
  rmSync(data, { recursive: true, force: true });
}
process.exitCode = differences === 0 ? 0 : 1;

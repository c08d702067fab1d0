import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';

let folder: string;
beforeAll(() => {
  built();
  folder = mkdtempSync(join(tmpdir(), 'gravenel-start-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const envFor = (more: Record<string, string>) => ({
  ...process.env,
  GRAVENEL_ROOT: root,
  GRAVENEL_LOG: 'silent',
  ...more,
});
const tryStart = (more: Record<string, string>, program = 'main') =>
  spawnSync(process.execPath, [join(root, `dist/server/${program}.cjs`)], {
    env: envFor(more),
    encoding: 'utf8',
    timeout: 30_000,
  });

describe('what keeps it from starting is said in a sentence', () => {
  it('a Node that is too old', () => {
    const older =
      'data:text/javascript,Object.defineProperty(process,"versions",{value:{...process.versions,node:"18.19.0"}})';
    const { status, stderr } = spawnSync(
      process.execPath,
      ['--import', older, join(root, 'scripts/start.mjs')],
      { encoding: 'utf8', timeout: 30_000 },
    );
    expect([status, stderr]).toEqual([1, 'Gravenel needs Node.js 20.12 or newer; this is 18.19.0.\n']);
  });
  it('a port that is taken', async () => {
    const port = await freePorts();
    const other = createServer();
    await new Promise<void>((resolve) => {
      other.listen(port, '127.0.0.1', () => resolve());
    });
    const { status, stderr } = tryStart({ GRAVENEL_PORT: String(port), GRAVENEL_DATA: join(folder, 'a') });
    other.close();
    expect([status, stderr]).toEqual([
      1,
      `Port ${port} is taken, so Gravenel cannot start. End the other program, or choose another port with GRAVENEL_PORT.\n`,
    ]);
  });
  it('a data folder that cannot be written, for the server and for the demo', () => {
    const file = join(folder, 'a-file');
    writeFileSync(file, '');
    for (const program of ['main', 'demo']) {
      const { status, stderr } = tryStart({ GRAVENEL_DATA: join(file, 'data') }, program);
      expect(status).toBe(1);
      expect(stderr).toContain(
        `The data folder ${join(file, 'data')} cannot be written. Choose another with GRAVENEL_DATA.`,
      );
      expect(stderr).not.toContain('    at ');
    }
  });
  it('a port that is none, a sealing key that is none', () => {
    expect(tryStart({ GRAVENEL_PORT: 'x' }).stderr).toBe(
      'GRAVENEL_PORT must be a port from 1 to 65533, not “x”\n',
    );
    expect(tryStart({ GRAVENEL_DATA: join(folder, 'b'), GRAVENEL_SEAL: 'short' }).stderr).toBe(
      'GRAVENEL_SEAL must be 64 hex digits\n',
    );
  });
});

async function start(port: number, data: string): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    env: envFor({
      GRAVENEL_PORT: String(port),
      GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
      GRAVENEL_DATA: data,
    }),
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  await new Promise<void>((resolve, reject) => {
    child.once('message', () => resolve());
    child.once('exit', (code) => reject(new Error(`ended with ${code}`)));
  });
  return child;
}
const end = (child: ChildProcess) =>
  new Promise<void>((resolve) => {
    child.once('exit', () => resolve());
    child.kill('SIGTERM');
  });

it('a second start keeps the data, and a demo’s clock goes on from where it stood', async () => {
  const port = await freePorts();
  const data = join(folder, 'kept');
  const first = await start(port, data);
  const desk = new Client(`http://127.0.0.1:${port}`);
  await desk.post('/api/v1/set-up', {
    merchant: 'Quernstone Clayworks',
    contact: 'hello@quernstone.example',
    currency: 'EUR',
    zone: 'Europe/Lisbon',
    owner: 'Inês',
    email: 'ines@quernstone.example',
    password: 'clay on the wheel at dawn',
    tryOut: true,
  });
  const moved = (await desk.post<{ now: number }>('/api/v1/clock', { by: 'month' })).body.now;
  await end(first);
  const second = await start(port, data);
  // the session is kept too
  expect((await desk.get('/api/v1/session')).body).toMatchObject({
    state: 'signed-in',
    programme: { name: 'Quernstone Clayworks' },
  });
  const now = (await desk.get<{ now: number }>('/api/v1/clock')).body.now;
  expect(now).toBeGreaterThanOrEqual(moved);
  expect(now - moved).toBeLessThan(60_000);
  await end(second);
});

it('outside a demo the clock cannot be moved', async () => {
  const port = await freePorts();
  const child = await start(port, join(folder, 'real'));
  const desk = new Client(`http://127.0.0.1:${port}`);
  await desk.post('/api/v1/set-up', {
    merchant: 'Real',
    contact: 'hello@quernstone.example',
    currency: 'JPY',
    zone: 'Asia/Tokyo',
    owner: 'Inês',
    email: 'ines@quernstone.example',
    password: 'clay on the wheel at dawn',
    tryOut: false,
  });
  expect((await desk.post('/api/v1/clock', { by: 'day' })).body).toMatchObject({
    status: 409,
    code: 'conflict',
  });
  await end(child);
});

import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from '../scripts/journey/client';
import { built, root } from '../scripts/lib/prepare.mjs';
import { demoKey } from '../src/demo/scenario';
import { signHeaders } from '../src/standins/signing';
import { freePorts } from '../tests/helpers/free-ports';
import { compare, Load, request } from './load';
import { report } from './report';

type Child = { stop: () => Promise<void>; port: number };

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

/** Redirects and order intake against bare servers in the same run. */
export async function benchHttp(): Promise<void> {
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
  try {
    const ours = await child([join(root, 'dist/server/main.cjs')], env, port);
    children.push(ours);
    await redirects(ours.port, data, children);
    await orders(ours.port, data, children);
  } finally {
    for (const c of children) await c.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

async function bareServer(file: string, data: string, children: Child[]): Promise<number> {
  const port = await freePorts();
  children.push(
    await child(
      ['--import', 'tsx', join(root, 'bench/servers', file)],
      { PORT: String(port), DATA: data },
      port,
    ),
  );
  return port;
}

async function linkOf(port: number): Promise<string> {
  const portal = new Client(`http://127.0.0.1:${port}`);
  await portal.post('/api/v1/portal/session', {
    email: 'mara@loamletters.example',
    password: 'quernstone clay',
  });
  return new URL(
    (await portal.get<{ links: { link: string; code: string }[] }>('/api/v1/portal/home')).body.links.find(
      (l) => l.code === 'WHEEL-1',
    )!.link,
  ).pathname;
}

const connections = 64;

async function redirects(port: number, data: string, children: Child[]): Promise<void> {
  const bytes = request('GET', await linkOf(port));
  const http = await Load.open(
    await bareServer('bare-http.ts', data, children),
    connections,
    () => bytes,
    'HTTP/1.1 302',
  );
  const express = await Load.open(
    await bareServer('bare-express.ts', data, children),
    connections,
    () => bytes,
    'HTTP/1.1 302',
  );
  const ours = await Load.open(port, connections, () => bytes, 'HTTP/1.1 302');
  report(
    'redirect, visit on disk before the answer ÷ bare node:http redirect',
    await compare(ours, http, 12),
    0.4,
  );
  report(
    'redirect, visit on disk before the answer ÷ Express redirect that stores nothing',
    await compare(ours, express, 12),
    2.5,
  );
  [http, express, ours].forEach((l) => l.close());
}

async function orders(port: number, data: string, children: Child[]): Promise<void> {
  const link = await linkOf(port);
  const visit = new URL(
    (await new Client(`http://127.0.0.1:${port}`).get(link)).headers.get('location')!,
  ).searchParams.get('gvn')!;
  let serial = 0;
  const body = () =>
    JSON.stringify({
      order: `B-${(serial += 1)}`,
      placedAt: '2027-03-12T09:00:00+00:00',
      currency: 'EUR',
      lines: [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }],
      visit,
    });
  const signed = () => {
    const text = body();
    return request(
      'POST',
      '/api/track/v1/orders',
      {
        'content-type': 'application/json',
        ...signHeaders({
          key: demoKey.id,
          secret: demoKey.secret,
          id: randomUUID(),
          timestamp: String(Math.floor(Date.now() / 1000)),
          body: text,
        }),
      },
      text,
    );
  };
  const bare = await Load.open(
    await bareServer('bare-express.ts', mkdtempSync(join(data, 'bare-')), children),
    16,
    () => request('POST', '/orders', { 'content-type': 'application/json' }, body()),
    'HTTP/1.1 201',
  );
  const ours = await Load.open(port, 16, signed, 'HTTP/1.1 201');
  report(
    'order report, recorded with journal ÷ bare Express POST with as many rows in one FULL transaction',
    await compare(ours, bare, 10),
    0.5,
  );
  [bare, ours].forEach((l) => l.close());
}

import { randomUUID } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from '../scripts/journey/client';
import { demoKey } from '../src/demo/scenario';
import { signHeaders } from '../src/standins/signing';
import { withServer, type Running } from './children';
import { compare, Load, request } from './load';
import { report } from './report';

/** Redirects and order intake against bare servers in the same run. */
export const benchHttp = (): Promise<void> =>
  withServer(async (running) => {
    await redirects(running);
    await orders(running);
  });

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

async function redirects({ port, data, bare }: Running): Promise<void> {
  const bytes = request('GET', await linkOf(port));
  const http = await Load.open(await bare('bare-http.ts'), connections, () => bytes, 'HTTP/1.1 302');
  const express = await Load.open(
    await bare('bare-express.ts', { DATA: data }),
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

async function orders({ port, data, bare: server }: Running): Promise<void> {
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
    await server('bare-express.ts', { DATA: mkdtempSync(join(data, 'bare-')) }),
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

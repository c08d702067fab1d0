import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { request as plain, type IncomingMessage } from 'node:http';
import { createServer as createTls, request as secure, type Server as HttpsServer } from 'node:https';
import { createServer, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { freePorts } from '../helpers/free-ports';
import { cert, key } from '../helpers/tls';

/** A mail server that takes what it is sent, or says what it is told to. */
function mailServer(): { server: Server; mails: string[]; answer: { rcpt: string } } {
  const mails: string[] = [];
  const answer = { rcpt: '250 ok' };
  const server = createServer((socket: Socket) => {
    let text = '';
    let mail: string | null = null;
    const say = (line: string) => socket.write(`${line}\r\n`);
    say('220 mail.test');
    socket.on('error', () => undefined);
    socket.on('data', (part) => {
      text += part.toString();
      for (let end = text.indexOf('\r\n'); end >= 0; end = text.indexOf('\r\n')) {
        const line = text.slice(0, end);
        text = text.slice(end + 2);
        if (mail !== null) {
          if (line !== '.') mail += `${line}\n`;
          else {
            mails.push(mail);
            mail = null;
            say('250 taken');
          }
        } else if (line === 'DATA') {
          mail = '';
          say('354 go on');
        } else if (line.startsWith('RCPT')) say(answer.rcpt);
        else if (line === 'QUIT') {
          say('221 bye');
          socket.end();
        } else say('250 ok');
      }
    });
  });
  return { server, mails, answer };
}

let folder: string;
let data: string;
let port: number;
let child: ChildProcess | null = null;
let proxy: HttpsServer;
let address: string;
const mail = mailServer();
let smtp: number;

const listening = (server: Server | HttpsServer) =>
  new Promise<number>((done) => {
    server.listen(0, '127.0.0.1', () => done((server.address() as { port: number }).port));
  });

/** The variables of the document, with the ports of this test. */
function environment(): Record<string, string> {
  const block = /```\n(GRAVENEL_DATA=[\s\S]*?)```/.exec(
    readFileSync(join(root, 'docs/going-live.md'), 'utf8'),
  )![1]!;
  const said = Object.fromEntries(
    block
      .trim()
      .split('\n')
      .map((line) => [line.slice(0, line.indexOf('=')), line.slice(line.indexOf('=') + 1)]),
  );
  return {
    ...said,
    GRAVENEL_DATA: data,
    GRAVENEL_ADDRESS: address,
    GRAVENEL_PORT: String(port),
    GRAVENEL_SMTP: `smtp://127.0.0.1:${smtp}`,
    GRAVENEL_ROOT: root,
    GRAVENEL_LOG: 'silent',
  };
}

async function start(): Promise<void> {
  child = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    env: { PATH: process.env.PATH, ...environment() },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  await new Promise<void>((done, failed) => {
    child!.once('message', () => done());
    child!.once('exit', (code) => failed(new Error(`ended with ${code}`)));
  });
}
const stop = () =>
  new Promise<void>((done) => {
    child!.removeAllListeners('exit');
    child!.once('exit', () => done());
    child!.kill('SIGTERM');
  });

interface Answer {
  status: number;
  body: Record<string, unknown>;
  headers: IncomingMessage['headers'];
}
const cookies = new Map<string, string>();
/** Asks through the proxy, as a browser at an address of its own would. */
function ask(
  method: string,
  path: string,
  body: unknown = undefined,
  more: { from?: string; headers?: Record<string, string> } = {},
): Promise<Answer> {
  return new Promise((done, failed) => {
    const call = secure(
      {
        host: '127.0.0.1',
        port: new URL(address).port,
        path,
        method,
        ca: cert,
        servername: 'localhost',
        localAddress: more.from ?? '127.0.0.1',
        headers: {
          host: new URL(address).host,
          cookie: [...cookies].map(([k, v]) => `${k}=${v}`).join('; '),
          ...(method === 'GET'
            ? {}
            : {
                origin: address,
                'content-type': 'application/json',
                'idempotency-key': crypto.randomUUID(),
              }),
          ...more.headers,
        },
      },
      (res) => {
        let text = '';
        res.on('data', (part: Buffer) => {
          text += part.toString();
        });
        res.on('end', () => {
          if (!more.from)
            for (const cookie of res.headers['set-cookie'] ?? []) {
              const [name, value] = cookie.split(';')[0]!.split('=');
              cookies.set(name!, value ?? '');
            }
          let parsed: unknown = null;
          try {
            parsed = JSON.parse(text);
          } catch {
            /* a page */
          }
          done({ status: res.statusCode ?? 0, body: parsed as Answer['body'], headers: res.headers });
        });
      },
    );
    call.on('error', failed);
    call.end(body === undefined ? undefined : JSON.stringify(body));
  });
}

beforeAll(async () => {
  built();
  folder = mkdtempSync(join(tmpdir(), 'gravenel-live-'));
  data = join(folder, 'data');
  port = await freePorts();
  smtp = await listening(mail.server);
  // what the document asks of a proxy: the host, the visitor's address and the scheme, in place of what the visitor says of them
  proxy = createTls({ key, cert }, (req, res) => {
    const onward = plain(
      {
        host: '127.0.0.1',
        port,
        path: req.url,
        method: req.method,
        headers: {
          ...req.headers,
          'x-forwarded-for': req.socket.remoteAddress,
          'x-forwarded-proto': 'https',
        },
      },
      (from) => {
        res.writeHead(from.statusCode ?? 502, from.headers);
        from.pipe(res);
      },
    );
    onward.on('error', () => res.destroy());
    req.pipe(onward);
  });
  address = `https://localhost:${await listening(proxy)}`;
  await start();
});
afterAll(async () => {
  await stop();
  proxy.close();
  proxy.closeAllConnections();
  mail.server.close();
  rmSync(folder, { recursive: true, force: true });
});

const modeOf = (path: string) => (statSync(path).mode & 0o777).toString(8);
const password = 'clay on the wheel at dawn';

it('is set up behind TLS: cookies over TLS only, no stand-in, files for their owner alone', async () => {
  const made = await ask('POST', '/api/v1/set-up', {
    merchant: 'Quernstone Clayworks',
    contact: 'hello@quernstone.example',
    currency: 'EUR',
    zone: 'Europe/Lisbon',
    owner: 'Inês Falcão',
    email: 'ines@quernstone.example',
    password,
    tryOut: false,
  });
  expect(made.status).toBe(200);
  expect(
    made.headers['set-cookie']!.find(
      (c) => c.startsWith('gravenel_desk=4') || /^gravenel_desk=[\w-]{20}/.test(c),
    ),
  ).toMatch(/HttpOnly; Secure; SameSite=Lax/);
  expect(made.headers['strict-transport-security']).toContain('max-age');
  expect((await ask('GET', '/api/v1/today')).body.waiting).toEqual([]);
  await expect(fetch(`http://127.0.0.1:${port + 1}/`)).rejects.toThrow();
  expect(existsSync(join(data, 'standins.sqlite'))).toBe(false);
  expect([
    modeOf(data),
    ...['gravenel.sqlite', 'gravenel.sqlite-wal', 'seal.key'].map((n) => modeOf(join(data, n))),
  ]).toEqual(['700', '600', '600', '600']);
});
it('a change that comes by another address than the configured one is refused', async () => {
  expect(
    (
      await ask(
        'POST',
        '/api/v1/connection/keys',
        { label: 'x' },
        { headers: { origin: `http://127.0.0.1:${port}` } },
      )
    ).status,
  ).toBe(403);
  expect(
    (
      await ask(
        'POST',
        '/api/v1/connection/keys',
        { label: 'x' },
        { headers: { origin: address.replace('https', 'http') } },
      )
    ).status,
  ).toBe(403);
});
it('visitors have their own addresses, and cannot choose them', async () => {
  const guess = (from: string, said: string) =>
    ask(
      'POST',
      '/api/v1/session',
      { email: `p${said}@nobody.example`, password: 'guess' },
      { from, headers: { 'x-forwarded-for': `198.51.100.${said}` } },
    );
  const statuses: number[] = [];
  for (let i = 0; i < 41; i += 1) statuses.push((await guess('127.0.0.2', String(i))).status);
  expect(statuses.at(-1)).toBe(429);
  expect((await guess('127.0.0.3', '1')).status).toBe(401);
});
it('writes by its mail server, and tries again what is not taken for now', async () => {
  mail.answer.rcpt = '451 not now';
  await ask('POST', '/api/v1/session/forgotten', { email: 'ines@quernstone.example' });
  const waiting = async () =>
    ((await ask('GET', '/api/v1/today')).body.waiting as { kind: string; text: string; more: string }[]).find(
      (w) => w.kind === 'mail',
    );
  await expect.poll(waiting, { timeout: 10_000 }).toMatchObject({
    text: '1 message waits to be sent',
    more: expect.stringContaining('451 not now') as string,
  });
  mail.answer.rcpt = '250 ok';
  await ask('POST', '/api/v1/session/forgotten', { email: 'ines@quernstone.example' });
  await expect.poll(() => mail.mails.length, { timeout: 10_000 }).toBe(1);
  const text = mail.mails[0]!.replace(/=\n/g, '').replace(/=3D/g, '=');
  const token = new RegExp(`${address}/password\\?token=([\\w-]+)`).exec(text)![1];
  expect(
    (await ask('POST', '/api/v1/session/reset', { token, password: 'bisque racks at half past six' })).status,
  ).toBe(200);
});
it('is copied while it runs, and brought back into another folder with its secrets', async () => {
  const { id } = (await ask('POST', '/api/v1/connection/keys', { label: 'Shop' })).body as { id: string };
  const { secret } = (await ask('POST', `/api/v1/connection/keys/${id}/secret`, {})).body;
  const command = (name: string, where: string, file: string) =>
    spawnSync(process.execPath, [join(root, 'scripts/run.mjs'), `scripts/${name}.ts`, file], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, GRAVENEL_DATA: where },
    });
  const copy = join(folder, 'copy.sqlite');
  const saved = command('backup', data, copy);
  expect(
    [saved.status, saved.stdout.includes(`${copy}.seal`), modeOf(copy), modeOf(`${copy}.seal`)],
    saved.stderr,
  ).toEqual([0, true, '600', '600']);
  expect(command('restore', data, copy)).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('A server is running') as string,
  });
  const other = join(folder, 'other');
  const back = command('restore', other, copy);
  expect([back.status, modeOf(other), modeOf(join(other, 'gravenel.sqlite'))], back.stderr).toEqual([
    0,
    '700',
    '600',
  ]);
  await stop();
  data = other;
  await start();
  expect(
    (
      await ask('POST', '/api/v1/session', {
        email: 'ines@quernstone.example',
        password: 'bisque racks at half past six',
      })
    ).status,
  ).toBe(200);
  expect((await ask('POST', `/api/v1/connection/keys/${id}/secret`, {})).body.secret).toBe(secret);
});

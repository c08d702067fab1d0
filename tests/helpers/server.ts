import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client, type Answer } from '../../scripts/journey/client';
import type { Role } from '../../src/core/access/lists';
import type { Id } from '../../src/core/text/id';
import { assemble } from '../../src/server/assemble';
import type { App } from '../../src/server/ground/context';
import { newId } from '../../src/server/ground/db/ids';
import type { Clock } from '../../src/server/ground/ports';
import { staff } from '../../src/server/ground/tables/access';
import { hashPassword } from '../../src/server/registers/access/passwords';
import { deliverWaiting } from '../../src/server/registers/outbox/delivery';
import { sign } from '../../src/server/track/reports/signature';
import { emptyBytes, migrations } from './empty';
import { freePorts } from './free-ports';
import { listOnly } from './listing';
import { ticking } from './ticking';
import { workerFile } from './worker';

export const password = 'clay on the wheel at dawn';

const root = join(import.meta.dirname, '../..');
const begin = Date.parse('2027-03-12T10:00:00Z');

/** What a report is answered with, as far as tests look at it: what was granted, or what is wrong. */
export interface Reported extends Record<string, unknown> {
  commissions: { amount: { value: string } }[];
  downloads: { url: string; until: string; name: string }[];
  errors: { pointer: string; detail: string; example?: string }[];
  detail: string;
}

export interface TestServer {
  app: App;
  routes: string[];
  address: string;
  standins: string;
  /** the registry's own address */
  registry: string;
  /** signed in as staff of this role */
  as: (role: Role) => Promise<Client>;
  /** the key of the shop */
  key: { id: string; secret: string };
  /** sends a signed report */
  report: <T = Reported>(
    call: 'orders' | 'refunds' | 'renewals' | 'leads' | 'quotes',
    /** as it is sent: a text that is no JSON as well */
    body: object | string,
    headers?: Record<string, string>,
  ) => Promise<Answer<T>>;
  /** an approved affiliate with payout details, and a client signed in as it */
  affiliate: (
    name: string,
    options?: { timing?: 'at-sale' | 'after-hold'; product?: string; details?: boolean },
  ) => Promise<{ id: Id<'affiliate'>; client: Client; link: (code: string) => Promise<string> }>;
  /** follows a link and returns the visit's id */
  visit: (link: string, headers?: Record<string, string>) => Promise<string>;
  /** creates a live product and returns its id */
  product: (code: string, fields?: Record<string, unknown>) => Promise<string>;
  days: (days: number) => void;
  close: () => Promise<void>;
}

const merchant = {
  merchant: 'Quernstone Clayworks',
  contact: 'hello@quernstone.example',
  currency: 'EUR',
  zone: 'Europe/Lisbon',
  owner: 'Inês Falcão',
  email: 'owner@quernstone.example',
  password,
  tryOut: true,
};

const money = {
  bufferDays: 3,
  clearing: 'automatic',
  minimumPayout: '10.00',
  approvalAbove: '',
  promiseDays: 14,
  debtorName: 'Quernstone Clayworks',
  debtorIban: 'PT50000201231234567890154',
};

/** Staff of every role but the owner, straight into the tables. */
async function addStaff(app: App): Promise<void> {
  const stored = await hashPassword(password);
  for (const role of ['manager', 'finance', 'viewer'] as const)
    app.db
      .insert(staff)
      .values({
        id: newId('staff'),
        name: role,
        email: `${role}@quernstone.example`,
        role,
        password: stored,
        createdAt: app.clock.now(),
      })
      .run();
}

/** Sets the programme up, with staff of every role and a key that takes pictures. @returns the owner’s client and the key */
async function setUp(app: App, address: string): Promise<{ owner: Client; key: TestServer['key'] }> {
  const owner = new Client(address);
  await owner.post('/api/v1/set-up', merchant);
  await addStaff(app);
  const { version } = (await owner.get<{ version: number }>('/api/v1/settings')).body;
  await owner.put('/api/v1/settings/money', { ...money, version });
  const { id } = (await owner.post<{ id: string }>('/api/v1/connection/keys', { label: 'Shop' })).body;
  const key = (await owner.post<TestServer['key']>(`/api/v1/connection/keys/${id}/secret`)).body;
  await owner.put(`/api/v1/connection/keys/${id}/pictures`, { on: true });
  return { owner, key };
}

/** A client for each role, signed in at the first need. */
function signedIn(address: string, owner: Client): TestServer['as'] {
  const clients = new Map<Role, Client>([['owner', owner]]);
  return async (role) => {
    let client = clients.get(role);
    if (!client) {
      client = new Client(address);
      await client.post('/api/v1/session', { email: `${role}@quernstone.example`, password });
      clients.set(role, client);
    }
    return client;
  };
}

/** Sends reports signed with a key, each under an id of its own. */
function reporter(plain: Client, key: TestServer['key']): TestServer['report'] {
  let serial = 0;
  return <T>(call: string, body: object | string, headers: Record<string, string> = {}) => {
    const text = typeof body === 'string' ? body : JSON.stringify(body);
    const id = `msg_${(serial += 1)}`;
    const timestamp = String(Math.floor(Date.now() / 1000));
    return plain.send<T>('POST', `/api/track/v1/${call}`, text, {
      'x-gravenel-key': key.id,
      'webhook-id': id,
      'webhook-timestamp': timestamp,
      'webhook-signature': sign(key.secret, id, timestamp, text),
      ...headers,
    });
  };
}

const sells =
  (owner: Client): TestServer['product'] =>
  async (code, fields = {}) => {
    const body = {
      code,
      name: `Product ${code}`,
      description: 'A thing.',
      currency: 'EUR',
      price: '100.00',
      refundDays: 14,
      salesPage: `https://shop.quernstone.example/p/${code}`,
      rewardKind: 'percent',
      reward: '10',
      ...fields,
    };
    const made = await owner.post<{ id: string; version: number }>('/api/v1/products', body);
    if (made.status !== 200) throw new Error(made.text);
    const { id, version } = made.body;
    await owner.post(`/api/v1/products/${id}/state`, { state: 'live', version });
    return id;
  };

/** A client of the portal, with the password that its welcome let it set. */
async function welcomed(app: App, { address, standins }: Addresses, email: string): Promise<Client> {
  await deliverWaiting(app);
  const mails = (await new Client(standins).get<{ to: string; body: string }[]>('/mailroom/messages.json'))
    .body;
  const mine = mails.filter((m) => m.to === email).map((m) => m.body);
  const token = /token=([\w-]+)/.exec(mine.join('\n'))?.[1];
  const client = new Client(address);
  await client.post('/api/v1/portal/password', { token, password });
  return client;
}

async function givePayoutDetails(client: Client, holder: string): Promise<void> {
  const { version } = (await client.get<{ version: number }>('/api/v1/portal/payout-details')).body;
  await client.put('/api/v1/portal/payout-details', {
    holder,
    iban: 'GB33 BUKB 2020 1555 5555 55',
    address: 'Kiln Lane 4',
    version,
    password,
  });
}

interface Addresses {
  address: string;
  standins: string;
}

const joins =
  (app: App, owner: Client, addresses: Addresses): TestServer['affiliate'] =>
  async (name, { timing = 'after-hold', product = '', details = true } = {}) => {
    const letters = name.toLowerCase().replace(/[^a-z]/g, '');
    const email = `${letters}@${letters}.example`;
    await new Client(addresses.address).post('/api/v1/join', {
      name,
      email,
      country: 'PT',
      address: 'Kiln Lane 4',
      sites: [`${letters}.example`],
      channels: 'blog',
      note: 'A note.',
      product,
      policy: true,
    });
    const { rows } = (
      await owner.get<{ rows: { id: string; affiliate: Id<'affiliate'>; name: string }[] }>(
        '/api/v1/applications',
      )
    ).body;
    const { id, affiliate } = rows.find((r) => r.name === name)!;
    await owner.post('/api/v1/applications/decide', {
      ids: [id],
      decision: 'approve',
      timing,
      reason: '',
      message: true,
    });
    const client = await welcomed(app, addresses, email);
    if (details) await givePayoutDetails(client, name);
    const link = async (code: string) =>
      (await client.get<{ links: { code: string; link: string }[] }>('/api/v1/portal/home')).body.links.find(
        (l) => l.code === code,
      )!.link;
    return { id: affiliate, client, link };
  };

const follows =
  (plain: Client): TestServer['visit'] =>
  async (link, headers = {}) =>
    new URL((await plain.send('GET', link, undefined, headers)).headers.get('location')!).searchParams.get(
      'gvn',
    )!;

/** Our clock: as fast as the machine’s, from noon-ish of 12 Mar 2027. */
export function clockFromBegin(): Clock {
  let ahead = begin - Date.now();
  return ticking({
    now: () => Date.now() + ahead,
    real: Date.now,
    advance: (ms) => {
      ahead += ms;
    },
  });
}

const assembled = (data: string, port: number, trustProxy: string[], clock: Clock) =>
  assemble(
    {
      port,
      standins: 'on',
      standinPort: port + 1,
      data,
      address: `http://127.0.0.1:${port}`,
      host: '127.0.0.1',
      trustProxy,
      seal: undefined,
      smtp: undefined,
      registry: undefined,
      logLevel: 'silent',
      migrations,
      web: join(root, 'dist/web'),
      docs: join(root, 'docs'),
      rehearser: workerFile,
    },
    clock,
  );

const listening = (server: Server, port: number) =>
  new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));

const closed = (server: Server) =>
  new Promise((resolve) => {
    server.close(resolve);
    server.closeAllConnections();
  });

/**
 * A whole Gravenel in this process on a fresh folder: set up, with staff of every role and a key, at noon-ish of 12 Mar 2027.
 * @param partners how many the stand-in registry lists
 */
export async function startServer({
  trustProxy = [],
  partners = 300,
  clock = clockFromBegin(),
}: { trustProxy?: string[]; partners?: number; clock?: Clock } = {}): Promise<TestServer> {
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  const data = mkdtempSync(join(tmpdir(), 'gravenel-test-'));
  writeFileSync(join(data, 'gravenel.sqlite'), emptyBytes());
  const port = await freePorts();
  const running = assembled(data, port, trustProxy, clock);
  const { app } = running;
  // the power does not fail while a test runs
  app.sqlite.pragma('synchronous = OFF');
  const { shop, registry } = running.openStandins();
  listOnly(data, partners);
  const servers = [running.http, shop, registry];
  for (const [i, server] of servers.entries()) await listening(server, port + i);
  const [address, standins] = [`http://127.0.0.1:${port}`, `http://127.0.0.1:${port + 1}`];
  const { owner, key } = await setUp(app, address);
  const plain = new Client(address);
  return {
    app,
    routes: running.routes,
    address,
    standins,
    registry: `http://127.0.0.1:${port + 2}`,
    as: signedIn(address, owner),
    key,
    report: reporter(plain, key),
    product: sells(owner),
    affiliate: joins(app, owner, { address, standins }),
    visit: follows(plain),
    days: (days) => app.clock.advance(days * 86_400_000),
    close: async () => {
      for (const server of servers) await closed(server);
      running.close();
      rmSync(data, { recursive: true, force: true });
    },
  };
}

import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { Seeded } from '../../src/demo/random';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { signHeaders } from '../../src/standins/signing';
import { freePorts } from '../helpers/free-ports';

const kills = Number(process.env.GRAVENEL_KILLS ?? 50);
const seed = Number(process.env.GRAVENEL_SEED ?? 20270312);
const password = 'clay on the wheel at dawn';

let data: string;
let port: number;
let server: ChildProcess | null = null;
beforeAll(async () => {
  built();
  data = mkdtempSync(join(tmpdir(), 'gravenel-crash-'));
  port = await freePorts();
});
afterAll(() => {
  server?.kill('SIGKILL');
  rmSync(data, { recursive: true, force: true });
});

async function start(): Promise<void> {
  server = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    cwd: root, stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, GRAVENEL_ROOT: root, GRAVENEL_DATA: data, GRAVENEL_PORT: String(port), GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`, GRAVENEL_UNDO_SECONDS: '0', GRAVENEL_REPORTS_PER_MINUTE: '1000000', GRAVENEL_LOG: 'silent' },
  });
  await new Promise<void>((resolve, reject) => { server!.once('message', () => resolve()); server!.once('exit', (code) => reject(new Error(`ended with ${code}`))); });
  server.removeAllListeners('exit');
}

function kill(): Promise<void> {
  return new Promise((resolve) => { server!.once('exit', () => resolve()); server!.kill('SIGKILL'); });
}

/** What was answered with success and therefore must be there after any crash. */
interface Acknowledged { orders: Set<string>; refunds: Set<string>; sent: Set<string> }

interface Shop { key: { id: string; secret: string }; visits: string[] }

/** Sends orders and refunds without a pause until the server is gone. */
async function sell(address: string, shop: Shop, round: number, ack: Acknowledged, random: Seeded): Promise<void> {
  const client = new Client(address);
  const ahead = (await client.get<{ now: number }>('/api/v1/clock').catch(() => null))?.body.now ?? Date.now();
  const offset = ahead - Date.now();
  const now = () => new Date(Date.now() + offset).toISOString();
  for (let n = 0; ; n += 1) {
    const reference = `K-${round}-${n}`;
    const send = async (call: string, body: object) => {
      const text = JSON.stringify(body);
      const headers = signHeaders({ key: shop.key.id, secret: shop.key.secret, id: randomUUID(), timestamp: String(Math.floor(Date.now() / 1000)), body: text });
      return (await client.send('POST', `/api/track/v1/${call}`, text, headers)).status;
    };
    try {
      const status = await send('orders', { order: reference, placedAt: now(), currency: 'EUR', lines: [{ product: 'POT-1', quantity: 1, amount: `${random.whole(20, 300)}.${random.whole(10, 99)}` }], visit: random.pick(shop.visits) });
      if (status === 201) ack.orders.add(reference);
      if (n % 4 === 0 && (await send('refunds', { refund: `R-${reference}`, order: reference, at: now(), kind: 'refund', full: true })) === 201) ack.refunds.add(`R-${reference}`);
    } catch {
      return;
    }
  }
}

/** Drafts, approves, sends, hands over and settles runs until the server is gone; takes up what an earlier crash left. */
async function pay(address: string, standins: string, ack: Acknowledged): Promise<void> {
  interface Run { id: string; state: string; version: number; total: { amount: number }; payees: number }
  const desk = new Client(address);
  const bank = new Client(standins);
  try {
    await desk.post('/api/v1/session', { email: 'ines@quernstone.example', password });
    const today = async () => new Date((await desk.get<{ now: number }>('/api/v1/clock')).body.now).toISOString().slice(0, 10);
    for (;;) {
      const open = (await desk.get<{ rows: { id: string; state: string }[] }>('/api/v1/payouts')).body.rows.find((r) => r.state !== 'settled');
      let run = open ? (await desk.get<Run>(`/api/v1/payouts/${open.id}`)).body : (await desk.post<Run>('/api/v1/payouts', { cutoff: await today(), minimum: '0.00' })).body;
      if (run.state === 'draft' && run.payees === 0) {
        // drafted before anything had cleared: it pays nobody, whatever comes later
        await desk.post(`/api/v1/payouts/${run.id}/discard`, { version: run.version });
        await new Promise((r) => setTimeout(r, 30));
        continue;
      }
      if (run.state === 'draft') run = (await desk.post<Run>(`/api/v1/payouts/${run.id}/approve`, { version: run.version, total: run.total.amount })).body;
      if (run.state === 'approved') {
        run = (await desk.post<Run>(`/api/v1/payouts/${run.id}/send`, { version: run.version })).body;
        if (run.state === 'sent') ack.sent.add(run.id);
      }
      if (run.state !== 'sent') {
        await new Promise((r) => setTimeout(r, 20));
        continue;
      }
      await desk.post(`/api/v1/payouts/${run.id}/deliver`, { version: run.version });
      for (const file of (await bank.get<{ id: string; lines: { endToEnd: string; status: string }[] }[]>('/bank/files.json')).body) {
        const waiting = file.lines.filter((l) => l.status === 'waiting');
        if (waiting.length) await bank.form(`/bank/files/${file.id}/answer`, waiting.length > 2 ? { [waiting[0]!.endToEnd]: 'AC04' } : {});
      }
      await desk.post('/api/v1/payouts/collect');
    }
  } catch { /* the server is gone */ }
}

function check(ack: Acknowledged): void {
  const db = new Database(join(data, 'gravenel.sqlite'));
  try {
    expect(db.pragma('integrity_check', { simple: true })).toBe('ok');
    expect(brokenInvariants(db)).toEqual([]);
    const has = (sql: string) => new Set(db.prepare(sql).pluck().all() as string[]);
    const missing = (wanted: Set<string>, there: Set<string>) => [...wanted].filter((w) => !there.has(w));
    expect(missing(ack.orders, has('SELECT reference FROM orders')), 'acknowledged orders').toEqual([]);
    expect(missing(ack.refunds, has('SELECT reference FROM refunds')), 'acknowledged refunds').toEqual([]);
    expect(missing(ack.sent, has("SELECT id FROM runs WHERE state IN ('sent', 'settled') AND file IS NOT NULL")), 'acknowledged sent runs').toEqual([]);
  } finally {
    db.close();
  }
  const bank = new Database(join(data, 'standins.sqlite'), { readonly: true });
  const ledger = new Database(join(data, 'gravenel.sqlite'), { readonly: true });
  try {
    const lines = (bank.prepare('SELECT lines FROM bank_files').pluck().all() as string[]).flatMap((l) => JSON.parse(l) as { endToEnd: string; amount: string }[]);
    expect(new Set(lines.map((l) => l.endToEnd)).size, 'no payment reached the bank twice').toBe(lines.length);
    const known = new Map((ledger.prepare('SELECT end_to_end e, amount a FROM payments').all() as { e: string; a: number }[]).map((p) => [p.e, p.a]));
    expect(lines.filter((l) => known.get(l.endToEnd) !== Math.round(Number(l.amount) * 100)), 'each payment at the bank is one of ours').toEqual([]);
  } finally {
    bank.close();
    ledger.close();
  }
}

it(`survives ${kills} kills at random moments of order intake and of sending (seed ${seed})`, async () => {
  const random = new Seeded(seed);
  const address = `http://127.0.0.1:${port}`;
  const standins = `http://127.0.0.1:${port + 1}`;
  const ack: Acknowledged = { orders: new Set(), refunds: new Set(), sent: new Set() };
  await start();
  const desk = new Client(address);
  await desk.post('/api/v1/set-up', { merchant: 'Quernstone Clayworks', contact: 'hello@quernstone.example', currency: 'EUR', zone: 'Europe/Lisbon', owner: 'Inês', email: 'ines@quernstone.example', password, tryOut: true });
  await desk.put('/api/v1/settings/money', { bufferDays: 0, clearing: 'automatic', minimumPayout: '0.00', approvalAbove: '', promiseDays: 14, debtorName: 'Quernstone Clayworks', debtorIban: 'PT50000201231234567890154', version: 1 });
  const product = (await desk.post<{ id: string; version: number }>('/api/v1/products', { code: 'POT-1', name: 'Pot', description: 'x', currency: 'EUR', price: '100.00', refundDays: 0, salesPage: `${standins}/p/POT-1`, rewardKind: 'percent', reward: '12.5' })).body;
  await desk.post(`/api/v1/products/${product.id}/state`, { state: 'live', version: product.version });
  const shop: Shop = { key: (await desk.post<{ id: string; secret: string }>(`/api/v1/connection/keys/${(await desk.post<{ id: string }>('/api/v1/connection/keys', { label: 'Shop' })).body.id}/secret`)).body, visits: [] };
  for (const name of ['ann', 'bob', 'cem', 'dee']) {
    await desk.post('/api/v1/join', { name, email: `${name}@potters.example`, country: 'PT', address: '', sites: ['potters.example'], channels: '', note: `${name} throws`, product: '' });
    const { id } = (await desk.get<{ rows: { id: string }[] }>('/api/v1/applications')).body.rows[0]!;
    await desk.post('/api/v1/applications/decide', { ids: [id], decision: 'approve', timing: 'at-sale', reason: '', message: false });
  }
  await kill();
  const db = new Database(join(data, 'gravenel.sqlite'));
  db.exec("UPDATE affiliates SET payee_holder = name, payee_iban = 'GB33BUKB20201555555555', payee_address = 'Kiln Lane 4'");
  const codes = db.prepare('SELECT code FROM links').pluck().all() as string[];
  db.close();
  await start();
  for (const code of codes) shop.visits.push(new URL((await new Client(address).get(`/go/${code}`)).headers.get('location')!).searchParams.get('gvn')!);
  await kill();

  for (let round = 0; round < kills; round += 1) {
    await start();
    const work = [sell(address, shop, round, ack, random), sell(address, { ...shop }, round + 10_000, ack, random), pay(address, standins, ack)];
    await new Promise((r) => setTimeout(r, 60 + random.whole(0, 640)));
    await kill();
    await Promise.all(work);
    check(ack);
  }
  process.stdout.write(`acknowledged and found again: ${ack.orders.size} orders, ${ack.refunds.size} refunds, ${ack.sent.size} runs sent\n`);
  expect(ack.orders.size).toBeGreaterThan(kills);
  expect(ack.sent.size).toBeGreaterThan(kills / 10);
}, 400_000);

import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Client } from '../../scripts/journey/client';
import { built, root } from '../../scripts/lib/prepare.mjs';
import { Seeded } from '../../src/demo/random';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { signHeaders } from '../../src/standins/signing';
import { freePorts } from '../helpers/free-ports';

const all = Number(process.env.GRAVENEL_KILLS ?? 50);
const given = Number(process.env.GRAVENEL_SEED ?? 20270312);
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

function kill(): Promise<void> {
  return new Promise((resolve) => {
    server!.once('exit', () => resolve());
    server!.kill('SIGKILL');
  });
}

/** What was answered with success and therefore must be there after any crash. */
interface Acknowledged {
  orders: Set<string>;
  refunds: Set<string>;
  sent: Set<string>;
  steps: Record<Step, number>;
}

type Step = 'drafted' | 'approved' | 'sent' | 'collected';

interface Shop {
  key: { id: string; secret: string };
  visits: string[];
}

/** What one start of the server lives through: how much is acknowledged, and whether it is over. */
class Round {
  over = false;
  #sales = 0;
  #steps = 0;
  readonly reached: Promise<void>;
  #end!: () => void;

  /** @param until so many acknowledged sales, or so many acknowledged steps of paying */
  constructor(readonly until: { sales: number } | { steps: number }) {
    this.reached = new Promise((resolve) => {
      this.#end = resolve;
    });
  }

  sale(): void {
    this.#sales += 1;
    this.#judge();
  }

  step(): void {
    this.#steps += 1;
    this.#judge();
  }

  #judge(): void {
    if ('sales' in this.until ? this.#sales < this.until.sales : this.#steps < this.until.steps) return;
    // set at once: whoever was acknowledged last begins nothing more
    this.over = true;
    this.#end();
  }
}

/** Asks a server that runs, once more where a connection of the one before was still kept. */
async function connected<T>(ask: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await ask();
    } catch (fault) {
      if (tries === 10) throw fault;
    }
  }
}

/** Does something again and again until the round is over; a lost connection is not the end of it. */
async function untilOver(round: Round, work: (n: number) => Promise<void>): Promise<void> {
  for (let n = 0; !round.over; n += 1) {
    try {
      await work(n);
    } catch (fault) {
      // the server is gone, or closed a connection that was kept: the first of these ends the round, the second does not
      if (!(fault instanceof TypeError) && !(fault instanceof SyntaxError)) throw fault;
      await new Promise((r) => setImmediate(r));
    }
  }
}

/** Sends orders and refunds without a pause. @param ahead how far the programme's clock is ahead of the machine's, ms */
function sell(
  address: string,
  {
    shop,
    round,
    name,
    ahead,
    ack,
    random,
  }: { shop: Shop; round: Round; name: string; ahead: number; ack: Acknowledged; random: Seeded },
): Promise<void> {
  const client = new Client(address);
  const now = () => new Date(Date.now() + ahead).toISOString();
  const send = async (call: string, body: object) => {
    const text = JSON.stringify(body);
    const headers = signHeaders({
      key: shop.key.id,
      secret: shop.key.secret,
      id: randomUUID(),
      timestamp: String(Math.floor(Date.now() / 1000)),
      body: text,
    });
    return (await client.send('POST', `/api/track/v1/${call}`, text, headers)).status;
  };
  return untilOver(round, async (n) => {
    const reference = `K-${name}-${n}`;
    const status = await send('orders', {
      order: reference,
      placedAt: now(),
      currency: 'EUR',
      lines: [{ product: 'POT-1', quantity: 1, amount: `${random.whole(20, 300)}.${random.whole(10, 99)}` }],
      visit: random.pick(shop.visits),
    });
    if (status !== 201) return;
    ack.orders.add(reference);
    round.sale();
    if (
      n % 4 === 0 &&
      (await send('refunds', {
        refund: `R-${reference}`,
        order: reference,
        at: now(),
        kind: 'refund',
        full: true,
      })) === 201
    )
      ack.refunds.add(`R-${reference}`);
  });
}

interface Run {
  id: string;
  state: string;
  version: number;
  total: { amount: number };
  payees: number;
}

/** Drafts, approves, sends, hands over and settles runs; takes up what an earlier crash left. @param desk signed in before the first kill: its session outlives them */
function pay(
  desk: Client,
  { standins, round, today, ack }: { standins: string; round: Round; today: string; ack: Acknowledged },
): Promise<void> {
  const bank = new Client(standins);
  const acknowledged = (step: Step) => {
    ack.steps[step] += 1;
    round.step();
  };
  return untilOver(round, async () => {
    const listed = await desk.get<{ rows: Run[] }>('/api/v1/payouts');
    if (listed.status !== 200) throw new Error(`payouts are answered ${listed.status}: ${listed.text}`);
    const open = listed.body.rows.find((r) => r.state !== 'settled');
    if (!open) {
      if ((await desk.post('/api/v1/payouts', { cutoff: today, minimum: '0.00' })).status === 200)
        acknowledged('drafted');
      return;
    }
    const run = (await desk.get<Run>(`/api/v1/payouts/${open.id}`)).body;
    if (run.state === 'draft' && run.payees === 0) {
      // drafted before anything had cleared: it pays nobody, whatever comes later
      await desk.post(`/api/v1/payouts/${run.id}/discard`, { version: run.version });
    } else if (run.state === 'draft') {
      if (
        (
          await desk.post<Run>(`/api/v1/payouts/${run.id}/approve`, {
            version: run.version,
            total: run.total.amount,
          })
        ).body.state === 'approved'
      )
        acknowledged('approved');
    } else if (['approving', 'reopening', 'sending'].includes(run.state)) {
      // what a kill interrupted goes on by itself
      await new Promise((r) => setImmediate(r));
    } else if (run.state === 'approved') {
      if (
        (await desk.post<Run>(`/api/v1/payouts/${run.id}/send`, { version: run.version })).body.state !==
        'sent'
      )
        return;
      ack.sent.add(run.id);
      acknowledged('sent');
    } else {
      ack.sent.add(run.id);
      await desk.post(`/api/v1/payouts/${run.id}/deliver`, { version: run.version });
      for (const file of (
        await bank.get<{ id: string; lines: { endToEnd: string; status: string }[] }[]>('/bank/files.json')
      ).body) {
        const waiting = file.lines.filter((l) => l.status === 'waiting');
        if (waiting.length)
          await bank.form(
            `/bank/files/${file.id}/answer`,
            waiting.length > 2 ? { [waiting[0]!.endToEnd]: 'AC04' } : {},
          );
      }
      if ((await desk.post('/api/v1/payouts/collect')).status === 200) acknowledged('collected');
    }
  });
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
    expect(
      missing(ack.sent, has("SELECT id FROM runs WHERE state IN ('sent', 'settled') AND file IS NOT NULL")),
      'acknowledged sent runs',
    ).toEqual([]);
  } finally {
    db.close();
  }
  const bank = new Database(join(data, 'standins.sqlite'), { readonly: true });
  const ledger = new Database(join(data, 'gravenel.sqlite'), { readonly: true });
  try {
    const lines = (bank.prepare('SELECT lines FROM bank_files').pluck().all() as string[]).flatMap(
      (l) => JSON.parse(l) as { endToEnd: string; amount: string }[],
    );
    expect(new Set(lines.map((l) => l.endToEnd)).size, 'no payment reached the bank twice').toBe(
      lines.length,
    );
    const known = new Map(
      (ledger.prepare('SELECT end_to_end e, amount a FROM payments').all() as { e: string; a: number }[]).map(
        (p) => [p.e, p.a],
      ),
    );
    expect(
      lines.filter((l) => known.get(l.endToEnd) !== Math.round(Number(l.amount) * 100)),
      'each payment at the bank is one of ours',
    ).toEqual([]);
  } finally {
    bank.close();
    ledger.close();
  }
}

interface Played {
  address: string;
  standins: string;
  desk: Client;
  shop: Shop;
}

/** A programme with a live product. */
async function openProgramme(address: string, standins: string): Promise<Client> {
  await start();
  const desk = new Client(address);
  await desk.post('/api/v1/set-up', {
    merchant: 'Quernstone Clayworks',
    contact: 'hello@quernstone.example',
    currency: 'EUR',
    zone: 'Europe/Lisbon',
    owner: 'Inês',
    email: 'ines@quernstone.example',
    password,
    tryOut: true,
  });
  await desk.put('/api/v1/settings/money', {
    bufferDays: 0,
    clearing: 'automatic',
    minimumPayout: '0.00',
    approvalAbove: '',
    promiseDays: 14,
    debtorName: 'Quernstone Clayworks',
    debtorIban: 'PT50000201231234567890154',
    version: 1,
  });
  const product = (
    await desk.post<{ id: string; version: number }>('/api/v1/products', {
      code: 'POT-1',
      name: 'Pot',
      description: 'x',
      currency: 'EUR',
      price: '100.00',
      refundDays: 0,
      salesPage: `${standins}/p/POT-1`,
      rewardKind: 'percent',
      reward: '12.5',
    })
  ).body;
  await desk.post(`/api/v1/products/${product.id}/state`, { state: 'live', version: product.version });
  return desk;
}

/** Affiliates who are paid at sale, their links, and the key of the shop. */
async function openShop(desk: Client, address: string): Promise<Shop> {
  const shop: Shop = {
    key: (
      await desk.post<{ id: string; secret: string }>(
        `/api/v1/connection/keys/${(await desk.post<{ id: string }>('/api/v1/connection/keys', { label: 'Shop' })).body.id}/secret`,
      )
    ).body,
    visits: [],
  };
  for (const name of ['ann', 'bob', 'cem', 'dee']) {
    await desk.post('/api/v1/join', {
      name,
      email: `${name}@potters.example`,
      country: 'PT',
      address: '',
      sites: ['potters.example'],
      channels: '',
      note: `${name} throws`,
      product: '',
    });
    const { id } = (await desk.get<{ rows: { id: string }[] }>('/api/v1/applications')).body.rows[0]!;
    await desk.post('/api/v1/applications/decide', {
      ids: [id],
      decision: 'approve',
      timing: 'at-sale',
      reason: '',
      message: false,
    });
  }
  await kill();
  const db = new Database(join(data, 'gravenel.sqlite'));
  db.exec(
    "UPDATE affiliates SET payee_holder = name, payee_iban = 'GB33BUKB20201555555555', payee_address = 'Kiln Lane 4'",
  );
  const codes = db.prepare('SELECT code FROM links').pluck().all() as string[];
  db.close();
  await start();
  for (const code of codes)
    shop.visits.push(
      new URL((await new Client(address).get(`/go/${code}`)).headers.get('location')!).searchParams.get(
        'gvn',
      )!,
    );
  await kill();

  return shop;
}

/** One start of the server: sales and payments go on until the round is over, then it is ended hard and what was acknowledged is looked for. */
async function playRound(
  n: number,
  seed: number,
  played: Played,
  { random, ack }: { random: Seeded; ack: Acknowledged },
) {
  const { address, standins, desk, shop } = played;
  const round = new Round(
    random.chance(0.5) ? { sales: random.whole(1, 12) } : { steps: random.whole(1, 4) },
  );
  await start();
  const { now } = (await connected(() => desk.get<{ now: number }>('/api/v1/clock'))).body;
  const ahead = now - Date.now();
  const today = new Date(now).toISOString().slice(0, 10);
  const seller = (name: string, own: number) =>
    sell(address, {
      shop,
      round,
      name: `${n}${name}`,
      ahead,
      ack,
      random: new Seeded(seed + n * 2 + own),
    });
  const work = Promise.all([seller('a', 0), seller('b', 1), pay(desk, { standins, round, today, ack })]);
  // a loop that fails for another reason than a lost connection ends the test, not its patience
  await Promise.race([round.reached, work]);
  await kill();
  await work;
  check(ack);
}

/**
 * The server is ended hard again and again, each time after so many acknowledged sales or payment steps as the seed draws: whatever was acknowledged is
 * there after the next start. Each part of the kills has a seed of its own, so that the parts can run beside each other.
 */
export function survives(part: number, parts: number): void {
  const kills = Math.ceil(all / parts);
  const seed = given + part * 1_000_000;
  it(
    `survives ${kills} kills, each after so many acknowledged sales or payment steps as the seed ${seed} draws`,
    async () => {
      const random = new Seeded(seed);
      const address = `http://127.0.0.1:${port}`;
      const standins = `http://127.0.0.1:${port + 1}`;
      const ack: Acknowledged = {
        orders: new Set(),
        refunds: new Set(),
        sent: new Set(),
        steps: { drafted: 0, approved: 0, sent: 0, collected: 0 },
      };
      const desk = await openProgramme(address, standins);
      const shop = await openShop(desk, address);
      for (let n = 0; n < kills; n += 1)
        await playRound(n, seed, { address, standins, desk, shop }, { random, ack });
      process.stdout.write(
        `acknowledged and found again: ${ack.orders.size} orders, ${ack.refunds.size} refunds, ${ack.sent.size} runs sent; steps ${JSON.stringify(ack.steps)}\n`,
      );
      expect(ack.orders.size).toBeGreaterThan(kills);
      expect(
        Math.min(...Object.values(ack.steps)),
        'each step of paying was acknowledged, again and again',
      ).toBeGreaterThan(kills / 10);
    },
    300_000 + kills * 30_000,
  );
}

import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import Database from 'better-sqlite3';
import { built, root } from '../scripts/lib/prepare.mjs';
import type { TermsData } from '../src/core/terms/draft';
import { isLocked, termsAt } from '../src/core/terms/members';
import type { Rate } from '../src/core/terms/rate';
import type { PastOrder } from '../src/core/terms/rehearse';
import { amountsOf } from '../src/core/terms/resolve';
import { Seeded } from '../src/demo/random';
import { openStore } from '../src/server/ground/db/open';
import { openReading } from '../src/server/ground/db/reading';
import { eachPastOrder, replay } from '../src/server/setup/terms/replay';
import { indexed } from '../src/server/setup/terms/store';
import { freePorts } from '../tests/helpers/free-ports';
import { Load, request } from './load';
import { report } from './report';

const lineCount = 500_000;

/** Half a million credited lines of a programme with 30,000 affiliates, straight into the tables. */
function fill(file: string): void {
  const random = new Seeded(11);
  const { sqlite, close } = openStore(file, join(root, 'src/server/ground/db/migrations'));
  sqlite.pragma('synchronous = OFF');
  sqlite.pragma('foreign_keys = OFF');
  const product = sqlite.prepare(
    "INSERT INTO products (id, code, name, kind, currency, price, created_at) VALUES (?, ?, ?, 'one-off', 'EUR', 1000, 0)",
  );
  const order = sqlite.prepare(
    "INSERT INTO orders (id, reference, payment, placed_at, day, received_at, currency, rate_micros, value, base, way, affiliate, reason, credit, granted, content, resolved_at) VALUES (?, ?, ?, ?, '2027-01-05', 0, 'EUR', 1000000, ?, ?, 'server', ?, '', '{}', ?, '', ?)",
  );
  const line = sqlite.prepare(
    'INSERT INTO order_lines (order_id, position, product, quantity, amount, discount, value, base, value_left, commission, commission_left) VALUES (?, 0, ?, 1, ?, 0, ?, ?, ?, ?, ?)',
  );
  sqlite.transaction(() => {
    for (let i = 0; i < 40; i += 1) product.run(`prd_${i}`, `P-${i}`, `Product ${i}`);
    for (let i = 0; i < lineCount; i += 1) {
      const value = random.whole(500, 20_000);
      const id = `ord_${String(i).padStart(7, '0')}`;
      order.run(
        id,
        id,
        id,
        random.whole(500, 2500),
        value,
        value,
        `aff_${random.whole(0, 29_999)}`,
        100,
        random.whole(500, 2500),
      );
      line.run(id, `prd_${i % 40}`, value, value, value, value, 100, 100);
    }
  })();
  close();
}

/** 200 rates over every rung, 30,000 affiliates on cards, in groups and under tags. */
function programme(): TermsData {
  const random = new Seeded(7);
  const members = Array.from({ length: 30_000 }, (_, i): TermsData['members'] => {
    const always = { affiliate: `aff_${i}`, from: 0, until: null } as const;
    return [
      { ...always, of: 'card', id: `set_crd${i % 5}` },
      ...(i % 3 ? [] : [{ ...always, of: 'group' as const, id: `set_grp${i % 10}` as const }]),
      ...(i % 4 ? [] : [{ ...always, of: 'tag' as const, id: `set_tag${i % 20}` as const }]),
    ];
  }).flat();
  const rates: TermsData['rates'] = Array.from({ length: 200 }, (_, i): Rate => {
    const rung =
      i < 2
        ? ('programme' as const)
        : i < 42
          ? ('product' as const)
          : random.pick(['card', 'group', 'tag', 'personal'] as const);
    const whos: Record<Rate['rung'], Rate['who']> = {
      personal: `aff_${random.whole(0, 29_999)}`,
      tag: `set_tag${random.whole(0, 19)}`,
      group: `set_grp${random.whole(0, 9)}`,
      card: `set_crd${random.whole(0, 4)}`,
      product: null,
      programme: null,
    };
    const what: Rate['what'] =
      rung === 'product'
        ? { type: 'product' as const, product: `prd_${i - 2}` }
        : rung !== 'programme' && random.chance(0.7)
          ? { type: 'product' as const, product: `prd_${random.whole(0, 39)}` }
          : { type: 'everything' as const };
    return {
      id: `rat_${i}`,
      mode: 'base' as const,
      payments: null,
      cap: null,
      rung,
      who: whos[rung],
      what,
      event: 'sale' as const,
      reward: { type: 'percent' as const, ppm: random.whole(1, 40) * 10_000 },
      from: random.whole(0, 1000),
      until: null,
      label: '',
    };
  });
  return {
    rates,
    members,
    pauses: [],
    locks: [{ product: 'prd_3', event: 'sale', from: 0, until: null }],
    tagOrders: [],
    defaultCard: 'set_crd0',
  };
}

const seconds = (work: () => void): number => {
  const began = performance.now();
  work();
  return (performance.now() - began) / 1000;
};

function alone(terms: TermsData, orders: PastOrder[]): void {
  const { book, roll } = indexed(terms);
  for (const o of orders) {
    const lines = o.lines.map((l) => ({ ...l, locked: isLocked(roll, l.product, o.event, o.at) }));
    amountsOf(book, termsAt(roll, o.affiliate, o.at), {
      event: o.event,
      at: o.at,
      payment: o.payment,
      currency: o.currency,
      base: 'EUR',
      rateMicros: o.rateMicros,
      lines,
    });
  }
}

/** Rehearsing half a million lines, from the file, against the resolver alone on the same lines in memory. */
function share(file: string, terms: TermsData): void {
  const sqlite = openReading(file);
  const job = { terms, base: 'EUR', from: '2027-01-01', to: '2027-01-31' };
  const orders: PastOrder[] = [];
  eachPastOrder(sqlite, { base: 'EUR', from: job.from, to: job.to, take: (o) => orders.push(o) });
  const run = () => {
    if (replay(sqlite, job, () => undefined).total.lines !== lineCount)
      throw new Error('Not every line was replayed');
  };
  run();
  alone(terms, orders);
  // by turns, the best of several: what else the machine does hits both
  const turns = Array.from({ length: 4 }, () => ({
    whole: seconds(run),
    resolver: seconds(() => alone(terms, orders)),
  }));
  const whole = Math.min(...turns.map((t) => t.whole));
  const resolver = Math.min(...turns.map((t) => t.resolver));
  sqlite.close();
  report(
    `rehearsing ${lineCount.toLocaleString('en-GB')} lines from the file ÷ the resolver alone on the same lines`,
    {
      ours: Math.round(lineCount / whole),
      limit: Math.round(lineCount / resolver),
      ratio: Number((resolver / whole).toFixed(2)),
    },
    0.6,
  );
}

const middle = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;
const hundredth = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.99)]!;

/** A server of the demo in a folder and on a port of its own, while the work goes on. */
async function withDemo(work: (port: number, data: string) => Promise<void>): Promise<void> {
  built();
  const data = mkdtempSync(join(tmpdir(), 'gravenel-bench-'));
  const port = await freePorts();
  const env = {
    ...process.env,
    GRAVENEL_ROOT: root,
    GRAVENEL_DATA: data,
    GRAVENEL_PORT: String(port),
    GRAVENEL_ADDRESS: `http://127.0.0.1:${port}`,
    GRAVENEL_LOG: 'silent',
  };
  await new Promise<void>((resolve) => {
    spawn(process.execPath, [join(root, 'dist/server/demo.cjs')], { env, stdio: 'inherit' }).once(
      'exit',
      () => resolve(),
    );
  });
  const server = spawn(process.execPath, [join(root, 'dist/server/main.cjs')], {
    env,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  try {
    await new Promise<void>((resolve) => {
      server.once('message', () => resolve());
    });
    await work(port, data);
  } finally {
    await new Promise<void>((resolve) => {
      server.once('exit', () => resolve());
      server.kill('SIGTERM');
    });
    rmSync(data, { recursive: true, force: true });
  }
}

/** Begins a rehearsal in a thread; answers when it is at work. */
async function rehearsing(file: string, terms: TermsData): Promise<Worker> {
  const worker = new Worker(join(root, 'dist/server/rehearse.cjs'), {
    workerData: { file, job: { terms, base: 'EUR', from: '2027-01-01', to: '2027-01-31' } },
  });
  await new Promise((resolve) => {
    worker.once('message', resolve);
  });
  return worker;
}

/** Redirects while rehearsals run one after the other in a thread of the same process's kind, against none running. */
async function meanwhile(file: string, terms: TermsData): Promise<void> {
  await withDemo(async (port, data) => {
    const code = new Database(join(data, 'gravenel.sqlite'), { readonly: true })
      .prepare('SELECT code FROM links LIMIT 1')
      .pluck()
      .get() as string;
    const load = await Load.open(port, 16, () => request('GET', `/go/${code}`), 'HTTP/1.1 302');
    for (let i = 0; i < 8; i += 1) await load.slice(500);
    const [idle, busy] = [0, 1].map(() => ({ perSecond: [] as number[], slow: [] as number[] }));
    const measure = async (into: typeof idle) => {
      into!.perSecond.push(await load.slice(700));
      into!.slow.push(hundredth(load.latencies));
    };
    for (let i = 0; i < 6; i += 1) {
      await measure(idle);
      const worker = await rehearsing(file, terms);
      await measure(busy);
      await worker.terminate();
    }
    load.close();
    const [alone, beside] = [middle(idle!.perSecond), middle(busy!.perSecond)];
    report(
      'redirects while a rehearsal runs ÷ redirects with none',
      { ours: Math.round(beside), limit: Math.round(alone), ratio: Number((beside / alone).toFixed(2)) },
      0.7,
    );
    const [quiet, slow] = [middle(idle!.slow), middle(busy!.slow)];
    report(
      'their slowest hundredth idle ÷ while a rehearsal runs (milliseconds)',
      {
        ours: Number(slow.toFixed(1)),
        limit: Number(quiet.toFixed(1)),
        ratio: Number((quiet / slow).toFixed(2)),
      },
      0.33,
    );
  });
}

export async function benchRehearse(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'gravenel-rehearse-'));
  try {
    const file = join(folder, 'past.sqlite');
    fill(file);
    const terms = programme();
    share(file, terms);
    await meanwhile(file, terms);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

import { randomUUID } from 'node:crypto';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { questionsOf } from '../../bench/questions';
import { Client } from '../../scripts/journey/client';
import { demoMade } from '../../scripts/lib/prepare.mjs';
import { planCopies } from '../../src/demo/large/copies';
import { grow } from '../../src/demo/large/grow';
import { demoKey } from '../../src/demo/scenario';
import { assemble, type Running } from '../../src/server/assemble';
import { readSettings } from '../../src/server/ground/environment';
import { programme } from '../../src/server/ground/tables/programme';
import { jobs } from '../../src/server/jobs/jobs';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { indexNotes } from '../../src/server/recruit/applications/notes';
import { runJob } from '../../src/server/registers/programme/job';
import { signHeaders } from '../../src/standins/signing';
import { freePorts } from '../helpers/free-ports';
import { workerFile } from '../helpers/worker';

// a hundredth of the large programme, made as npm run demo:large makes it, and asked what npm run bench scale asks
const part = 100;
const root = join(import.meta.dirname, '../..');

let folder: string;
let file: string;
let running: Running;
let [desk, portal]: Client[] = [];
/** what the serving thread asked its connection since it was last emptied */
const asked = new Set<string>();
const { prototype } = Database;
const prepare = prototype.prepare;

/** Statements that are recorded where the connection can write: the threads only read, and have modules of their own. */
function recording(): void {
  prototype.prepare = function (this: Database.Database, source: string) {
    const statement = prepare.call(this, source);
    for (const way of ['get', 'all', 'iterate'] as const) {
      const own = statement[way].bind(statement) as (...values: unknown[]) => never;
      statement[way] = (...values: unknown[]) => {
        asked.add(source);
        return own(...values);
      };
    }
    return statement;
  } as typeof prepare;
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'gravenel-test-'));
  file = join(folder, 'gravenel.sqlite');
  const port = await freePorts();
  const settings = {
    ...readSettings(root, {
      GRAVENEL_DATA: folder,
      GRAVENEL_STANDINS: 'off',
      GRAVENEL_LOG: 'silent',
      GRAVENEL_PORT: String(port),
    }),
    rehearser: workerFile,
  };
  for (const name of ['gravenel.sqlite', 'seal.key', 'material'])
    cpSync(join(demoMade(), name), join(folder, name), { recursive: true });
  let moment = 0;
  const made = assemble(settings, { now: () => moment, real: Date.now, advance: () => undefined });
  moment = made.app.db.select().from(programme).get()!.clockAt!;
  made.app.sqlite.pragma('synchronous = OFF');
  made.app.transaction(() => {
    planCopies(made.app.sqlite, part);
    grow(made.app.sqlite, 'Europe/Lisbon', () => undefined);
  });
  while (indexNotes(made.app, 2000) > 0);
  made.app.sqlite.exec('ANALYZE');
  made.close();
  recording();
  running = assemble(settings, { now: () => moment, real: Date.now, advance: () => undefined });
  await new Promise<void>((done) => {
    running.http.listen(port, '127.0.0.1', done);
  });
  const address = `http://127.0.0.1:${port}`;
  [desk, portal] = [new Client(address), new Client(address)];
  const signedIn = await desk.post('/api/v1/session', {
    email: 'ines@quernstone.example',
    password: 'quernstone clay',
  });
  expect(signedIn.status, signedIn.text).toBe(200);
  await portal.post('/api/v1/portal/session', {
    email: 'mara@loamletters.example',
    password: 'quernstone clay',
  });
}, 240_000);
afterAll(async () => {
  prototype.prepare = prepare;
  await new Promise((done) => {
    running.http.close(done);
    running.http.closeAllConnections();
  });
  running.close();
  rmSync(folder, { recursive: true, force: true });
});

/** How SQLite goes about a statement. */
function planOf(sqlite: Database.Database, source: string): string[] {
  const named = Object.fromEntries([...source.matchAll(/@(\w+)/g)].map(([, name]) => [name!, null]));
  const values = Object.keys(named).length
    ? [named]
    : Array.from({ length: source.split('?').length - 1 }, () => null);
  return (
    prepare.call(sqlite, `EXPLAIN QUERY PLAN ${source}`) as Database.Statement<unknown[], { detail: string }>
  )
    .all(...values)
    .map((r) => r.detail);
}

/** Tables that grow with the programme; a few hundred products, rates or people of the staff may be walked through. */
const grown = [
  'visits',
  'orders',
  'order_lines',
  'refunds',
  'subscriptions',
  'commissions',
  'entries',
  'entry_lines',
  'payments',
  'payment_items',
  'reports',
  'messages',
  'audit',
  'affiliates',
  'applications',
  'memberships',
  'note_keys',
  'links',
  'approvals',
  'seen_messages',
  'share_lines',
  'prospects',
];

/** What the serving thread walked through since it was last looked at. */
function walks(): string[] {
  const sqlite = new Database(file, { readonly: true });
  const found = [...asked].flatMap((source) =>
    planOf(sqlite, source)
      .filter((detail) => grown.some((t) => new RegExp(`^SCAN ${t}\\b`).test(detail)))
      .map((detail) => `${detail}: ${source}`),
  );
  sqlite.close();
  // who is on which card is read once, and kept in memory until terms change; partners are counted in their narrowest index
  const known = [
    'SCAN memberships: SELECT affiliate, "of", set_id AS id',
    'SCAN prospects USING COVERING INDEX prospects_standing: SELECT count(*)',
  ];
  // the newest, or the first of an index, is not a walk; a condition that an index does not answer makes it one
  return found.filter(
    (w) => !/LIMIT/i.test(w.replace(/json_extract[\s\S]*/i, '')) && !known.some((k) => w.startsWith(k)),
  );
}

it('is whole', () => {
  const sqlite = new Database(file, { readonly: true });
  expect(brokenInvariants(sqlite)).toEqual([]);
  expect(sqlite.prepare('SELECT count(*) FROM visits').pluck().get()).toBeGreaterThan(90_000);
  sqlite.close();
});
it('answers every question, with an answer that is bounded', async () => {
  const sqlite = new Database(file, { readonly: true });
  const questions = questionsOf(sqlite);
  sqlite.close();
  asked.clear();
  const said = [];
  for (const { path, by } of questions) {
    const { status, text } = await (by === 'desk' ? desk! : portal!).get(path);
    // a page of the longest rows there are
    if (status !== 200 || text.length > 800_000) said.push(`${path}: ${status}, ${text.length} bytes`);
  }
  expect(said).toEqual([]);
  expect(questions.length).toBeGreaterThan(80);
});
it('and none of them walks through what has grown on the serving thread', () => {
  expect(walks()).toEqual([]);
  expect(asked.size).toBeGreaterThan(30);
});
/** Reports as the demo’s shop does. @returns the status it is answered with */
async function reported(call: string, body: object): Promise<number> {
  const text = JSON.stringify(body);
  const answer = await fetch(`${desk!.address}/api/track/v1/${call}`, {
    method: 'POST',
    body: text,
    headers: {
      'content-type': 'application/json',
      ...signHeaders({
        key: demoKey.id,
        secret: demoKey.secret,
        id: randomUUID(),
        timestamp: String(Math.floor(Date.now() / 1000)),
        body: text,
      }),
    },
  });
  await answer.text();
  return answer.status;
}

/** A link that leads to the wheel, and an application that waits. */
function linkAndWaiting(): { link: string; waiting: string } {
  const sqlite = new Database(file, { readonly: true });
  const one = (sql: string) => sqlite.prepare(sql).pluck().get() as string;
  const found = {
    link: one(
      "SELECT l.code FROM links l JOIN products p ON p.id = l.product JOIN affiliates a ON a.id = l.affiliate WHERE p.code = 'WHEEL-1' AND a.state = 'active' LIMIT 1",
    ),
    waiting: one("SELECT id FROM applications WHERE state = 'waiting' LIMIT 1"),
  };
  sqlite.close();
  return found;
}

it('nor does what a shop, a buyer, a decision or the clock cause', async () => {
  const { link, waiting } = linkAndWaiting();
  asked.clear();
  const visit = new URL((await desk!.get(`/go/${link}`)).headers.get('location')!).searchParams.get('gvn')!;
  const placedAt = new Date(running.app.clock.now()).toISOString();
  const lines = [{ product: 'WHEEL-1', quantity: 1, amount: '199.00' }];
  expect(
    await reported('orders', {
      order: 'LARGE-1',
      placedAt,
      currency: 'EUR',
      lines,
      visit,
      visitor: 'vtr_00000000000000000000',
      customer: { id: 'c1', email: 'buyer@shop.example' },
    }),
  ).toBe(201);
  expect(
    await reported('refunds', {
      refund: 'LARGE-R1',
      order: 'LARGE-1',
      at: placedAt,
      kind: 'refund',
      full: true,
    }),
  ).toBe(201);
  expect(await reported('leads', { lead: 'LARGE-L1', at: placedAt, product: 'WHEEL-1', visit })).toBeLessThan(
    300,
  );
  expect(await reported('quotes', { product: 'WHEEL-1', quantity: 1, currency: 'EUR' })).toBeLessThan(500);
  expect(
    (
      await desk!.get(
        `/px/${demoKey.id}.gif?order=LARGE-P1&amount=199.00&currency=EUR&product=WHEEL-1&visit=${visit}`,
      )
    ).status,
  ).toBe(200);
  expect(
    (
      await desk!.post('/api/v1/applications/decide', {
        ids: [waiting],
        decision: 'approve',
        timing: 'after-hold',
        reason: '',
        message: true,
      })
    ).status,
  ).toBe(200);
  for (const job of jobs)
    if (!['mail', 'registry', 'pages', 'totals'].includes(job.name)) await runJob(running.app, job);
  expect(walks()).toEqual([]);
  expect(asked.size).toBeGreaterThan(30);
});
it('nor does a payout run: drafted, a payee left out, approved, taken back, approved again and sent', async () => {
  interface Run {
    id: string;
    state: string;
    version: number;
    payees: number;
    done: number | null;
    total: { amount: number };
    payments: { affiliate: string }[];
  }
  const second = new Client(desk!.address);
  await second.post('/api/v1/session', { email: 'lena@quernstone.example', password: 'quernstone clay' });
  const arrived = async (id: string): Promise<Run> => {
    for (;;) {
      const { body } = await desk!.get<Run>(`/api/v1/payouts/${id}`);
      if (body.done === null) return body;
    }
  };
  asked.clear();
  const step = async (run: Run, act: string, body: object = {}) => {
    const answer = await second.post<Run>(`/api/v1/payouts/${run.id}/${act}`, {
      version: run.version,
      ...body,
    });
    expect(answer.status, answer.text).toBe(200);
    return arrived(run.id);
  };
  const cutoff = new Date(running.app.clock.now()).toISOString().slice(0, 10);
  const drafted = (await desk!.post<Run>('/api/v1/payouts', { cutoff, minimum: '0.00' })).body;
  const without = await step(drafted, 'exclude', {
    affiliate: drafted.payments[0]!.affiliate,
    exclude: true,
  });
  expect(without.payees).toBe(drafted.payees - 1);
  const approved = await step(without, 'approve', { total: without.total.amount });
  const back = await step(approved, 'reopen');
  expect([approved.state, back.state, back.total]).toEqual(['approved', 'draft', without.total]);
  const sent = await step(await step(back, 'approve', { total: back.total.amount }), 'send');
  expect([sent.state, sent.payees]).toEqual(['sent', without.payees]);
  expect(walks()).toEqual([]);
});

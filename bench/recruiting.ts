import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../scripts/lib/prepare.mjs';
import { type Id } from '../src/core/text/id';
import { Seeded } from '../src/demo/random';
import { actClock } from '../src/server/ground/clock';
import type { App } from '../src/server/ground/context';
import { openStore } from '../src/server/ground/db/open';
import { newKept } from '../src/server/ground/kept';
import { sealWith } from '../src/server/ground/seal';
import { decide } from '../src/server/recruit/applications/decide';
import { join as apply } from '../src/server/recruit/applications/join';
import { copyCount, takePartners } from '../src/server/recruit/prospects/copy';
import { findProspects } from '../src/server/recruit/prospects/search';
import { listAffiliates } from '../src/server/recruit/roster/roster';
import { partnerAt, partnerCount } from '../src/standins/partners';
import { appWith } from './partial';
import { report } from './report';

const rate = (times: number, work: (i: number) => void): number => {
  const began = performance.now();
  for (let i = 0; i < times; i += 1) work(i);
  return (times * 1000) / (performance.now() - began);
};

function openApp(folder: string): App {
  const store = openStore(join(folder, 'recruiting.sqlite'), join(root, 'src/server/ground/db/migrations'));
  store.sqlite.exec(
    "INSERT INTO programme (id, name, contact, base, zone) VALUES (1, 'Quernstone Clayworks', 'hello@quernstone.example', 'EUR', 'Europe/Lisbon')",
  );
  const now = Date.parse('2027-03-12T10:00:00Z');
  return appWith({
    ...store,
    clock: actClock({ now: () => now, real: Date.now, advance: () => undefined }),
    seal: sealWith(Buffer.alloc(32, 1)),
    address: 'http://127.0.0.1:1',
    shop: null,
    bank: null,
    registry: null,
    aliases: new Map(),
    kept: newKept(),
  });
}

/** What somebody types who looks for a partner: a part of a name or of a site. */
function typedParts(): string[] {
  const random = new Seeded(9);
  return Array.from({ length: 200 }, () => {
    const p = partnerAt(random.whole(0, partnerCount - 1));
    const site = random
      .pick(p.sites)
      .replace(/^https?:\/\//, '')
      .replace(/[:/].*$/, '');
    const from = random.whole(0, 4);
    return random.chance(0.5)
      ? p.name.slice(4, 4 + random.whole(6, 12))
      : site.slice(from, from + random.whole(7, 14));
  });
}

const search = (app: App, q: string) =>
  findProspects({ sqlite: app.sqlite, stamp: copyCount(app) }, { q }, undefined, 100);

/** Searches a second by ours, and by the plain scan of the same rows. */
function againstScan(app: App, typed: string[]): { ours: number; scan: number } {
  const plain = app.sqlite.prepare(
    'SELECT p.* FROM prospects p WHERE p.name LIKE ? OR p.sites LIKE ? OR p.intro LIKE ? OR p.kinds LIKE ?',
  );
  const scan = (i: number) => {
    const like = `%${typed[i % typed.length]!}%`;
    plain.all(like, like, like, like);
  };
  const ours = (i: number) => {
    search(app, typed[i % typed.length]!);
  };
  for (let i = 0; i < 20; i += 1) {
    ours(i);
    scan(i);
  }
  // what forgiving a letter looks through is put together at the first need, once for each reading of the registry
  search(app, 'xqzvw');
  // by turns: this machine's speed changes from one second to the next
  let [a, b] = [0, 0];
  for (let turn = 0; turn < 5; turn += 1) {
    a += rate(40, (i) => ours(turn * 40 + i));
    b += rate(8, (i) => scan(turn * 8 + i));
  }
  return { ours: a / 5, scan: b / 5 };
}

/** Finding partners as one types, among 30,000: against the plain scan of the same rows, and an exact id against the same. */
function benchProspects(app: App): void {
  takePartners(
    app,
    Array.from({ length: partnerCount }, (_, i) => partnerAt(i)),
  );
  const typed = typedParts();
  const { ours, scan } = againstScan(app, typed);
  report(
    'finding partners by a part of a name or site among 30,000 ÷ the plain scan of the same rows',
    { ours: Math.round(ours), limit: Math.round(scan), ratio: Number((ours / scan).toFixed(1)) },
    10,
  );
  const slowest = Math.max(
    ...[...typed, 'kiln', 'the', 'kilm', 'xqzv', 'ab'].map((q) => {
      const began = performance.now();
      search(app, q);
      return performance.now() - began;
    }),
  );
  report(
    'the slowest of 205 searches, milliseconds: 50 ÷ ours',
    { ours: Number(slowest.toFixed(1)), limit: 50, ratio: Number((50 / slowest).toFixed(2)) },
    1,
  );
  const exact = rate(3000, (i) => {
    search(app, partnerAt((i * 7) % partnerCount).id);
  });
  report(
    'an exact id ÷ the plain scan',
    { ours: Math.round(exact), limit: Math.round(scan), ratio: Number((exact / scan).toFixed(1)) },
    100,
  );
}

/** A page of the roster far down, against the first. */
function benchRoster(app: App): void {
  const person = app.sqlite.prepare(
    "INSERT INTO affiliates (id, handle, name, email, email_key, country, sites, state, created_at, joined_at, address_key) VALUES (?, ?, ?, ?, ?, 'PT', '[\"x.example\"]', 'active', ?, ?, '')",
  );
  app.transaction(() => {
    for (let i = 0; i < 30_000; i += 1) {
      const n = String(i).padStart(5, '0');
      person.run(`aff_${n}`, `h${n}`, `Potter ${n}`, `${n}@potters.example`, `${n}@potters.example`, i, i);
    }
  });
  const cursor = (i: number) =>
    Buffer.from(
      JSON.stringify([`Potter ${String(i).padStart(5, '0')}`, `aff_${String(i).padStart(5, '0')}`]),
    ).toString('base64url');
  const page = (after?: string) =>
    listAffiliates(app, { limit: 100, ...(after === undefined ? {} : { after }) });
  if (page(cursor(29_000)).rows[0]!.name !== 'Potter 29001') throw new Error('The deep page is another');
  // both after a cursor: the first page alone counts all rows once
  const [near, far] = [() => page(cursor(100)), () => page(cursor(29_000))];
  for (let i = 0; i < 30; i += 1) {
    near();
    far();
  }
  let [a, b] = [0, 0];
  for (let turn = 0; turn < 5; turn += 1) {
    a += rate(60, far);
    b += rate(60, near);
  }
  report(
    'a page of the roster far down ÷ one near its start, 30,000 affiliates',
    { ours: Math.round(a / 5), limit: Math.round(b / 5), ratio: Number((a / b).toFixed(2)) },
    0.77,
  );
  const whole = rate(20, () => page());
  report(
    'the first page, with the count of all, ÷ one near its start',
    { ours: Math.round(whole), limit: Math.round(b / 5), ratio: Number((whole / (b / 5)).toFixed(2)) },
    0.3,
  );
}

/** Somebody who decides, and eight products that an approval is for. */
function manned(app: App): void {
  app.sqlite.exec(
    "INSERT INTO staff (id, name, email, role, password, created_at) VALUES ('stf_bench000', 'B', 'b@quernstone.example', 'manager', '', 0)",
  );
  for (let i = 0; i < 8; i += 1)
    app.sqlite
      .prepare(
        "INSERT INTO products (id, code, name, currency, price, state, created_at) VALUES (?, ?, ?, 'EUR', 1000, 'live', 0)",
      )
      .run(`prd_bench${i}0`, `P-${i}`, `P ${i}`);
}

/** Two hundred applications that wait, as this turn’s. */
function applied(app: App, turn: number): void {
  app.transaction(() => {
    for (let i = 0; i < 200; i += 1)
      apply(app, {
        name: `New ${turn} ${i}`,
        email: `n${turn}-${i}@bench.example`,
        country: 'PT',
        address: '',
        sites: ['x.example'],
        channels: '',
        note: `Note ${turn} ${i} of mine`,
        product: '',
      });
  });
}

/** Decisions a second, where all that wait are approved in one transaction. */
function decidedOnce(app: App, turn: number): number {
  applied(app, turn);
  const ids = app.sqlite
    .prepare("SELECT id FROM applications WHERE state = 'waiting'")
    .pluck()
    .all() as Id<'application'>[];
  const began = performance.now();
  app.transaction(() =>
    decide(
      app,
      { kind: 'staff', id: 'stf_bench000' },
      { ids, decision: 'approve', timing: 'after-hold', reason: '', message: true },
    ),
  );
  return 200_000 / (performance.now() - began);
}

/** What a decision writes, written without rules: application, approval, affiliate, eight links, message, two audit entries. */
function plainWriter(app: App): () => number {
  const rows = app.sqlite.prepare(
    'INSERT INTO audit (id, at, by, action, subject, before, after) VALUES (?, 0, ?, ?, ?, ?, ?)',
  );
  let serial = 0;
  return () => {
    const began = performance.now();
    app.transaction(() => {
      for (let i = 0; i < 200 * 14; i += 1)
        rows.run(`aud_bench${(serial += 1)}`, 'x', 'application-approved', 'x', null, '{"state":"approved"}');
    });
    return 200_000 / (performance.now() - began);
  };
}

/** Two hundred decisions in one transaction, against writing as many rows without rules. */
function benchDecisions(app: App): void {
  manned(app);
  const plain = plainWriter(app);
  decidedOnce(app, 0);
  plain();
  let [a, b] = [0, 0];
  for (let turn = 1; turn <= 5; turn += 1) {
    a += decidedOnce(app, turn);
    b += plain();
  }
  report(
    'deciding 200 applications at once, a second ÷ writing as many rows without rules',
    { ours: Math.round(a / 5), limit: Math.round(b / 5), ratio: Number((a / b).toFixed(2)) },
    0.1,
  );
}

export function benchRecruiting(): void {
  const folder = mkdtempSync(join(tmpdir(), 'gravenel-recruiting-'));
  const app = openApp(folder);
  benchProspects(app);
  benchRoster(app);
  benchDecisions(app);
  app.close();
  rmSync(folder, { recursive: true, force: true });
}

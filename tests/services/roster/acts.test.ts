import { describe, expect, it } from 'vitest';
import { bulk, ids, list, names, owner, people, prepare, s, sets, type Fault } from './world';

prepare();

it('acts on many: put into a group, tag, pause, with who is passed over; each can be taken back where it still stands', async () => {
  await bulk('group', sets.Schools!, ids('Ada'));
  const act = await bulk('group', sets.Circle!, { filter: {} });
  expect(act.body).toMatchObject({ done: 4, passed: 0 });
  expect(await names(`group=${sets.Circle}`)).toEqual(['Ada', 'Bram', 'Celia', 'Dora']);
  await bulk('group', null, ids('Dora'));
  expect((await owner.post(`/api/v1/affiliates/bulk/${act.body.id}/undo`)).body).toEqual({
    done: 3,
    passed: 1,
    later: null,
  });
  expect(await names(`group=${sets.Schools}`)).toEqual(['Ada']);
  expect(await names('group=none')).toEqual(['Bram', 'Celia', 'Dora']);
  expect((await owner.post<Fault>(`/api/v1/affiliates/bulk/${act.body.id}/undo`)).body.code).toBe('conflict');
  const tag = await bulk('tag-on', sets.video!, ids('Ada', 'Bram'));
  expect(await names(`tag=${sets.video}`)).toEqual(['Ada', 'Bram']);
  expect((await bulk('tag-on', sets.video!, ids('Ada', 'Celia'))).body.done).toBe(1);
  await owner.post(`/api/v1/affiliates/bulk/${tag.body.id}/undo`);
  expect(await names(`tag=${sets.video}`)).toEqual(['Celia']);
  const pause = await bulk('pause', null, ids('Ada', 'Bram'));
  expect(await names('state=paused')).toEqual(['Ada', 'Bram']);
  expect(
    (
      await owner.post<{ count: number; same: number; passed: { why: string }[] }>(
        '/api/v1/affiliates/bulk/preview',
        { what: 'resume', to: null, ...ids('Ada', 'Celia') },
      )
    ).body,
  ).toMatchObject({ count: 1, same: 1, passed: [] });
  // who was blocked meanwhile is not brought back by taking the pause back
  const { version } = (await owner.get<{ version: number }>(`/api/v1/affiliates/${people.Ada!.id}`)).body;
  const blocked = (
    await owner.post<{ version: number }>(`/api/v1/affiliates/${people.Ada!.id}/state`, {
      state: 'blocked',
      reason: 'For a test',
      version,
    })
  ).body;
  expect((await owner.post(`/api/v1/affiliates/bulk/${pause.body.id}/undo`)).body).toEqual({
    done: 1,
    passed: 1,
    later: null,
  });
  expect(await names('state=paused')).toEqual([]);
  expect(await names('state=blocked')).toEqual(['Ada']);
  await owner.post(`/api/v1/affiliates/${people.Ada!.id}/state`, {
    state: 'active',
    reason: '',
    version: blocked.version,
  });
});
it('acts on many: show terms before and after, before they are done', async () => {
  await owner.post('/api/v1/draft/rates', {
    column: { of: 'group', id: sets.Circle },
    row: { of: 'everything' },
    event: 'sale',
    mode: 'base',
    reward: { kind: 'percent', value: '20' },
  });
  const { version } = (await owner.get<{ version: number }>('/api/v1/draft')).body;
  await owner.post('/api/v1/draft/save', { version, cutAnyway: false });
  const view = (
    await owner.post<{ sample: { name: string; changes: { before: string; after: string }[] }[] }>(
      '/api/v1/affiliates/bulk/preview',
      { what: 'group', to: sets.Circle, ...ids('Bram') },
    )
  ).body;
  expect(view.sample[0]).toMatchObject({ name: 'Bram' });
});
it('acts on many: name what cannot be', async () => {
  expect((await bulk('group', sets.video!, ids('Ada'))).body.errors[0]!.pointer).toBe('/to');
  expect((await bulk('kind', 'plumber', ids('Ada'))).body.errors[0]!.pointer).toBe('/to');
  expect((await bulk('kind', 'blog', {})).body.errors[0]!.pointer).toBe('/ids');
  expect((await bulk('looked-after', 'stf_nothere00', ids('Ada'))).body.errors[0]!.pointer).toBe('/to');
});

describe('the roster', () => {
  it('filters by kind, who looks after whom, and what asks for attention', async () => {
    const rui = s.app.sqlite.prepare("SELECT id FROM staff WHERE role = 'manager'").pluck().get() as string;
    await bulk('kind', 'classes', ids('Dora'));
    await bulk('looked-after', rui, ids('Ada', 'Dora'));
    expect([
      await names('kind=classes'),
      await names(`lookedAfter=${rui}`),
      await names('lookedAfter=nobody'),
      await names('only=no-clicks'),
      await names('country=pt&q=Cel'),
    ]).toEqual([['Dora'], ['Ada', 'Dora'], ['Bram', 'Celia'], ['Ada', 'Bram', 'Celia', 'Dora'], ['Celia']]);
    await bulk('card', sets.Makers!, ids('Ada'));
    expect(await names(`card=${sets.Makers}`)).toEqual(['Ada']);
    expect((await list('limit=1')).total).toBe(4);
  });
  it('is saved as a segment that counts, replaced by the same name, removed and brought back', async () => {
    const save = (filter: object, columns: string[] = [], more = {}) =>
      owner.post<{ id: string; count: number } & Fault>('/api/v1/segments', {
        name: 'Teachers',
        filter,
        columns,
        ...more,
      });
    const { id, count } = (await save({ kind: 'classes' }, ['email', 'group'])).body;
    expect(count).toBe(1);
    // what somebody keeps by a name is not replaced without a word
    const taken = await save({ state: 'active' });
    expect([taken.status, taken.body.detail]).toEqual([
      409,
      expect.stringMatching(/^Inês Falcão changed “Teachers” meanwhile/),
    ]);
    expect((await save({ kind: 'classes', state: 'active' }, [], { replaces: 1 })).body.id).toBe(id);
    expect((await save({ state: 'active' }, [], { replaces: 1 })).status).toBe(409);
    expect((await save({}, ['shoe'])).body.errors[0]!.pointer).toBe('/columns');
    expect((await save({ state: 'asleep' })).status).toBe(422);
    const all = async () =>
      (await owner.get<{ rows: { name: string }[] }>('/api/v1/segments')).body.rows.map((r) => r.name);
    await owner.post(`/api/v1/segments/${id}/remove`, { on: true });
    expect(await all()).toEqual([]);
    await owner.post(`/api/v1/segments/${id}/remove`, { on: false });
    expect(await all()).toEqual(['Teachers']);
  });
  it('goes out as CSV of exactly what is shown', async () => {
    const csv = (await owner.get('/api/v1/affiliates.csv?kind=classes&columns=email,group,tags,kind')).text;
    expect(csv).toBe('Name,E-mail,Group,Tags,Kind\r\nDora,dora@dora.example,,,classes\r\n');
    expect((await owner.get<Fault>('/api/v1/affiliates.csv?columns=shoe')).body.errors[0]!.detail).toContain(
      '“shoe” is not one',
    );
  });
});

describe('a list read in', () => {
  interface Preview {
    lines: { line: number; outcome: string; why: string }[];
    counts: Record<string, number>;
    total: number;
    passedHeadings: string[];
    missingSets: string[];
  }
  const look = async (csv: string) =>
    (await owner.post<Preview & Fault>('/api/v1/affiliates/import/preview', { csv })).body;
  it('takes a byte-order mark, semicolons and quoted line breaks, and says line by line', async () => {
    const view = await look(
      '\uFEFFEmail;Name;Country;Group;Tags;Shoe\r\nada@ada.example;Ada;PT;Circle;video;39\r\n"new@new.example";"New\nPots";pt;;"video, video";1\r\nnope;X;PT;;;\r\nada@ada.example;Ada;PT;;;\r\nq@q.example;Q;PT;Nowhere;;\r\nz@z.example;;PT;;;\r\n',
    );
    expect(view.passedHeadings).toEqual(['shoe']);
    expect(view.counts).toEqual({ new: 1, change: 1, same: 0, wrong: 4 });
    expect(view.missingSets).toEqual(['group nowhere']);
    expect(view.lines.filter((l) => l.outcome === 'wrong').map((l) => [l.line, l.why])).toEqual([
      [5, '“nope” is not an e-mail address, such as mara@loamletters.example'],
      [6, 'stands on line 2 already'],
      [7, 'there is no group nowhere; make it first'],
      [8, 'is new, and has no name'],
    ]);
    expect((await look('shoe\n39\n')).errors[0]!.detail).toContain('neither “handle” nor “email”');
    expect((await look('email\n')).errors[0]!.detail).toContain('no line below the heading');
  });
  it('of 10,000 lines leaves out the 37 that are wrong, piece by piece, and a second time changes nothing', async () => {
    const rows = Array.from({ length: 10_000 }, (_, i) =>
      i % 271 === 5 ? `bad${i},Bad ${i},PT` : `many${i}@many.example,Many ${i},PT`,
    );
    const csv = ['email,name,country', ...rows].join('\r\n');
    const view = await look(csv);
    expect(view.counts).toMatchObject({ wrong: 37, new: 9963 });
    expect(view.lines.slice(0, 37).every((l) => l.outcome === 'wrong')).toBe(true);
    const piece = (from: number) =>
      owner.post<{ added: number; same: number; wrong: number; next: number | null }>(
        '/api/v1/affiliates/import',
        { csv, from, most: 300, tell: false },
      );
    expect((await piece(0)).body).toMatchObject({ added: 298, wrong: 2, next: 300 });
    expect((await piece(0)).body).toMatchObject({ added: 0, same: 298 });
    expect((await piece(9900)).body).toMatchObject({ next: null });
    expect((await list('q=Many 17&limit=1')).rows[0]).toMatchObject({ state: 'active' });
    s.app.sqlite.exec(
      "DELETE FROM links WHERE affiliate IN (SELECT id FROM affiliates WHERE email LIKE '%@many.example'); DELETE FROM approvals WHERE affiliate IN (SELECT id FROM affiliates WHERE email LIKE '%@many.example'); DELETE FROM affiliates WHERE email LIKE '%@many.example'",
    );
  }, 60_000);
});

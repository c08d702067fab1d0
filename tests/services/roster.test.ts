import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client as Visitor, type Client } from '../../scripts/journey/client';
import { lapseTrusts } from '../../src/server/recruit/applications/trust';
import { deliverWaiting } from '../../src/server/registers/outbox/delivery';
import { startServer, type TestServer } from '../helpers/server';

interface Fault {
  code: string;
  detail: string;
  errors: { pointer: string; detail: string }[];
}
interface Row {
  id: string;
  name: string;
  group: { name: string } | null;
  tags: { name: string }[];
  mailFault: string | null;
  kind: string;
  lookedAfter: string | null;
  state: string;
}

let s: TestServer;
let owner: Client;
const people: Record<string, Awaited<ReturnType<TestServer['affiliate']>>> = {};
const sets: Record<string, string> = {};
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  await s.product('WHEEL-1', { reward: '12', refundDays: 5 });
  await s.product('KILN-1', { reward: '3' });
  for (const name of ['Ada', 'Bram', 'Celia', 'Dora']) people[name] = await s.affiliate(name);
  for (const [of, name] of [
    ['group', 'Circle'],
    ['group', 'Schools'],
    ['tag', 'video'],
    ['card', 'Makers'],
  ] as const)
    sets[name] = (await owner.post<{ id: string }>('/api/v1/sets', { of, name, about: '' })).body.id;
});
afterAll(() => s.close());
const list = async (query = '') =>
  (await owner.get<{ rows: Row[]; total: number; next: string | null }>(`/api/v1/affiliates?${query}`)).body;
const names = async (query: string) => (await list(query)).rows.map((r) => r.name);
const bulk = (what: string, to: string | null, whom: object) =>
  owner.post<{ id: string; done: number; passed: number } & Fault>('/api/v1/affiliates/bulk', {
    what,
    to,
    ...whom,
  });
const ids = (...who: string[]) => ({ ids: who.map((n) => people[n]!.id) });

describe('acts on many', () => {
  it('put into a group, tag, pause, with who is passed over; each can be taken back where it still stands', async () => {
    await bulk('group', sets.Schools!, ids('Ada'));
    const act = await bulk('group', sets.Circle!, { filter: {} });
    expect(act.body).toMatchObject({ done: 4, passed: 0 });
    expect(await names(`group=${sets.Circle}`)).toEqual(['Ada', 'Bram', 'Celia', 'Dora']);
    await bulk('group', null, ids('Dora'));
    expect((await owner.post(`/api/v1/affiliates/bulk/${act.body.id}/undo`)).body).toEqual({
      done: 3,
      passed: 1,
    });
    expect(await names(`group=${sets.Schools}`)).toEqual(['Ada']);
    expect(await names('group=none')).toEqual(['Bram', 'Celia', 'Dora']);
    expect((await owner.post<Fault>(`/api/v1/affiliates/bulk/${act.body.id}/undo`)).body.code).toBe(
      'conflict',
    );
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
    });
    expect(await names('state=paused')).toEqual([]);
    expect(await names('state=blocked')).toEqual(['Ada']);
    await owner.post(`/api/v1/affiliates/${people.Ada!.id}/state`, {
      state: 'active',
      reason: '',
      version: blocked.version,
    });
  });
  it('show terms before and after, before they are done', async () => {
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
  it('name what cannot be', async () => {
    expect((await bulk('group', sets.video!, ids('Ada'))).body.errors[0]!.pointer).toBe('/to');
    expect((await bulk('kind', 'plumber', ids('Ada'))).body.errors[0]!.pointer).toBe('/to');
    expect((await bulk('kind', 'blog', {})).body.errors[0]!.pointer).toBe('/ids');
    expect((await bulk('looked-after', 'stf_nothere00', ids('Ada'))).body.errors[0]!.pointer).toBe('/to');
  });
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

describe('messages', () => {
  const send = (body: object) =>
    owner.post<{ queued: number; leftOut: number } & Fault>('/api/v1/messages', {
      subject: 'Wheels, {name}',
      body: 'Hello {name}, you earn {rate WHEEL-1}.',
      kind: 'letter',
      ...body,
    });
  const outbox = () =>
    s.app.sqlite
      .prepare(
        "SELECT to_address AS \"to\", subject, body, state FROM messages WHERE kind IN ('letter', 'notice') ORDER BY id",
      )
      .all() as { to: string; subject: string; body: string; state: string }[];
  it('are filled in for each, previewed for a real one, and carry the way to get no more', async () => {
    expect(
      (
        await owner.post<{ count: number; sample: { subject: string; body: string } }>(
          '/api/v1/messages/preview',
          {
            subject: 'Hi {name}',
            body: 'You earn {rate WHEEL-1}.',
            kind: 'letter',
            for: people.Celia!.id,
            ...ids('Ada', 'Celia'),
          },
        )
      ).body,
    ).toMatchObject({
      count: 2,
      sample: { subject: 'Hi Celia', body: expect.stringContaining('You earn 12 %.') },
    });
    expect((await send(ids('Celia'))).body.queued).toBe(1);
    const [m] = outbox();
    expect(m).toMatchObject({ to: 'celia@celia.example', subject: 'Wheels, Celia' });
    expect(m!.body).toContain('No more letters');
    const token = /letters\/(\S+)/.exec(m!.body)![1]!;
    expect(
      (await new Visitor(s.address).post<{ on: boolean }>(`/api/v1/letters/${token}`, { on: false })).body.on,
    ).toBe(false);
    expect(
      (
        await new Visitor(s.address).get(
          `/api/v1/letters/${token.slice(0, -1)}${token.endsWith('0') ? '1' : '0'}`,
        )
      ).status,
    ).toBe(404);
  });
  it('respect who wants no letters, not for notices; and leave out those who have not joined', async () => {
    expect((await send(ids('Celia', 'Ada'))).body).toMatchObject({ queued: 1, leftOut: 1 });
    expect((await send({ ...ids('Celia'), kind: 'notice' })).body.queued).toBe(1);
    expect((await send(ids('Celia'))).body.code).toBe('conflict');
    expect(
      (await people.Celia!.client.put<{ on: boolean }>('/api/v1/portal/letters', { on: true })).body.on,
    ).toBe(true);
    expect((await send(ids('Celia'))).body.queued).toBe(1);
    expect((await send({ filter: {}, body: 'Hello {stranger}' })).body.errors[0]!.pointer).toBe('/body');
  });
  it('that bounce are shown at the person, until one arrives again', async () => {
    await fetch(`${s.standins}/mailroom/bounce`, {
      method: 'POST',
      body: new URLSearchParams({ addresses: 'bram@bram.example' }),
    });
    await send(ids('Bram'));
    await deliverWaiting(s.app);
    expect((await list('only=bounced')).rows.map((r) => [r.name, r.mailFault])).toEqual([
      ['Bram', '550 bram@bram.example does not exist here'],
    ]);
    await fetch(`${s.standins}/mailroom/bounce`, {
      method: 'POST',
      body: new URLSearchParams({ addresses: '' }),
    });
    await send(ids('Bram'));
    await deliverWaiting(s.app);
    expect(await names('only=bounced')).toEqual([]);
  });
  it('are kept as templates, replaced by the same name', async () => {
    const keep = (body: string, more = {}) =>
      owner.post<{ id: string } & Fault>('/api/v1/templates', {
        use: 'message',
        name: 'Back in stock',
        subject: 'S',
        body,
        ...more,
      });
    const { id } = (await keep('One.')).body;
    expect((await keep('Two.')).status).toBe(409);
    expect((await keep('Two.', { replaces: 1 })).body.id).toBe(id);
    await owner.post(`/api/v1/templates/${id}/remove`);
    expect((await owner.get<{ rows: unknown[] }>('/api/v1/templates')).body.rows).toEqual([]);
  });
});

describe('trust and decisions that are changed', () => {
  const apply = (who: string, product: string, from = new Visitor(s.address)) =>
    from.post<{ outcome: string }>('/api/v1/join', {
      name: who,
      email: `${who.toLowerCase()}@${who.toLowerCase()}.example`,
      country: 'PT',
      address: '',
      sites: [`${who.toLowerCase()}.example`],
      channels: '',
      note: 'More, please.',
      product,
    });
  const newest = () =>
    s.app.sqlite
      .prepare('SELECT id, state, timing, decided_by AS "by" FROM applications ORDER BY id DESC')
      .get() as { id: string; state: string; timing: string | null; by: string | null };
  it('lets in for later products until it lapses with the refunds', async () => {
    const eli = await s.affiliate('Eli', { product: 'WHEEL-1' });
    expect(
      (
        await owner.put<Fault>(`/api/v1/affiliates/${eli.id}/trust`, {
          on: true,
          until: '2020-01-01',
          atSale: false,
        })
      ).body.errors[0]!.pointer,
    ).toBe('/until');
    await owner.put(`/api/v1/affiliates/${eli.id}/trust`, { on: true, until: '', atSale: false });
    // in Eli's name but not by Eli: a person looks
    expect((await apply('Eli', 'KILN-1')).body.outcome).toBe('received');
    expect(newest()).toMatchObject({ state: 'waiting' });
    s.app.sqlite.prepare('DELETE FROM note_keys WHERE application = ?').run(newest().id);
    s.app.sqlite.prepare('DELETE FROM applications WHERE id = ?').run(newest().id);
    expect((await apply('Eli', 'KILN-1', eli.client)).body.outcome).toBe('let-in');
    expect(newest()).toMatchObject({ state: 'approved', timing: 'after-hold', by: 'trust' });
    expect(await names('only=trusted')).toEqual(['Eli']);
    for (let i = 0; i < 8; i += 1)
      await s.report('orders', {
        order: `E-${i}`,
        placedAt: new Date(s.app.clock.now()).toISOString(),
        currency: 'EUR',
        lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
        visit: await s.visit(await eli.link('WHEEL-1')),
      });
    for (let i = 0; i < 8; i += 1)
      await s.report('refunds', {
        refund: `RE-${i}`,
        order: `E-${i}`,
        at: new Date(s.app.clock.now()).toISOString(),
        kind: 'refund',
        full: true,
      });
    s.days(30);
    expect(lapseTrusts(s.app)).toBe(1);
    expect(await names('only=trusted')).toEqual([]);
    await s.product('ROLL-1');
    expect((await apply('Eli', 'ROLL-1', eli.client)).body.outcome).toBe('added');
  });
  it('weighs what at-sale timing could lose, in figures', async () => {
    const { id } = newest();
    const weighed = (
      await owner.post<{
        rows: { sales: number; weak: boolean; refundRate: number; loss: { amount: number } }[];
        weak: number;
      }>('/api/v1/applications/weigh', { ids: [id] })
    ).body;
    // 8 of 8 refunded: (8 + 2) ÷ (8 + 40) = 20.8 %; 10 % of €100 in 100 sales
    expect(weighed).toMatchObject({
      weak: 1,
      rows: [{ sales: 8, weak: true, refundRate: 208_333, loss: { amount: 20_833 } }],
    });
  });
  it('changes a decision later, from then on; who is approved for nothing has ended', async () => {
    const { id } = newest();
    await owner.post('/api/v1/applications/decide', {
      ids: [id],
      decision: 'decline',
      reason: 'No',
      message: false,
    });
    const change = (of: string, body: object) =>
      owner.post<Fault & { state: string }>(`/api/v1/applications/${of}/change`, {
        reason: '',
        message: false,
        ...body,
      });
    expect((await change(id, { decision: 'decline', reason: 'x' })).body.code).toBe('conflict');
    expect((await change(id, { decision: 'approve', timing: 'after-hold' })).body.state).toBe('approved');
    expect((await change(id, { decision: 'decline' })).body.errors[0]!.pointer).toBe('/reason');
    const dora = s.app.sqlite
      .prepare(
        "SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.name = 'Dora'",
      )
      .pluck()
      .get() as string;
    expect(
      (await change(dora, { decision: 'decline', reason: 'The site has changed hands' })).body.state,
    ).toBe('declined');
    expect((await list('q=Dora')).rows[0]!.state).toBe('ended');
    expect((await change(dora, { decision: 'approve', timing: 'at-sale' })).body.state).toBe('approved');
    expect((await list('q=Dora')).rows[0]!.state).toBe('active');
  });
  it('a block declines, without a message, what is still open', async () => {
    await apply('Faye', '');
    const { id } = newest();
    const affiliate = s.app.sqlite
      .prepare('SELECT affiliate FROM applications WHERE id = ?')
      .pluck()
      .get(id) as string;
    const { version } = (await owner.get<{ version: number }>(`/api/v1/affiliates/${affiliate}`)).body;
    await owner.post(`/api/v1/affiliates/${affiliate}/state`, {
      state: 'blocked',
      reason: 'Two names',
      version,
    });
    expect(newest()).toMatchObject({ id, state: 'declined' });
    expect(
      (
        await owner.post<Fault>(`/api/v1/applications/${id}/change`, {
          decision: 'approve',
          timing: 'after-hold',
          reason: '',
          message: false,
        })
      ).body.detail,
    ).toContain('blocked');
  });
});

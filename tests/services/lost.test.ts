import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Client as Visitor, type Client } from '../../scripts/journey/client';
import { emptyPolicy, gapsOf } from '../../src/core/recruiting/policy';
import { policyInForce } from '../../src/server/setup/policy/versions';
import { startServer, type TestServer } from '../helpers/server';

interface Fault {
  code: string;
  detail: string;
  current: Record<string, unknown>;
  errors: { pointer: string; detail: string }[];
}

let s: TestServer;
let owner: Client;
beforeAll(async () => {
  process.env.GRAVENEL_UNDO_SECONDS = '600';
  s = await startServer();
  process.env.GRAVENEL_UNDO_SECONDS = '600';
  owner = await s.as('owner');
  await s.product('WHEEL-1');
  await s.product('KILN-1');
});
afterAll(async () => {
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  await s.close();
});

const one = <T>(sql: string, ...values: unknown[]) =>
  s.app.sqlite
    .prepare(sql)
    .pluck()
    .get(...values) as T;
/** An affiliate of 400 days with an approval for the wheel, made where the time for taking back is over. */
async function member(name: string) {
  process.env.GRAVENEL_UNDO_SECONDS = '0';
  const who = await s.affiliate(name, { product: 'WHEEL-1', timing: 'at-sale' });
  process.env.GRAVENEL_UNDO_SECONDS = '600';
  const joined = s.app.clock.now() - 400 * 86_400_000;
  s.app.sqlite.prepare('UPDATE affiliates SET joined_at = ? WHERE id = ?').run(joined, who.id);
  const row = () =>
    s.app.sqlite
      .prepare('SELECT state, joined_at AS joinedAt, timing, promotes FROM affiliates WHERE id = ?')
      .get(who.id);
  const approvals = () =>
    s.app.sqlite
      .prepare(
        'SELECT coalesce(p.code, ?) AS code, a.timing FROM approvals a LEFT JOIN products p ON p.id = a.product WHERE a.affiliate = ? AND a.valid_until IS NULL ORDER BY 1',
      )
      .all('all', who.id);
  const apply = async (product: string) => {
    const email = one<string>('SELECT email FROM affiliates WHERE id = ?', who.id);
    await who.client.post('/api/v1/join', {
      name,
      email,
      country: 'PT',
      address: '',
      sites: ['x.example'],
      channels: '',
      note: `More of it, says ${name}.`,
      product,
    });
    return one<string>("SELECT id FROM applications WHERE affiliate = ? AND state = 'waiting'", who.id);
  };
  const move = async (state: string) =>
    owner.post(`/api/v1/affiliates/${who.id}/state`, {
      state,
      reason: 'a word',
      version: (await owner.get<{ version: number }>(`/api/v1/affiliates/${who.id}`)).body.version,
    });
  return { ...who, row, approvals, apply, move };
}
const decide = (id: string) =>
  owner.post('/api/v1/applications/decide', {
    ids: [id],
    decision: 'approve',
    timing: 'after-hold',
    reason: '',
    message: true,
  });
const reopen = async (id: string) =>
  (
    await owner.post<{ reopened: string[]; passed: { why: string }[] }>('/api/v1/applications/reopen', {
      ids: [id],
    })
  ).body;

it('a decision and what was there before it: approving somebody who is paused lifts no pause', async () => {
  const ada = await member('Ada');
  const id = await ada.apply('KILN-1');
  await ada.move('paused');
  await decide(id);
  expect(ada.row()).toMatchObject({ state: 'paused' });
  expect(ada.approvals()).toEqual([
    { code: 'KILN-1', timing: 'after-hold' },
    { code: 'WHEEL-1', timing: 'at-sale' },
  ]);
});
it('a decision and what was there before it: taking it back leaves a member of 400 days a member, with everything that stood', async () => {
  const bea = await member('Bea');
  const before = [bea.row(), bea.approvals()];
  const id = await bea.apply('KILN-1');
  await decide(id);
  expect(await reopen(id)).toMatchObject({ reopened: [id] });
  expect([bea.row(), bea.approvals()]).toEqual(before);
});
it('a decision and what was there before it: where the approval took the place of another, that one stands again', async () => {
  const cem = await member('Cem');
  // everything it had ended meanwhile but one approval for the whole programme
  s.app.sqlite.prepare('UPDATE approvals SET valid_until = valid_from WHERE affiliate = ?').run(cem.id);
  const id = await cem.apply('WHEEL-1');
  s.app.sqlite.prepare('UPDATE approvals SET valid_until = NULL WHERE affiliate = ?').run(cem.id);
  const before = [cem.row(), cem.approvals()];
  await decide(id);
  expect(cem.approvals()).toEqual([{ code: 'WHEEL-1', timing: 'after-hold' }]);
  await reopen(id);
  expect([cem.row(), cem.approvals()]).toEqual(before);
});
it('a decision and what was there before it: one who had left has left again; what somebody changed since stays', async () => {
  const dan = await member('Dan');
  const id = await dan.apply('KILN-1');
  await dan.move('ended');
  const before = dan.row();
  await decide(id);
  expect(dan.row()).toMatchObject({ state: 'active' });
  await reopen(id);
  expect(dan.row()).toEqual(before);
  await decide(id);
  await dan.move('paused');
  // a timing that somebody set since the decision stands as well
  s.app.sqlite.prepare("UPDATE affiliates SET timing = 'at-sale' WHERE id = ?").run(dan.id);
  await reopen(id);
  expect(dan.row()).toMatchObject({ state: 'paused', timing: 'at-sale' });
});
it('a decision and what was there before it: one who was never with us is an applicant again', async () => {
  await new Visitor(s.address).post('/api/v1/join', {
    name: 'Eve',
    email: 'eve@eve.example',
    country: 'PT',
    address: '',
    sites: ['eve.example'],
    channels: '',
    note: 'Hello.',
    product: '',
  });
  const id = one<string>(
    "SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.name = 'Eve'",
  );
  await decide(id);
  await reopen(id);
  expect(
    s.app.sqlite.prepare("SELECT state, joined_at AS joinedAt FROM affiliates WHERE name = 'Eve'").get(),
  ).toEqual({ state: 'applied', joinedAt: null });
});

it('edits that cross: are refused with who changed it, and the record as it is now', async () => {
  const settings = (await owner.get<Record<string, unknown>>('/api/v1/settings')).body;
  const fields = (more: object) => ({
    name: settings.name,
    contact: settings.contact,
    intro: settings.intro,
    summary: settings.summary,
    rate: settings.rate,
    windowDays: settings.windowDays,
    landingHosts: settings.landingHosts,
    version: settings.version,
    ...more,
  });
  const manager = await s.as('manager');
  expect((await manager.put('/api/v1/settings/programme', fields({ windowDays: 45 }))).status).toBe(200);
  const late = await owner.put<Fault>(
    '/api/v1/settings/programme',
    fields({ name: 'Quernstone and Daughters' }),
  );
  expect(late.status).toBe(409);
  expect(late.body.detail).toMatch(/^manager changed the settings meanwhile, on .*compare and save again/);
  expect(late.body.current).toMatchObject({ windowDays: 45, name: 'Quernstone Clayworks' });
});
it('edits that cross: a product’s page that adds a host is a change of the settings', async () => {
  const settings = (await owner.get<Record<string, unknown>>('/api/v1/settings')).body;
  await s.product('HOST-1', {
    salesPage: 'https://another.quernstone.example/p',
    mobilePage: 'https://phones.quernstone.example/p',
  });
  const { name, contact, intro, summary, rate, windowDays, landingHosts, version } = settings;
  expect(
    (
      await owner.put<Fault>('/api/v1/settings/programme', {
        name,
        contact,
        intro,
        summary,
        rate,
        windowDays,
        landingHosts,
        version,
      })
    ).status,
  ).toBe(409);
  expect((await owner.get<{ landingHosts: string[] }>('/api/v1/settings')).body.landingHosts).toEqual(
    expect.arrayContaining(['another.quernstone.example', 'phones.quernstone.example']),
  );
});
it('edits that cross: acts on many are changes of each', async () => {
  const fay = await member('Fay');
  const read = async () =>
    (await owner.get<{ version: number }>(`/api/v1/affiliates/${fay.id}`)).body.version;
  const version = await read();
  expect(
    (
      await owner.post<{ done: number }>('/api/v1/affiliates/bulk', {
        ids: [fay.id],
        what: 'kind',
        to: 'podcast',
      })
    ).body.done,
  ).toBe(1);
  const late = await owner.put<Fault>(`/api/v1/affiliates/${fay.id}/sorting`, {
    kind: '',
    lookedAfter: null,
    version,
  });
  expect([late.status, late.body.detail.startsWith('Inês Falcão changed Fay meanwhile')]).toEqual([
    409,
    true,
  ]);
  expect(late.body.current).toMatchObject({ kind: 'podcast' });
});

describe('what names what changed, by whom', () => {
  it('a screening rule that was switched and changed meanwhile', async () => {
    const manager = await s.as('manager');
    const rule = { conditions: { clearedLeast: 50 }, outcome: { do: 'approve', timing: 'after-hold' } };
    const made = (
      await owner.post<{ rules: { id: string; version: number }[] }>('/api/v1/screening', rule)
    ).body.rules.at(-1)!;
    await manager.put(`/api/v1/screening/${made.id}`, {
      ...rule,
      conditions: { clearedLeast: 20 },
      on: true,
      version: made.version,
    });
    const late = await owner.put<Fault>(`/api/v1/screening/${made.id}`, {
      ...rule,
      on: false,
      version: made.version,
    });
    expect([late.status, late.body.detail]).toEqual([
      409,
      expect.stringMatching(/^manager changed this rule meanwhile/),
    ]);
    expect((late.body.current as { rules: object[] }).rules.at(-1)).toMatchObject({
      conditions: { clearedLeast: 20 },
      on: true,
    });
  });
  it('the co-owners of a product', async () => {
    const manager = await s.as('manager');
    const [gil, ida] = [await member('Gil'), await member('Ida')];
    const product = await s.product('OWNED-1');
    const set = (who: typeof manager, owners: object[], expects: object[]) =>
      who.put<Fault>(`/api/v1/products/${product}/co-owners`, { owners, expects });
    const theirs = [{ payee: gil.id, percent: '20' }];
    expect((await set(manager, theirs, [])).status).toBe(200);
    const late = await set(owner, [{ payee: ida.id, percent: '30' }], []);
    expect([late.status, late.body.detail]).toEqual([
      409,
      expect.stringMatching(/^manager changed the co-owners meanwhile/),
    ]);
    expect(late.body.current).toMatchObject({ rows: [{ name: 'Gil', percent: '20' }] });
  });
});

describe('a later version of the policy', () => {
  const publish = async (more: object) => {
    const draft = (
      await owner.post<{ id: string; content: object; version: number }>('/api/v1/policies/draft')
    ).body;
    const saved = (
      await owner.put<{ version: number }>(`/api/v1/policies/${draft.id}`, {
        ...draft.content,
        ...more,
        version: draft.version,
      })
    ).body;
    return (
      await owner.post<{ number: number; holdsFrom: number }>(`/api/v1/policies/${draft.id}/publish`, {
        version: saved.version,
        empty: gapsOf(emptyPolicy).map((gap) => gap.key),
      })
    ).body;
  };
  it('never overtakes one whose notice runs, however short its own', async () => {
    const first = await publish({ general: 'The first.', noticeWeeks: 4 });
    const second = await publish({ general: 'The second.', noticeWeeks: 1 });
    expect(Math.round((second.holdsFrom - first.holdsFrom) / 86_400_000)).toBe(28);
    s.days(1);
    const third = await publish({ general: 'The third.', noticeWeeks: 1 });
    // a day later, by the notice of the version that is in force: four weeks
    expect(Math.round((third.holdsFrom - second.holdsFrom) / 86_400_000)).toBe(1);
    s.days(8);
    expect(policyInForce(s.app)!.number).toBe(1);
    s.days(19);
    expect(policyInForce(s.app)!.number).toBe(2);
    const fourth = await publish({ general: 'The fourth.', noticeWeeks: 1 });
    // the second is in force and promises a week: after the third all the same
    expect(fourth.holdsFrom).toBeGreaterThanOrEqual(third.holdsFrom);
  });
});

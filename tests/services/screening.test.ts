import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let owner: Client;
beforeAll(async () => {
  s = await startServer();
  owner = await s.as('owner');
  await s.product('WHEEL-1', { reward: '10', refundDays: 5, recruiting: 'screened' });
  await s.product('KILN-1');
});
afterAll(() => s.close());

interface Fault {
  code: string;
  errors: { pointer: string; detail: string }[];
}
interface Rule {
  id: string;
  sentence: string;
  conditions: object;
  outcome: object;
  on: boolean;
  decided: number;
  version: number;
}
interface Turned {
  rule: string | null;
  total: number;
  approved: number;
  declined: number;
  active: number;
  blocked: number;
  sales: number;
  refunds: number;
}
const list = async () => (await owner.get<{ rules: Rule[] }>('/api/v1/screening')).body.rules;
const make = (conditions: object, outcome: object) =>
  owner.post<{ rules: Rule[] } & Fault>('/api/v1/screening', { conditions, outcome });
const turn = async (i: number, on: boolean) => {
  const r = (await list())[i]!;
  return owner.put<Fault>(`/api/v1/screening/${r.id}`, {
    conditions: r.conditions,
    outcome: r.outcome,
    on,
    version: r.version,
  });
};
const copied =
  'I have been helping makers find the tools they love for many years and my audience trusts my honest reviews.';
let serial = 0;
async function apply(note: string, more: object = {}) {
  serial += 1;
  const email = `p${serial}@potters.example`;
  const answer = await owner.post<{ outcome: string; said: string }>('/api/v1/join', {
    name: `Potter ${serial}`,
    email,
    country: 'PT',
    address: '',
    sites: [`p${serial}.example`],
    channels: 'blog',
    note,
    product: 'WHEEL-1',
    ...more,
  });
  const row = s.app.sqlite
    .prepare(
      'SELECT a.id, a.state, a.timing, a.decided_by AS "by", a.rule, f.id AS affiliate FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.email = ? ORDER BY a.id DESC',
    )
    .get((more as { email?: string }).email ?? email) as {
    id: string;
    state: string;
    timing: string | null;
    by: string | null;
    rule: string | null;
    affiliate: string;
  };
  return { ...row, said: answer.body.said, email };
}

interface Rehearsal {
  id: string;
  state: string;
  outdated: boolean;
  result: {
    rows: Turned[];
    changes: { name: string; decided: string; would: string; now: string }[];
    applications: number;
  } | null;
}

/** Rehearses the rules and waits for the end. */
async function rehearsed(): Promise<Rehearsal> {
  await owner.post('/api/v1/screening/rehearsal', {});
  for (;;) {
    const { body } = await owner.get<Rehearsal>('/api/v1/screening/rehearsal');
    if (body.state !== 'running') return body;
  }
}

it('cannot contradict themselves, nor decide money without a record', async () => {
  const faults = async (conditions: object, outcome: object) =>
    (await make(conditions, outcome)).body.errors.map((e) => e.pointer);
  const hold = { do: 'approve', timing: 'after-hold' };
  expect(await faults({ countryIn: ['PT', 'CY'], countryNotIn: ['CY'] }, hold)).toEqual(['/countryNotIn']);
  expect(await faults({}, hold)).toEqual(['/conditions']);
  expect(await faults({ clearedLeast: 5 }, { do: 'approve', timing: 'at-sale' })).toEqual(['/clearedLeast']);
  expect(await faults({ note: false }, { do: 'decline', reason: '' })).toEqual(['/reason']);
  expect(await faults({ clearedLeast: 5 }, { do: 'approve' })).toEqual(['/timing']);
  expect(await faults({ refundsMost: 'a lot' }, hold)).toEqual(['/refundsMost']);
  expect(await faults({ products: ['prd_nothere00'] }, hold)).toEqual(['/products']);
  expect((await make({ standingLeast: 101 }, hold)).status).toBe(422);
  expect(await list()).toEqual([]);
});
it('begin switched off, and decide nothing until they are on', async () => {
  await make({ original: false, note: true }, { do: 'decline', reason: 'We ask for a note of your own' });
  await make({ note: true, countryIn: ['PT', 'ES'] }, { do: 'approve', timing: 'after-hold' });
  expect((await list()).map((r) => [r.sentence, r.on])).toEqual([
    [
      'Where there is a note, and the note is nearly the same as another, or missing: decline: We ask for a note of your own',
      false,
    ],
    ['Where the country is PT or ES, and there is a note: approve, after hold', false],
  ]);
  expect((await apply(copied)).state).toBe('waiting');
});
it('decide in order once they are on, with which rule and on which values kept', async () => {
  await turn(0, true);
  await turn(1, true);
  const copy = await apply(copied);
  expect(copy).toMatchObject({ state: 'declined', by: 'rules' });
  expect(
    s.app.sqlite.prepare('SELECT kind FROM messages WHERE to_address = ?').pluck().all(copy.email),
  ).toEqual(['application-declined']);
  const own = await apply('A wheel in a window, filmed once a week.');
  expect(own).toMatchObject({ state: 'approved', timing: 'after-hold', by: 'rules' });
  const sheet = (
    await owner.get<{
      decidedBy: string;
      rule: { sentence: string; facts: { label: string; value: string }[] };
    }>(`/api/v1/applications/${own.id}`)
  ).body;
  expect(sheet.decidedBy).toBe('a screening rule');
  expect(sheet.rule.sentence).toContain('the country is PT or ES');
  expect(sheet.rule.facts).toContainEqual({ label: 'Note', value: 'like no other' });
  expect(
    s.app.sqlite.prepare('SELECT count(*) FROM links WHERE affiliate = ?').pluck().get(own.affiliate),
  ).toBe(1);
  // what none decides, another product, and somebody who was blocked wait for a person
  expect(await apply('From afar, with a note.', { country: 'DE' })).toMatchObject({
    state: 'waiting',
    said: expect.stringContaining('comes to your e-mail address'),
  });
  expect((await apply('About the kiln.', { product: 'KILN-1' })).state).toBe('waiting');
  s.app.sqlite.prepare("UPDATE affiliates SET state = 'blocked' WHERE id = ?").run(own.affiliate);
  s.app.sqlite
    .prepare('UPDATE approvals SET valid_until = valid_from WHERE affiliate = ?')
    .run(own.affiliate);
  expect((await apply('I am here again.', { email: own.email })).state).toBe('waiting');
  expect((await list()).map((r) => r.decided)).toEqual([1, 1]);
});
it('are tried in the order given; an order of others, and an edit of an old version, are refused', async () => {
  const [a, b] = (await list()).map((r) => r.id);
  const order = (ids: string[]) => owner.put<Fault & { rules: Rule[] }>('/api/v1/screening', { ids });
  expect((await order([b!])).body.code).toBe('stale');
  expect((await order([b!, a!])).body.rules.map((r) => r.id)).toEqual([b, a]);
  // now the country decides before the copy is looked at
  expect((await apply(copied, { country: 'ES' })).state).toBe('approved');
  const old = (await list())[0]!;
  await turn(0, false);
  expect(
    (
      await owner.put<Fault>(`/api/v1/screening/${old.id}`, {
        conditions: old.conditions,
        outcome: old.outcome,
        on: true,
        version: old.version,
      })
    ).body.code,
  ).toBe('stale');
  await owner.post(`/api/v1/screening/${old.id}/remove`, {});
  expect((await list()).map((r) => r.id)).toEqual([a]);
});
it('a rehearsal goes on once however often it is asked for, is stopped, and says when the rules are others by now', async () => {
  expect((await owner.post<Rehearsal>('/api/v1/screening/rehearsal/cancel', {})).body).toBeNull();
  const [first, again] = await Promise.all([
    owner.post<Rehearsal>('/api/v1/screening/rehearsal', {}),
    owner.post<Rehearsal>('/api/v1/screening/rehearsal', {}),
  ]);
  expect([first.body.state, again.body.id]).toEqual(['running', first.body.id]);
  expect((await owner.post<Rehearsal>('/api/v1/screening/rehearsal/cancel', {})).body).toMatchObject({
    id: first.body.id,
    state: 'cancelled',
    result: null,
  });
  expect(await rehearsed()).toMatchObject({ state: 'done', outdated: false });
  expect(s.app.sqlite.prepare('SELECT count(*) FROM rule_rehearsals').pluck().get()).toBe(2);
  await make({ clearedLeast: 7 }, { do: 'person' });
  expect((await owner.get<Rehearsal>('/api/v1/screening/rehearsal')).body).toMatchObject({
    state: 'done',
    outdated: true,
    result: { applications: expect.any(Number) },
  });
  const viewer = await s.as('viewer');
  expect((await viewer.post<Fault>('/api/v1/screening/rehearsal', {})).status).toBe(403);
  expect((await viewer.get('/api/v1/screening/rehearsal')).status).toBe(200);
  // what was under way when the server ended is running nowhere now
  s.app.sqlite
    .prepare(
      "INSERT INTO rule_rehearsals (id, by, at, rules, state) VALUES ('reh_zzz', 'x', ?, '', 'running')",
    )
    .run(s.app.clock.now() + 1);
  expect((await owner.get<Rehearsal>('/api/v1/screening/rehearsal')).body).toMatchObject({
    id: 'reh_zzz',
    state: 'failed',
  });
  s.app.sqlite.prepare("DELETE FROM rule_rehearsals WHERE id = 'reh_zzz'").run();
  await owner.post(`/api/v1/screening/${(await list()).at(-1)!.id}/remove`, {});
});
it('are rehearsed over the past, on what was known then, beside how it turned out', async () => {
  const good = await s.affiliate('Good Pots');
  for (let i = 0; i < 3; i += 1)
    await s.report('orders', {
      order: `G-${i}`,
      placedAt: new Date(s.app.clock.now()).toISOString(),
      currency: 'EUR',
      lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
      visit: await s.visit(await good.link('WHEEL-1')),
    });
  s.days(30);
  await s.report('refunds', {
    refund: 'RG-0',
    order: 'G-0',
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'refund',
    full: true,
  });
  await make({ clearedLeast: 2 }, { do: 'approve', timing: 'after-hold' });
  const before = s.app.sqlite.prepare('SELECT group_concat(state) FROM applications').pluck().get();
  const { rows, changes, applications } = (await rehearsed()).result!;
  expect(rows.reduce((n, r) => n + r.total, 0)).toBe(applications);
  expect(rows.every((r) => r.approved + r.declined === r.total)).toBe(true);
  // nobody had a cleared sale when they applied
  expect(rows[1]).toMatchObject({ total: 0 });
  expect(rows.at(-1)).toMatchObject({ rule: null, sales: 3, refunds: 1, blocked: 1 });
  // the copy that was let in for its country would be declined by the rule that is left
  expect(changes).toMatchObject([{ decided: 'approved', would: 'declined', now: 'active' }]);
  expect(s.app.sqlite.prepare('SELECT group_concat(state) FROM applications').pluck().get()).toBe(before);
});

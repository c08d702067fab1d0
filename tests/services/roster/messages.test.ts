import { expect, it } from 'vitest';
import { Client as Visitor } from '../../../scripts/journey/client';
import { lapseTrusts } from '../../../src/server/recruit/applications/trust';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { ids, list, names, owner, people, prepare, s, type Fault } from './world';

prepare();

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
it('messages: are filled in for each, previewed for a real one, and carry the way to get no more', async () => {
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
it('messages: respect who wants no letters, not for notices; and leave out those who have not joined', async () => {
  expect((await send(ids('Celia', 'Ada'))).body).toMatchObject({ queued: 1, leftOut: 1 });
  expect((await send({ ...ids('Celia'), kind: 'notice' })).body.queued).toBe(1);
  expect((await send(ids('Celia'))).body.code).toBe('conflict');
  expect(
    (await people.Celia!.client.put<{ on: boolean }>('/api/v1/portal/letters', { on: true })).body.on,
  ).toBe(true);
  expect((await send(ids('Celia'))).body.queued).toBe(1);
  expect((await send({ filter: {}, body: 'Hello {stranger}' })).body.errors[0]!.pointer).toBe('/body');
});
it('messages: that bounce are shown at the person, until one arrives again', async () => {
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
it('messages: are kept as templates, replaced by the same name', async () => {
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
it('trust and decisions that are changed: lets in for later products until it lapses with the refunds', async () => {
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
  for (const table of ['note_keys', 'practice_matches', 'application_practices'])
    s.app.sqlite.prepare(`DELETE FROM ${table} WHERE application = ?`).run(newest().id);
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
it('trust and decisions that are changed: weighs what at-sale timing could lose, in figures', async () => {
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
it('trust and decisions that are changed: changes a decision later, from then on; who is approved for nothing has ended', async () => {
  const { id } = newest();
  await owner.post('/api/v1/applications/decide', {
    ids: [id],
    decision: 'decline',
    reason: 'No',
    message: false,
  });
  const change = (name: string, body: object) =>
    owner.post<Fault & { state: string }>(`/api/v1/applications/${name}/change`, {
      reason: '',
      message: false,
      ...body,
    });
  expect((await change(id, { decision: 'decline', reason: 'x' })).body.code).toBe('conflict');
  expect((await change(id, { decision: 'approve', timing: 'after-hold' })).body.state).toBe('approved');
  expect((await change(id, { decision: 'decline' })).body.errors[0]!.pointer).toBe('/reason');
  const dora = s.app.sqlite
    .prepare("SELECT a.id FROM applications a JOIN affiliates f ON f.id = a.affiliate WHERE f.name = 'Dora'")
    .pluck()
    .get() as string;
  expect((await change(dora, { decision: 'decline', reason: 'The site has changed hands' })).body.state).toBe(
    'declined',
  );
  expect((await list('q=Dora')).rows[0]!.state).toBe('ended');
  expect((await change(dora, { decision: 'approve', timing: 'at-sale' })).body.state).toBe('approved');
  expect((await list('q=Dora')).rows[0]!.state).toBe('active');
});
it('trust and decisions that are changed: a block declines, without a message, what is still open', async () => {
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

import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Client } from '../../scripts/journey/client';
import type { Id } from '../../src/core/text/id';
import { newId } from '../../src/server/ground/db/ids';
import { messages } from '../../src/server/ground/tables/outbox';
import { affiliates, links } from '../../src/server/ground/tables/people';
import { runs } from '../../src/server/ground/tables/runs';
import { visits } from '../../src/server/ground/tables/visits';
import { brokenInvariants } from '../../src/server/ledger/invariants';
import { approve } from '../../src/server/recruit/applications/approve';
import { goOnWithRuns } from '../../src/server/settle/runs/onward';
import { takeOrder } from '../../src/server/track/orders/intake';
import { normaliseOrder } from '../../src/server/track/orders/normalise';
import { addAffiliate } from '../helpers/app';
import { startServer, type TestServer } from '../helpers/server';

interface Run {
  id: Id<'run'>;
  number: number;
  state: string;
  version: number;
  payees: number;
  done: number | null;
  total: { amount: number };
  notApproved: string | null;
  approvedBy: string | null;
  payments: { state: string }[];
}
interface Fault {
  code: string;
  detail: string;
}

/** More than are through at once. */
const many = 230;

let s: TestServer;
let finance: Client;
let ids: Id<'affiliate'>[];
beforeAll(async () => {
  s = await startServer();
  finance = await s.as('finance');
  await s.product('POT-1', { reward: '10', refundDays: 0 });
  const actor = {
    kind: 'staff' as const,
    id: s.app.sqlite.prepare("SELECT id FROM staff WHERE role = 'owner'").pluck().get() as Id<'staff'>,
  };
  ids = s.app.transaction(() =>
    Array.from({ length: many }, (_, i) => {
      const row = addAffiliate(s.app, `Potter${String(i).padStart(3, '0')}`);
      approve(s.app, actor, row, { product: null, timing: 'at-sale' });
      const link = s.app.db.select().from(links).where(eq(links.affiliate, row.id)).get()!;
      const visit = newId('visit');
      s.app.db
        .insert(visits)
        .values({
          id: visit,
          link: link.code,
          affiliate: row.id,
          product: link.product!,
          at: s.app.clock.now(),
          landing: 'x',
        })
        .run();
      for (const n of [1, 2])
        takeOrder(
          s.app,
          normaliseOrder(s.app, {
            order: `M-${i}-${n}`,
            placedAt: new Date(s.app.clock.now()).toISOString(),
            currency: 'EUR',
            lines: [{ product: 'POT-1', quantity: 1, amount: '100.00' }],
            visit,
          }),
          'server',
        );
      return row.id;
    }),
  );
});
afterAll(() => s.close());

const day = () => new Date(s.app.clock.now()).toISOString().slice(0, 10);
const read = async (id: string) => (await finance.get<Run>(`/api/v1/payouts/${id}`)).body;
const step = (run: Run, act: string, headers: Record<string, string> = {}) =>
  finance.send<Run & Fault>(
    'POST',
    `/api/v1/payouts/${run.id}/${act}`,
    { version: run.version, ...(act === 'approve' ? { total: run.total.amount } : {}) },
    headers,
  );
/** Asks again and again, as the desk does, until the run has arrived. */
async function arrived(id: string): Promise<{ run: Run; seen: Run[] }> {
  const seen: Run[] = [];
  for (;;) {
    const run = await read(id);
    if (run.done === null) return { run, seen };
    seen.push(run);
  }
}

it('a large run is answered while it is on its way, says how far it is, and nothing else is done with it meanwhile', async () => {
  const drafted = (await finance.post<Run>('/api/v1/payouts', { cutoff: day(), minimum: '' })).body;
  expect([drafted.state, drafted.payees, drafted.done]).toEqual(['draft', many, null]);
  const key = { 'idempotency-key': randomUUID() };
  const answered = await step(drafted, 'approve', key);
  expect([answered.body.state, answered.body.payees, answered.body.total.amount, answered.body.done]).toEqual(
    ['approving', many, many * 2000, 0],
  );
  // a second click with the same key gets the same answer; somebody else’s approval, a draft beside it and leaving out are refused
  expect((await step(drafted, 'approve', key)).text).toBe(answered.text);
  const { run, seen } = await arrived(drafted.id);
  expect([run.state, run.payees, run.total.amount, run.notApproved]).toEqual([
    'approved',
    many,
    many * 2000,
    null,
  ]);
  expect(seen.every((r) => r.state === 'approving' && r.done! <= many)).toBe(true);
  expect((await step(drafted, 'approve')).body.code).toBe('conflict');
  expect((await step(run, 'send')).body.state).toBe('sending');
  const sent = (await arrived(run.id)).run;
  expect([sent.state, new Set(sent.payments.map((p) => p.state))]).toEqual(['sent', new Set(['sent'])]);
  const told = s.app.db
    .select()
    .from(messages)
    .where(eq(messages.kind, 'payment-sent'))
    .all()
    .map((m) => m.affiliate);
  expect([told.length, new Set(told).size]).toEqual([many, many]);
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
  s.app.db.update(runs).set({ state: 'settled' }).where(eq(runs.id, run.id)).run();
});

/** As a restart finds a run: on its way, and nobody going on with it. */
async function left(state: 'approving' | 'reopening' | 'sending', more: object = {}): Promise<Run> {
  const run = (await finance.get<{ rows: Run[] }>('/api/v1/payouts')).body.rows[0]!;
  s.app.db
    .update(runs)
    .set({
      state,
      stepBy: s.app.sqlite
        .prepare("SELECT id FROM staff WHERE role = 'finance'")
        .pluck()
        .get() as Id<'staff'>,
      ...more,
    })
    .where(eq(runs.id, run.id))
    .run();
  return read(run.id);
}

/** A purchase of 150.00 by the affiliate’s first visit. */
function sellOne(affiliate: Id<'affiliate'>): void {
  const visit = s.app.db.select().from(visits).where(eq(visits.affiliate, affiliate)).get()!;
  s.app.transaction(() =>
    takeOrder(
      s.app,
      normaliseOrder(s.app, {
        order: `N-1-${affiliate}`,
        placedAt: new Date(s.app.clock.now()).toISOString(),
        currency: 'EUR',
        lines: [{ product: 'POT-1', quantity: 1, amount: '150.00' }],
        visit: visit.id,
      }),
      'server',
    ),
  );
}

it('what was interrupted is refused in words, goes on by itself, and comes to nothing if others would be paid', async () => {
  for (const affiliate of ids.slice(0, 3)) sellOne(affiliate);
  await finance.post<Run>('/api/v1/payouts', { cutoff: day(), minimum: '' });
  const approving = await left('approving', { total: 4500, payees: 3 });
  expect([approving.state, approving.done, approving.total.amount]).toEqual(['approving', 0, 4500]);
  expect((await step(approving, 'approve')).body).toMatchObject({
    code: 'conflict',
    detail: `Run ${approving.number} is being approved; it cannot become approved`,
  });
  expect((await step(approving, 'send')).body.detail).toContain('is being approved; it cannot become sent');
  expect((await finance.post<Fault>('/api/v1/payouts', { cutoff: day(), minimum: '' })).body.detail).toBe(
    `Run ${approving.number} is still being approved; send or discard it first`,
  );
  expect(
    (
      await finance.post<Fault>(`/api/v1/payouts/${approving.id}/exclude`, {
        affiliate: ids[0],
        exclude: true,
        version: approving.version,
      })
    ).body.detail,
  ).toContain('is being approved; payees can be left out of a draft only');
  const waiting = (
    await finance.get<{ waiting: { text: string; more: string; act: string }[] }>('/api/v1/today')
  ).body.waiting.find((w) => w.text === `Payout run ${approving.number}`);
  expect(waiting).toMatchObject({ more: '3 payees, being approved', act: 'look' });
  await goOnWithRuns(s.app);
  expect(await read(approving.id)).toMatchObject({
    state: 'approved',
    payees: 3,
    total: { amount: 4500 },
    payments: [{}, {}, {}],
  });
  expect((await step(await read(approving.id), 'reopen')).body).toMatchObject({
    state: 'draft',
    total: { amount: 4500 },
    notApproved: null,
  });

  // one of them has given back the details meanwhile: others would be paid than were looked at
  s.app.db.update(affiliates).set({ payeeIban: '' }).where(eq(affiliates.id, ids[1]!)).run();
  await left('approving', { total: 4500, payees: 3 });
  await goOnWithRuns(s.app);
  const back = await read(approving.id);
  expect(back).toMatchObject({
    state: 'draft',
    payees: 2,
    total: { amount: 3000 },
    notApproved: 'The payees were others when it was to go on: look them over again',
    approvedBy: null,
  });
  const audit = (
    await finance.get<{ rows: { action: string }[] }>(`/api/v1/audit?subject=${approving.id}`)
  ).body.rows.map((r) => r.action);
  expect(audit).toContain('run-not-approved');
  const again = (await step(back, 'approve')).body;
  expect([again.state, again.payees, again.notApproved]).toEqual(['approved', 2, null]);
  expect((await step(again, 'reopen')).body.state).toBe('draft');
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('of an approval whose answer was lost the answer is read when it is asked again', async () => {
  const run = await read((await finance.get<{ rows: Run[] }>('/api/v1/payouts')).body.rows[0]!.id);
  const key = { 'idempotency-key': randomUUID() };
  const first = await step(run, 'approve', key);
  expect(first.body.state).toBe('approved');
  // as if the process had ended between what was done and what was answered
  s.app.sqlite
    .prepare("UPDATE answers SET status = 202, body = 'null' WHERE key = ?")
    .run(key['idempotency-key']);
  const second = await step(run, 'approve', key);
  expect([second.status, second.body.state, second.body.version]).toEqual([
    200,
    'approved',
    first.body.version,
  ]);
  expect(
    (await finance.send<Fault>('POST', `/api/v1/payouts/${run.id}/approve`, { version: 99, total: 1 }, key))
      .body.code,
  ).toBe('key-reused');
});

it('sends nothing with a file that was written for another account or another version', async () => {
  const run = await read((await finance.get<{ rows: Run[] }>('/api/v1/payouts')).body.rows[0]!.id);
  const owner = await s.as('owner');
  const settings = async (debtorIban: string) => {
    const { version } = (await owner.get<{ version: number }>('/api/v1/settings')).body;
    return owner.put('/api/v1/settings/money', {
      bufferDays: 3,
      clearing: 'automatic',
      minimumPayout: '10.00',
      approvalAbove: '',
      promiseDays: 14,
      debtorName: 'Quernstone Clayworks',
      debtorIban,
      version,
    });
  };
  const { reader } = s.app;
  s.app.reader = {
    ask: (reading, input, urgency) => reader.ask(reading, input, urgency),
    say: (reading, input) => reader.say(reading, input),
    work: (reading, input, progress) => {
      const work = reader.work(reading, input, progress);
      return {
        ...work,
        result: work.result.then(async (file) => {
          await settings('GB33BUKB20201555555555');
          return file;
        }),
      };
    },
    close: () => reader.close(),
  };
  const refused = await step(run, 'send');
  s.app.reader = reader;
  expect([refused.status, refused.body.code, (await read(run.id)).state]).toEqual([409, 'stale', 'approved']);
  const sent = await step(run, 'send');
  expect(sent.body.state).toBe('sent');
  expect((await finance.get(`/api/v1/payouts/${run.id}/file.xml`)).text).toContain('GB33BUKB20201555555555');
});

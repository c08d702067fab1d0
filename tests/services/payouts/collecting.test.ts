import { afterEach, beforeAll, beforeEach, expect, it } from 'vitest';
import type { BankPort } from '../../../src/server/ground/ports';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import type { Reading } from '../../../src/server/settle/runs/settle';
import { draft, endToEnd, finance, prepare, s, sell, step, type Fault, type Run } from './world';

prepare();

let run: Run;
let bank: BankPort | null;
let reports: { name: string; content: string }[];
/** What was handed to the bank; throws instead while it is down. */
let handed: string[];
let isDown: boolean;

beforeAll(async () => {
  // whoever is paid at sale is paid with the next run
  await sell(0, '100.00');
  await sell(1, '150.00');
});
beforeEach(() => {
  bank = s.app.bank;
  reports = [];
  handed = [];
  isDown = false;
  s.app.bank = {
    ...bank!,
    deliver: (name: string) => {
      if (isDown) return Promise.reject(new Error('no answer'));
      handed.push(name);
      return Promise.resolve();
    },
    reports: () => (isDown ? Promise.reject(new Error('no answer')) : Promise.resolve(reports)),
  };
});
afterEach(() => {
  s.app.bank = bank;
});

const collect = async () => await finance.post<Reading & Fault>('/api/v1/payouts/collect');
const read = async () => (await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body;
const csv = (...lines: [endToEnd: string, status: string, reason?: string][]) =>
  ['end_to_end_id,status,reason', ...lines.map(([e, status, why = '']) => `${e},${status},${why}`)].join(
    '\n',
  );

it('a file that the bank does not take stays here, and is handed over later', async () => {
  run = await draft();
  expect((await step(run, 'deliver')).body).toMatchObject({
    code: 'conflict',
    detail: expect.stringContaining('has not been sent yet'),
  });
  run = (await step(run, 'approve')).body;
  run = (await step(run, 'send')).body;
  expect(run.state).toBe('sent');
  isDown = true;
  expect((await step(run, 'deliver')).body).toMatchObject({
    code: 'unavailable',
    detail: 'The bank does not answer. The file is kept; hand it over again later, it is taken once only.',
  });
  isDown = false;
  expect([(await step(await read(), 'deliver')).status, handed.length]).toEqual([200, 1]);
});

it('a bank that does not answer changes nothing; one that has nothing new says so', async () => {
  isDown = true;
  expect((await collect()).body).toMatchObject({ code: 'unavailable' });
  isDown = false;
  expect((await collect()).body).toMatchObject({ settled: 0, said: 'The bank has no new status report' });
});

it('a report that cannot be read is said once, and the others are read all the same', async () => {
  const [ann] = endToEnd(run);
  reports = [
    { name: 'garbage.xml', content: '<Document>half' },
    { name: 'monday.csv', content: csv([ann!.e, 'PDNG'], [ann!.e, 'WHAT'], ['nobody', 'ACSC']) },
  ];
  const first = (await collect()).body;
  expect(first).toMatchObject({ settled: 0, failed: 0, unchanged: 1 });
  expect(first.unknown).toHaveLength(3);
  expect(first.said).toContain('garbage.xml: ');
  expect(first.unknown.join('\n')).toMatch(/status WHAT is not known/);
  expect(
    s.app.sqlite.prepare("SELECT count(*) FROM audit WHERE action = 'status-refused'").pluck().get(),
  ).toBe(1);
  // neither is read a second time
  expect((await collect()).body).toMatchObject({ unchanged: 0, said: 'The bank has no new status report' });
});

it('a rejected payment says why, and stands with its affiliate again; its memo says it too', async () => {
  const [ann] = endToEnd(run);
  reports = [{ name: 'tuesday.csv', content: csv([ann!.e, 'RJCT', 'AC04']) }];
  expect((await collect()).body).toMatchObject({ failed: 1, settled: 0 });
  const { payments } = await read();
  expect(payments.find((p) => p.affiliate === ann!.a)).toMatchObject({
    state: 'failed',
    reason: 'the account is closed (AC04)',
  });
  expect(s.app.sqlite.prepare("SELECT memo FROM entries WHERE event = 'payment-failed'").pluck().get()).toBe(
    `Payment ${ann!.e}: the account is closed (AC04)`,
  );
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

it('a payment is settled by hand once, and only one that is on its way', async () => {
  const { payments } = await read();
  const byHand = (id: string) =>
    finance.post<Run & Fault>(`/api/v1/payments/${id}/settle`, { reference: 'BANK-77' });
  const failed = payments.find((p) => p.state === 'failed')!;
  expect((await byHand(failed.id)).body.detail).toBe(
    'This payment is failed; only a sent one can be settled by hand',
  );
  const sent = payments.find((p) => p.state === 'sent')!;
  expect((await byHand(sent.id)).status).toBe(200);
  expect((await byHand(sent.id)).body.code).toBe('conflict');
  expect((await byHand('pay_none')).status).toBe(404);
  const after = await read();
  expect(after.payments.find((p) => p.id === sent.id)).toMatchObject({
    state: 'settled',
    reason: 'settled by hand, reference BANK-77',
  });
  // nothing of it is open any more
  expect(after.state).toBe('settled');
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

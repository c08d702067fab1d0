import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { actClock } from '../../src/server/ground/clock';
import type { Clock } from '../../src/server/ground/ports';
import { jobs } from '../../src/server/jobs/jobs';
import { runJob } from '../../src/server/registers/programme/job';
import { clockFromBegin, startServer } from '../helpers/server';
import { ticking } from '../helpers/ticking';

const server = join(import.meta.dirname, '../../src/server');

it('an act has one moment, however deep it reads the clock, also where the clock is moved in it', () => {
  let moment = 0;
  const clock = actClock(
    ticking({ now: () => moment, real: () => moment, advance: (ms) => void (moment += ms) }),
  );
  expect(clock.now()).not.toBe(clock.now());
  const [first, inner, after] = clock.during(() => {
    const begun = clock.now();
    const within = clock.during(() => clock.now());
    clock.advance(1_000);
    return [begun, within, clock.now()];
  });
  expect([inner, after]).toEqual([first, first! + 1_000]);
  // what throws ends the act as well
  expect(() =>
    clock.during(() => {
      throw new Error('no');
    }),
  ).toThrow('no');
  expect(clock.now()).not.toBe(clock.now());
});

/** Where the machine's clock is read, and why it is no act's moment. */
const machine: Record<string, string> = {
  'ground/clock.ts': 'the clock itself',
  'ground/faults.ts': 'when something failed, for whoever looks at the machine',
  'ground/db/ids.ts': 'the order of ids',
  'ground/db/backup.ts': 'the name of a copy, made by a command of its own',
  'track/visits/snippets.ts': 'a script that runs in a buyer’s browser',
};

it('nothing but the clock reads the machine’s, so that every moment is the act’s', () => {
  const found = readdirSync(server, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts'))
    .filter((file) => /\bDate\.now\b|new Date\(\)/.test(readFileSync(join(server, file), 'utf8')));
  expect(found.sort()).toEqual(Object.keys(machine).sort());
});

/** A clock that notes which file of the server read it while no act was held. */
function watching(clock: Clock): { clock: Clock; places: Set<string> } {
  const places = new Set<string>();
  const noted = (read: () => number) => () => {
    const rows = new Error().stack!.split('\n').map((row) => /src\/server\/([\w/.-]+\.ts)/.exec(row)?.[1]);
    const by = rows.find((file) => file && file !== 'ground/clock.ts');
    // an act that begins reads it once, by way of `during`
    const begins = new Error().stack!.includes('during');
    if (by && !begins) places.add(by);
    return read();
  };
  return { clock: { ...clock, now: noted(clock.now), real: noted(clock.real) }, places };
}

/** What is no act: it has no moment of its own to keep. */
const outside: Record<string, string> = {
  'ground/reading/reader.ts': 'hands its moment over with each question; the thread holds it',
  'portal/sessions.ts': 'who is signed in: before the act',
  'registers/access/session.ts': 'who is signed in: before the act',
  'registers/access/links.ts': 'whether a link in a mail still works: before the act',
  'registers/accounts/routes.ts': 'signing in waits for the check of a password',
  'registers/accounts/signin.ts': 'the throttle of signing in, before and after that wait',
  'registers/catalogue/pages.ts': 'a page is looked at over the network, each at its own moment',
  'registers/outbox/delivery.ts': 'each message leaves at its own moment',
  'recruit/prospects/copy.ts': 'pieces of a list that come over the network, each at its own moment',
  'recruit/prospects/events.ts': 'the same of events',
  'track/reports/signature.ts': 'whether a signature is fresh: before the act',
  'track/visits/visits.ts': 'each visit reads it once',
};

it('no use case reads the clock outside an act', async () => {
  const { clock, places } = watching(clockFromBegin());
  const s = await startServer({ clock });
  const owner = await s.as('owner');
  await s.product('WHEEL-1');
  const loam = await s.affiliate('Loam Letters');
  const visit = await s.visit(await loam.link('WHEEL-1'));
  const placedAt = new Date(s.app.clock.now()).toISOString();
  const lines = [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }];
  await s.report('orders', { order: 'Q-1', placedAt, currency: 'EUR', lines, visit });
  await s.report('refunds', { refund: 'R-1', order: 'Q-1', at: placedAt, kind: 'refund', full: true });
  const group = await owner.post<{ id: string; version: number }>('/api/v1/sets', {
    of: 'group',
    name: 'Circle',
    about: '',
  });
  expect(group.status).toBe(200);
  for (const job of jobs) await runJob(s.app, job);
  for (const path of ['today', 'counts', 'orders', 'affiliates', 'ledger', 'payouts', 'coupons', 'creatives'])
    await owner.get(`/api/v1/${path}`);
  await loam.client.get('/api/v1/portal/home');
  await s.close();
  expect([...places].sort()).toEqual(Object.keys(outside).sort());
});

import { beforeAll, describe, expect, it } from 'vitest';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import {
  draft,
  endToEnd,
  finance,
  people,
  prepare,
  s,
  sell,
  status,
  step,
  type Fault,
  type Run,
} from './world';

prepare();

const acts = ['approve', 'send', 'reopen', 'discard', 'deliver'] as const;
type Act = (typeof acts)[number] | 'exclude';

const read = async (run: Run) => (await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body;
const tried = async (run: Run, act: Act) =>
  act === 'exclude'
    ? finance.post<Run & Fault>(`/api/v1/payouts/${run.id}/exclude`, {
        affiliate: people[0]!.id,
        exclude: true,
        version: run.version,
      })
    : step(run, act);

/** What may be done in each state; anything else is refused and changes nothing. */
const allowed: Record<string, readonly Act[]> = {
  draft: ['approve', 'discard', 'exclude'],
  approved: ['send', 'reopen'],
  sent: ['deliver'],
  settled: [],
  discarded: [],
};

/** Tries what the state does not allow. @returns what was refused, with what was said */
async function refusals(run: Run): Promise<[Act, string][]> {
  const before = await read(run);
  const said: [Act, string][] = [];
  for (const act of [...acts, 'exclude'] as const) {
    if (allowed[before.state]!.includes(act)) continue;
    const answer = await tried(before, act);
    expect([answer.status, answer.body.code], `${act} of a run that is ${before.state}`).toEqual([
      409,
      'conflict',
    ]);
    said.push([act, answer.body.detail]);
  }
  expect(await read(run)).toEqual(before);
  return said;
}

describe('a run refuses what its state does not allow, in words, and stays as it is', () => {
  let run: Run;
  beforeAll(async () => {
    await sell(0, '500.00');
    await sell(1, '300.00');
    run = await draft();
  });

  it('as a draft', async () => {
    expect(run.state).toBe('draft');
    const said = await refusals(run);
    expect(said.map(([act]) => act)).toEqual(['send', 'reopen', 'deliver']);
    expect(said.every(([, words]) => words.includes(`Run ${run.number}`))).toBe(true);
  });

  it('approved', async () => {
    run = (await step(run, 'approve')).body;
    expect(run.state).toBe('approved');
    const said = new Map(await refusals(run));
    expect([...said.keys()]).toEqual(['approve', 'discard', 'deliver', 'exclude']);
    expect(said.get('approve')).toContain('cannot become approved');
    expect(said.get('exclude')).toContain('payees can be left out of a draft only');
  });

  it('sent, where nothing of it is taken back any more', async () => {
    run = (await step(run, 'send')).body;
    expect(run.state).toBe('sent');
    const said = new Map(await refusals(run));
    expect([...said.keys()]).toEqual(['approve', 'send', 'reopen', 'discard', 'exclude']);
  });

  it('settled', async () => {
    const lines = endToEnd(run).map(({ e }) => `${e},ACSC,`);
    expect((await status(`end_to_end_id,status,reason\n${lines.join('\n')}\n`)).body.settled).toBe(2);
    run = await read(run);
    expect(run.state).toBe('settled');
    expect((await refusals(run)).length).toBe(6);
  });

  it('discarded', async () => {
    await sell(0, '100.00');
    const other = await draft();
    expect((await step(other, 'discard')).body.state).toBe('discarded');
    expect((await refusals(other)).length).toBe(6);
  });
});

describe('whoever saw the run as it was before', () => {
  it('is told that it has changed since, and what it is now', async () => {
    await sell(1, '200.00');
    const seen = await draft();
    const changed = (await tried(seen, 'exclude')).body;
    expect(changed.version).toBeGreaterThan(seen.version);
    for (const act of ['approve', 'discard'] as const) {
      const answer = await step(seen, act);
      expect([answer.status, answer.body.code], act).toEqual([409, 'stale']);
    }
    expect((await read(seen)).state).toBe('draft');
    await step(changed, 'discard');
  });

  it('cannot approve another sum than the one that is shown', async () => {
    const run = await draft();
    const other = await finance.post<Fault>(`/api/v1/payouts/${run.id}/approve`, {
      version: run.version,
      total: run.total.amount + 1,
    });
    expect(other.status).toBe(409);
    expect((await read(run)).state).toBe('draft');
    await step(run, 'discard');
  });
});

describe('a run that is asked for badly', () => {
  const asked = (body: object) => finance.post<Fault>('/api/v1/payouts', body);
  const faults = async (body: object) => (await asked(body)).body.errors.map((e) => e.pointer);

  it('names the field', async () => {
    expect(await faults({ cutoff: 'tomorrow', minimum: '' })).toEqual(['/cutoff']);
    expect(await faults({ cutoff: '2027-02-30', minimum: '' })).toEqual(['/cutoff']);
    expect(await faults({ cutoff: '2027-03-12', minimum: '10.005' })).toEqual(['/minimum']);
    expect(await faults({ cutoff: '2027-03-12', minimum: '-1.00' })).toEqual(['/minimum']);
    expect(await faults({ cutoff: 'x', minimum: 'y' })).toEqual(['/cutoff', '/minimum']);
  });

  it('is not there, whoever asks for it', async () => {
    for (const act of acts) {
      const body = { version: 1, ...(act === 'approve' ? { total: 0 } : {}) };
      const answer = await finance.post<Fault>(`/api/v1/payouts/run_0000000000/${act}`, body);
      expect([answer.status, answer.body.code], act).toEqual([404, 'not-found']);
    }
  });

  it('leaves every invariant whole', () => {
    expect(brokenInvariants(s.app.sqlite)).toEqual([]);
  });
});

import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { endpoints } from '../../src/contract/index';
import { ProblemOut } from '../../src/contract/shared';
import { ReportAnswer } from '../../src/contract/track/signed-calls';
import { faultsOf } from '../../src/server/ground/http/validate';
import { everyId, type Every } from '../helpers/every';
import { startServer, type TestServer } from '../helpers/server';

let s: TestServer;
let every: Every;
let mine: Awaited<ReturnType<TestServer['affiliate']>>;

beforeAll(async () => {
  s = await startServer();
  every = await everyId(s);
  mine = every.mine;
});
afterAll(() => s.close());

/** What a call cannot do without. */
const asked: Record<string, string> = {
  search: '?q=loam',
  confirmation: '?bought=WHEEL-1',
  'rate-book/ask': '?column=everyone',
  'lines/:order': '?position=0',
};

const reading = endpoints.filter(([, end]) => end.method === 'GET');

describe('every answer is what the contract says', () => {
  it.each(reading)('%s', async (_, end) => {
    const path = every.pathOf(end);
    expect(path).not.toContain(':');
    const client = end.access === 'affiliate' ? mine.client : await s.as('owner');
    const answer = await client.get(
      `${path}${Object.entries(asked).find(([ending]) => end.path.endsWith(`/${ending}`))?.[1] ?? ''}`,
    );
    expect(answer.status, answer.text).toBe(200);
    if (end.media) expect(answer.headers.get('content-type')).toContain(end.media);
    else expect(faultsOf(end.reply, answer.body)).toEqual([]);
  });
  it('so are the answers to reports, and refusals', async () => {
    const at = new Date(s.app.clock.now()).toISOString();
    const order = {
      order: 'Q-9',
      placedAt: at,
      currency: 'EUR',
      lines: [{ product: 'WHEEL-1', quantity: 1, amount: '100.00' }],
    };
    for (const body of [
      order,
      order,
      { ...order, order: 'Q-10', visit: await s.visit(await mine.link('WHEEL-1')) },
    ]) {
      expect(faultsOf(ReportAnswer, (await s.report('orders', body)).body)).toEqual([]);
    }
    expect((await mine.client.get('/docs/errors')).text).toContain('## contradicts');
    for (const refused of [
      await s.report('orders', {}),
      await s.report('orders', order, { 'x-gravenel-key': 'x' }),
      await (await s.as('viewer')).post('/api/v1/products', {}),
      await mine.client.get('/api/v1/products'),
    ]) {
      expect(faultsOf(ProblemOut, refused.body)).toEqual([]);
      expect(refused.headers.get('content-type')).toContain('application/problem+json');
    }
  });
});

describe('the contract', () => {
  it('asks for a key wherever money moves or something is decided', () => {
    const without = endpoints
      .filter(([, e]) => e.method !== 'GET' && Array.isArray(e.access) && !e.once)
      .map(([name]) => name);
    // these are harmless when repeated: the bank knows a file by its id, a status report changes nothing twice, a secret is only shown, a preview changes nothing, a page is only looked at, the same upload is kept once, a password is the same the second time
    expect(without.sort()).toEqual([
      'changeOwnPassword',
      'checkPages',
      'collectStatus',
      'deliverRun',
      'lightenMaterial',
      'previewBulk',
      'previewImport',
      'previewInvite',
      'previewMembers',
      'previewMessage',
      'previewPlaces',
      'readStatusReport',
      'refreshProspects',
      'revealKey',
      'setFile',
      'setLogo',
      'setPicture',
      'uploadMaterial',
      'weighDecision',
    ]);
  });
  it('lets a viewer change nothing', () => {
    // but the own password
    expect(
      endpoints
        .filter(
          ([, e]) =>
            e.method !== 'GET' && Array.isArray(e.access) && (e.access as string[]).includes('viewer'),
        )
        .map(([name]) => name),
    ).toEqual(['changeOwnPassword']);
  });
});

import { XMLParser } from 'fast-xml-parser';
import { beforeEach, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { deliverWaiting } from '../../../src/server/registers/outbox/delivery';
import { draft, endToEnd, finance, people, prepare, s, sell, status, step, type Run } from './world';

prepare();

beforeEach(async () => {
  await sell(0, '500.00');
});
it('a payout run: proposes, leaves out with reasons, and takes no second draft beside it', async () => {
  await sell(1, '20.00');
  await sell(2, '300.00');
  const run = await draft('10.00');
  expect(run.payments.map((p) => [p.name, p.amount.amount])).toEqual([['Ann Ash', 5000]]);
  expect(run.leftOut.map((l) => [l.name, l.why])).toEqual([
    ['Cem Crackle', 'no valid payout details'],
    ['Bob Bisque', '€2.00 is below the minimum of €10.00'],
  ]);
  expect(await draft()).toMatchObject({
    code: 'conflict',
    detail: `Run ${run.number} is still draft; send or discard it first`,
  });
  const without = (
    await finance.post<Run>(`/api/v1/payouts/${run.id}/exclude`, {
      affiliate: people[0]!.id,
      exclude: true,
      version: run.version,
    })
  ).body;
  expect(without.payments).toEqual([]);
  expect(without.leftOut.find((l) => l.byHand)).toMatchObject({
    name: 'Ann Ash',
    amount: { amount: 5000 },
  });
  expect((await step(without, 'approve')).body).toMatchObject({
    code: 'conflict',
    detail: expect.stringContaining('Nobody can be paid'),
  });
  expect((await step(without, 'discard')).body.state).toBe('discarded');
});
interface Rows {
  rows: { name: string; items: number; state: string; reason?: string }[];
  next: string | null;
}
const pageOf = async (run: Run, what: string) =>
  (await finance.get<Rows>(`/api/v1/payouts/${run.id}/${what}`)).body;
const codeOf = async (run: Run, what: string) =>
  (await finance.get<{ code: string }>(`/api/v1/payouts/${run.id}/${what}`)).body.code;
const exclude = async (run: Run, affiliate: string, on: boolean) =>
  (
    await finance.post<Run>(`/api/v1/payouts/${run.id}/exclude`, {
      affiliate,
      exclude: on,
      version: run.version,
    })
  ).body;

it('a payout run: comes by pages, by name, and is searched', async () => {
  await sell(1, '20.00');
  await sell(2, '300.00');
  const run = await draft('1.00');
  const page = (what: string) => pageOf(run, what);
  const first = await page('payments?limit=1');
  expect([first.rows.map((r) => r.name), first.rows[0]!.items > 0, first.next !== null]).toEqual([
    ['Ann Ash'],
    true,
    true,
  ]);
  const second = await page(`payments?limit=1&after=${first.next}`);
  expect([second.rows.map((r) => r.name), second.next]).toEqual([['Bob Bisque'], null]);
  expect((await page('payments?q=bisq')).rows.map((r) => r.name)).toEqual(['Bob Bisque']);
  expect((await page('left-out')).rows.map((r) => [r.name, r.reason])).toEqual([
    ['Cem Crackle', 'no-details'],
  ]);
  expect((await page('left-out?reason=blocked')).rows).toEqual([]);
  await step(run, 'discard');
});
it('a payout run: has pages of its draft and pages of what was approved, and neither begins the other', async () => {
  await sell(1, '20.00');
  await sell(2, '300.00');
  const run = await draft('1.00');
  const page = (what: string) => pageOf(run, what);
  const first = await page('payments?limit=1');
  // who was last on a page is left out meanwhile: the next page begins where it stood
  const without = await exclude(run, people[0]!.id, true);
  expect((await page('payments?limit=1')).rows.map((r) => r.name)).toEqual(['Bob Bisque']);
  expect((await page('left-out')).rows.map((r) => r.reason)).toEqual(['by-hand', 'no-details']);
  const again = await exclude(without, people[0]!.id, false);
  const approved = (await step(again, 'approve')).body;
  const stored = await page('payments?limit=1');
  expect([
    stored.rows.map((r) => [r.name, r.items === first.rows[0]!.items, r.state]),
    (await page(`payments?limit=1&after=${stored.next}`)).rows.map((r) => r.name),
  ]).toEqual([[['Ann Ash', true, 'in-run']], ['Bob Bisque']]);
  expect([
    (await page('payments?state=failed')).rows,
    (await page('payments?q=GVN-')).rows.length,
    (await page('left-out')).rows,
  ]).toEqual([[], 2, []]);
  // a page of the draft is none of what was approved, and the other way round: nobody is shown twice
  const backward = Buffer.from(JSON.stringify([-1, 'x'])).toString('base64url');
  for (const cursor of ['nonsense', first.next, backward])
    expect(await codeOf(run, `payments?after=${cursor}`), String(cursor)).toBe('invalid');
  const reopened = (await step(approved, 'reopen')).body;
  expect(await codeOf(run, `payments?after=${stored.next}`)).toBe('invalid');
  expect((await page('payments?state=sent')).rows).toEqual([]);
  await step(reopened, 'discard');
});
it('a payout run: is not approved with another total than the one that was looked at', async () => {
  const late = await sell(0, '100.00');
  const run = await draft();
  await sell(0, '50.00'); // cleared after the draft was made: waits for the next run
  expect((await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body.total).toEqual(run.total);
  await s.report('refunds', {
    refund: `R-${late}`,
    order: late,
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'refund',
    full: true,
  });
  expect((await step(run, 'approve')).body).toMatchObject({
    code: 'stale',
    detail: expect.stringMatching(/^The total is €[\d.,]+ now, no longer €[\d.,]+: look/),
  });
  expect((await step((await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body, 'approve')).body.state).toBe(
    'approved',
  );
  const approved = (await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body;
  await step((await step(approved, 'reopen')).body, 'discard');
});
it('a payout run: goes back to draft before it is sent, and is never sent twice', async () => {
  const run = await draft();
  const approved = (await step(run, 'approve')).body;
  const back = (await step(approved, 'reopen')).body;
  expect(back.state).toBe('draft');
  const again = (await step(back, 'approve')).body;
  const [one, two] = await Promise.all([step(again, 'send'), step(again, 'send')]);
  expect([one.status, two.status].sort()).toEqual([200, 409]);
  expect((await step(again, 'reopen')).body).toMatchObject({ code: 'conflict' });
  const rows = endToEnd(again);
  expect((await status(`end_to_end_id;status\n${rows.map((r) => `${r.e};ACSC`).join('\n')}`)).body.said).toBe(
    `${rows.length} ${rows.length === 1 ? 'line' : 'lines'} read: ${rows.length} settled`,
  );
});
it('a payout run: writes a pain.001.001.09 whose sums are those of its lines', async () => {
  await sell(1, '333.30');
  const run = (await step((await step(await draft(), 'approve')).body, 'send')).body;
  const xml = (await finance.get(`/api/v1/payouts/${run.id}/file.xml`)).text;
  expect(xml).toContain('urn:iso:std:iso:20022:tech:xsd:pain.001.001.09');
  const file = (
    new XMLParser({ parseTagValue: false, isArray: (n) => n === 'CdtTrfTxInf' }).parse(xml) as {
      Document: {
        CstmrCdtTrfInitn: {
          GrpHdr: Record<string, string>;
          PmtInf: { CdtTrfTxInf: { Amt: { InstdAmt: string }; PmtId: { EndToEndId: string } }[] };
        };
      };
    }
  ).Document.CstmrCdtTrfInitn;
  const lines = file.PmtInf.CdtTrfTxInf;
  expect(file.GrpHdr.NbOfTxs).toBe(String(run.payments.length));
  expect(file.GrpHdr.CtrlSum).toBe((run.total.amount / 100).toFixed(2));
  expect(lines.reduce((sum, l) => sum + Math.round(Number(l.Amt.InstdAmt) * 100), 0)).toBe(run.total.amount);
  expect(new Set(lines.map((l) => l.PmtId.EndToEndId)).size).toBe(lines.length);
  expect((await (await s.as('viewer')).get(`/api/v1/payouts/${run.id}/file.xml`)).status).toBe(403);
  const csv = (await finance.get(`/api/v1/payouts/${run.id}/file.csv`)).text.trim().split('\r\n');
  expect(csv).toHaveLength(run.payments.length + 1);
  await status(
    `end_to_end_id,status\n${endToEnd(run)
      .map((r) => `${r.e},ACSC`)
      .join('\n')}`,
  );
});
it('a payout run: settles, fails and returns by status report; a repeat changes nothing', async () => {
  await sell(1, '200.00');
  const run = (await step((await step(await draft(), 'approve')).body, 'send')).body;
  const [first, second] = endToEnd(run);
  const report = `end_to_end_id,status,reason\n${first!.e},ACSC,\n${second!.e},RJCT,AC04\nGVN-NOBODY,ACSC,\n`;
  expect((await status(report)).body).toMatchObject({
    settled: 1,
    failed: 1,
    unknown: ['GVN-NOBODY: no sent payment has this reference'],
  });
  expect((await status(report)).body).toMatchObject({ settled: 0, failed: 0, unchanged: 2 });
  const after = (await finance.get<Run>(`/api/v1/payouts/${run.id}`)).body;
  expect(after.state).toBe('settled');
  expect(after.payments.map((p) => [p.state, p.reason]).sort()).toEqual([
    ['failed', 'the account is closed (AC04)'],
    ['settled', null],
  ]);
  expect((await status(`end_to_end_id,status,reason\n${first!.e},RJCT,BE01\n`)).body).toMatchObject({
    returned: 1,
  });
  await deliverWaiting(s.app);
  const mails = (
    await new Client(s.address).get<{ subject: string }[]>(`${s.standins}/mailroom/messages.json`)
  ).body.map((m) => m.subject);
  expect(
    mails.some((m) => /was returned/.test(m)) &&
      mails.some((m) => /has been paid/.test(m)) &&
      mails.some((m) => /is on its way/.test(m)),
  ).toBe(true);
});
it('a payout run: the statement’s lines sum to the payment', async () => {
  await sell(0, '77.77');
  const run = (await step((await step(await draft(), 'approve')).body, 'send')).body;
  const mine = run.payments.find((p) => p.name === 'Ann Ash')!;
  const lines = (await people[0]!.client.get(`/api/v1/portal/payments/${mine.id}/statement.csv`)).text
    .trim()
    .split('\r\n')
    .slice(1)
    .map((l) => Math.round(Number(l.split(',')[4]) * 100));
  expect(lines.slice(0, -1).reduce((a, b) => a + b, 0)).toBe(lines.at(-1));
  expect(lines.at(-1)).toBe(mine.amount.amount);
  expect(
    (await finance.post<Run>(`/api/v1/payments/${mine.id}/settle`, { reference: 'BK-1' })).body.payments.find(
      (p) => p.id === mine.id,
    )!.state,
  ).toBe('settled');
  await status(
    `end_to_end_id,status\n${endToEnd(run)
      .map((r) => `${r.e},ACSC`)
      .join('\n')}`,
  );
});
it('a payout run: a refund after payment is netted in the next run', async () => {
  const reference = await sell(0, '400.00');
  const run = (await step((await step(await draft(), 'approve')).body, 'send')).body;
  await status(
    `end_to_end_id,status\n${endToEnd(run)
      .map((r) => `${r.e},ACSC`)
      .join('\n')}`,
  );
  await s.report('refunds', {
    refund: `R-${reference}`,
    order: reference,
    at: new Date(s.app.clock.now()).toISOString(),
    kind: 'chargeback',
    full: true,
  });
  const blocked = await draft();
  expect(blocked.leftOut.find((l) => l.name === 'Ann Ash')).toMatchObject({
    amount: { amount: -4000 },
    why: 'the balance is −€40.00, to be netted against coming commissions',
  });
  await step(blocked, 'discard');
  await sell(0, '600.00');
  const next = await draft();
  expect(next.payments.find((p) => p.name === 'Ann Ash')!.amount.amount).toBe(2000);
  await step(next, 'discard');
});

it('leaves every invariant whole', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

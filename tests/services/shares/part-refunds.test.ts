import { beforeAll, beforeEach, expect, it } from 'vitest';
import type { Client } from '../../../scripts/journey/client';
import { brokenInvariants } from '../../../src/server/ledger/invariants';
import { clearDue } from '../../../src/server/ledger/journal';
import { ada, bo, course, mara, now, owner, prepare, s, sell, shown, type Fault } from './world';

prepare();

let finance: Client;
beforeAll(async () => {
  finance = await s.as('finance');
  await owner.put(`/api/v1/products/${course}/co-owners`, {
    owners: [{ payee: ada.id, percent: '25' }],
    expects: [],
  });
  await owner.put(`/api/v1/affiliates/${bo.id}/referral`, {
    by: mara.id,
    percent: '10',
    of: 'commission',
    months: '',
  });
});

type Sold = Awaited<ReturnType<typeof sell>>;
let sold: Sold;
let soldAt = '';
let refunds = 0;
/** Gives so much of the sale back. @returns the status it is answered with */
async function giveBack(amount: string, more: object = {}): Promise<number> {
  refunds += 1;
  const answer = await s.report<Fault>('refunds', {
    refund: `P-${refunds}`,
    order: sold.reference,
    at: soldAt,
    kind: 'refund',
    lines: [{ product: 'COURSE', amount }],
    ...more,
  });
  return answer.status;
}
/** What is left: of the commission, then of the shares as they are listed. */
async function left(): Promise<string[]> {
  const sheet = await sold.sheet();
  return [`commission ${sheet.working.left.amount}`, ...shown(sheet).sort()];
}

// 30 % of 100.00 = 30.00; a tenth of it 3.00; a quarter of the 67.00 that are left 16.75
beforeEach(async () => {
  sold = await sell('100.00', bo);
  soldAt = now();
});

it('begins with the commission, a tenth of it for who brought in, a quarter of the rest for the co-owner', async () => {
  expect(await left()).toEqual(['commission 3000', 'co-owner Ada Birkeland 1675', 'referral Mara 300']);
});

it('a part refund leaves each in proportion to the value that is left', async () => {
  expect(await giveBack('40.00')).toBe(201);
  expect(await left()).toEqual(['commission 1800', 'co-owner Ada Birkeland 1005', 'referral Mara 180']);
});

it('refunds in odd parts leave what one refund of their sum leaves, to the cent', async () => {
  for (const part of ['0.01', '33.33', '6.66']) expect(await giveBack(part)).toBe(201);
  expect(await left()).toEqual(['commission 1800', 'co-owner Ada Birkeland 1005', 'referral Mara 180']);
});

it('the last part leaves nothing, and nothing more can be given back', async () => {
  expect(await giveBack('99.99')).toBe(201);
  expect(await left()).toEqual(['commission 0', 'co-owner Ada Birkeland 0', 'referral Mara 0']);
  expect(await giveBack('0.02')).toBe(422);
  expect(await giveBack('0.01')).toBe(201);
  expect(await left()).toEqual(['commission 0', 'co-owner Ada Birkeland 0', 'referral Mara 0']);
});

it('a repeat of the same refund takes nothing a second time', async () => {
  await giveBack('40.00');
  const once = await left();
  refunds -= 1;
  expect(await giveBack('40.00')).toBe(200);
  expect(await left()).toEqual(once);
});

it('a refund of more than the line is worth is refused whole', async () => {
  const before = await left();
  expect(await giveBack('100.01')).toBe(422);
  expect(await left()).toEqual(before);
});

it('a commission corrected by a person keeps its correction, the shares know nothing of it', async () => {
  const { commission } = await sold.sheet();
  await finance.post(`/api/v1/commissions/${commission}/correct`, { difference: '5.00', reason: 'Agreed' });
  expect(await left()).toEqual(['commission 3500', 'co-owner Ada Birkeland 1675', 'referral Mara 300']);
  await giveBack('40.00');
  expect(await left()).toEqual(['commission 2300', 'co-owner Ada Birkeland 1005', 'referral Mara 180']);
  await giveBack('60.00');
  expect(await left()).toEqual(['commission 0', 'co-owner Ada Birkeland 0', 'referral Mara 0']);
});

it('a declined commission takes the referral share with it; the co-owner’s goes on shrinking', async () => {
  const { commission } = await sold.sheet();
  await finance.post(`/api/v1/commissions/${commission}/decline`, { reason: 'Own purchase' });
  expect(await left()).toEqual(['commission 0', 'co-owner Ada Birkeland 1675', 'referral Mara 0']);
  await giveBack('40.00');
  expect(await left()).toEqual(['commission 0', 'co-owner Ada Birkeland 1005', 'referral Mara 0']);
});

it('what has cleared is taken back as well, and what was declined stays so', async () => {
  s.days(60);
  clearDue(s.app);
  const cleared = (await sold.sheet()).shares.map((share) => share.state);
  expect(cleared).toEqual(['cleared', 'cleared']);
  const { shares } = await sold.sheet();
  const mine = shares.find((share) => share.kind === 'co-owner')!;
  await finance.post(`/api/v1/commissions/${mine.id}/decline`, { reason: 'Settled by hand' });
  await giveBack('50.00');
  expect(await left()).toEqual(['commission 1500', 'co-owner Ada Birkeland 0', 'referral Mara 150']);
});

it('leaves every invariant whole', () => {
  expect(brokenInvariants(s.app.sqlite)).toEqual([]);
});

import { beforeEach, describe, expect, it } from 'vitest';
import { Client } from '../../../scripts/journey/client';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { ProductOut } from '../../../src/contract/setup/products';
import type { readTimeline } from '../../../src/contract/setup/rate-book';
import type { readCoOwners, readReferral } from '../../../src/contract/setup/shares';
import { formOf } from '../../helpers/product-form';
import { ada, bo, course, mara, owner, prepare, s, sell, shown, type Fault } from './world';

prepare();

const day = 86_400_000;
type Referral = ReplyOf<typeof readReferral>;
type Owners = ReplyOf<typeof readCoOwners>;
const referral = (fields: object) =>
  owner.put<Referral>(`/api/v1/affiliates/${mara.id}/referral`, { of: 'commission', months: '', ...fields });
const owners = async (...list: [string, string][]) => {
  const path = `/api/v1/products/${course}/co-owners`;
  const { rows } = (await owner.get<Owners>(path)).body;
  return owner.put<Owners>(path, {
    owners: list.map(([payee, percent]) => ({ payee, percent })),
    expects: rows.map(({ payee, percent }) => ({ payee, percent })),
  });
};
const shares = async () => shown(await (await sell('100.00', mara)).sheet());
const percents = ({ rows }: Owners) => rows.map((o) => `${o.name} ${o.percent}`);

describe('a referral share', () => {
  beforeEach(async () => {
    s.days(40);
    await referral({ by: null, percent: '' });
    s.days(40);
    await referral({ by: bo.id, percent: '20', months: '24' });
  });

  it.each([
    ['a lower percentage', { percent: '10', months: '24' }, ['referral Bo 300']],
    ['a shorter time', { percent: '20', months: '6' }, ['referral Bo 600']],
    ['nobody', { by: null, percent: '' }, []],
  ])('%s waits for the notice', async (_, fields, after) => {
    const { body } = await referral({ by: bo.id, ...fields });
    expect([body.by?.percent, body.next!.from > s.app.clock.now() + 13 * day]).toEqual(['20', true]);
    expect(await shares()).toEqual(['referral Bo 600']);
    s.days(15);
    expect(await shares()).toEqual(after);
  });

  it('of the sale instead of the commission is judged by what sales pay', async () => {
    // 20 % of 30 % is 6 % of the sale
    expect((await referral({ by: bo.id, percent: '5', of: 'sale' })).body.next).not.toBeNull();
    const raised = (await referral({ by: bo.id, percent: '7', of: 'sale' })).body;
    expect([raised.next, raised.by?.percent]).toEqual([null, '7']);
  });

  it('what was in force is chosen again: what waits is withdrawn', async () => {
    await referral({ by: bo.id, percent: '10', months: '24' });
    const { body } = await referral({ by: bo.id, percent: '20', months: '24' });
    expect(body.next).toBeNull();
    s.days(15);
    expect(await shares()).toEqual(['referral Bo 600']);
  });

  it('what waits stands on the timeline, and is undone there', async () => {
    await referral({ by: bo.id, percent: '10', months: '24' });
    const coming = (await owner.get<ReplyOf<typeof readTimeline>>('/api/v1/timeline?state=coming')).body.rows;
    expect(coming.map((r) => [r.kind, r.undoes])).toEqual([['referral', 'change']]);
    expect((await owner.post(`/api/v1/timeline/${coming[0]!.id}/undo`)).status).toBe(200);
    s.days(15);
    expect(await shares()).toEqual(['referral Bo 600']);
  });
});

describe('a co-owner’s share', () => {
  beforeEach(async () => {
    s.days(40);
    await referral({ by: null, percent: '' });
    s.days(40);
    await owners([ada.id, '60'], [bo.id, '40']);
    s.days(40);
  });

  it('that is lowered waits for the notice; what another gets more begins at once where there is room', async () => {
    await owners([ada.id, '50'], [bo.id, '40']);
    const { body } = await owners([ada.id, '30'], [bo.id, '40']);
    expect(percents(body)).toEqual(['Ada Birkeland 60', 'Bo 40']);
    expect(body.coming.map((o) => o.percent)).toEqual(['30']);
    expect(await shares()).toEqual(['co-owner Ada Birkeland 4200', 'co-owner Bo 2800']);
    s.days(15);
    expect(await shares()).toEqual(
      expect.arrayContaining(['co-owner Ada Birkeland 2100', 'co-owner Bo 2800']),
    );
    const room = (await owners([ada.id, '20'], [bo.id, '60'])).body;
    expect(percents(room).sort()).toEqual(['Ada Birkeland 30', 'Bo 60']);
  });

  it('for which there is no room before waits as well, and nobody shares more than the whole', async () => {
    const { body } = await owners([ada.id, '30'], [bo.id, '70']);
    expect(percents(body)).toEqual(['Ada Birkeland 60', 'Bo 40']);
    expect(await shares()).toEqual(['co-owner Ada Birkeland 4200', 'co-owner Bo 2800']);
    s.days(15);
    expect((await shares()).sort()).toEqual(['co-owner Ada Birkeland 2100', 'co-owner Bo 4900']);
  });

  it('that is taken away runs until the notice has ended; chosen again it runs on', async () => {
    expect((await owners([bo.id, '40'])).body.rows.map((o) => o.until !== null)).toEqual([true, false]);
    await owners([ada.id, '60'], [bo.id, '40']);
    s.days(15);
    expect(await shares()).toEqual(['co-owner Ada Birkeland 4200', 'co-owner Bo 2800']);
  });
});

describe('a product that affiliates may not promote any more', () => {
  let link: string;
  const edit = async (fields: object) => {
    const path = `/api/v1/products/${course}`;
    const form = formOf((await owner.get<ProductOut>(path)).body);
    return owner.put<ProductOut>(path, { ...form, ...fields });
  };
  const earns = async () => {
    // a link that was taken while it was open
    const { reference } = await sell('100.00', { link: () => Promise.resolve(link) });
    return s.app.sqlite
      .prepare<[string], number>(
        "SELECT coalesce(sum(c.granted), 0) FROM commissions c JOIN orders o ON o.id = c.order_id WHERE o.reference = ? AND c.kind = 'commission'",
      )
      .pluck()
      .get(reference);
  };

  it('pays until the notice has ended, and takes on nobody from now on', async () => {
    link = await mara.link('COURSE');
    await owners();
    s.days(40);
    const { status, body } = await edit({ recruiting: 'none' });
    expect([status, body.closedFrom! > s.app.clock.now() + 13 * day]).toEqual([200, true]);
    const applied = await new Client(s.address).post<Fault>('/api/v1/join', {
      ...{ name: 'Late', email: 'late@late.example', country: 'PT', address: 'Kiln Lane 4' },
      ...{ sites: ['late.example'], channels: 'blog', note: 'A note.', product: 'COURSE', policy: true },
    });
    expect([applied.status, applied.body.errors?.map((e) => e.pointer)]).toEqual([422, ['/product']]);
    const copy = (await owner.post<ProductOut>(`/api/v1/products/${course}/copy`)).body;
    expect([copy.recruiting, copy.closedFrom]).toEqual(['none', null]);
    expect(await earns()).toBeGreaterThan(0);
    s.days(15);
    expect(await earns()).toBe(0);
    // opened again it pays at once
    expect((await edit({ recruiting: 'reviewed' })).body.closedFrom).toBeNull();
    expect(await earns()).toBeGreaterThan(0);
  });
});

it('a shorter notice takes effect when the present one has ended, and a cut inside it is refused until then', async () => {
  type Settings = {
    version: number;
    noticeWeeks: number;
    noticeKept: { weeks: number; until: number } | null;
  };
  const settings = async () => (await owner.get<Settings & Record<string, unknown>>('/api/v1/settings')).body;
  const notice = async (weeks: number) => {
    const { version, lowEarning, feePercent, feeFixed, referralPercent, referralOf, referralMonths } =
      await settings();
    const body = { version, lowEarning, feePercent, feeFixed, referralPercent, referralOf, referralMonths };
    const saved = await owner.put<Fault>('/api/v1/settings/terms', { ...body, noticeWeeks: weeks });
    expect(saved.status, saved.text).toBe(200);
    return settings();
  };
  expect((await notice(4)).noticeKept).toBeNull();
  const kept = (await notice(1)).noticeKept!;
  expect([kept.weeks, kept.until > s.app.clock.now() + 27 * day]).toEqual([4, true]);
  // shortening it again changes nothing, a longer one counts at once
  expect((await notice(1)).noticeKept).toEqual(kept);
  await referral({ by: bo.id, percent: '20', months: '24' });
  const { next } = (await referral({ by: bo.id, percent: '10', months: '24' })).body;
  expect(next!.from).toBeGreaterThan(s.app.clock.now() + 27 * day);
  s.days(29);
  expect((await settings()).noticeKept).toBeNull();
  const soon = (await referral({ by: bo.id, percent: '5', months: '24' })).body.next!;
  expect(soon.from).toBeLessThan(s.app.clock.now() + 8 * day);
});

import { describe, expect, it } from 'vitest';
import { Client as Visitor } from '../../../scripts/journey/client';
import type { ReplyOf } from '../../../src/contract/endpoint';
import type { readJoinPage } from '../../../src/contract/recruit/applications';
import type { readResources } from '../../../src/contract/recruit/offers';
import type { ProductOut } from '../../../src/contract/setup/products';
import { outside } from '../../../src/server/jobs/outside';
import { takePartners } from '../../../src/server/recruit/prospects/copy';
import { partnerAt } from '../../../src/standins/partners';
import { formOf } from '../../helpers/product-form';
import { bob, mara, owner, prepare, s, wheel, type Fault } from './world';

prepare();

interface Offer {
  id: string;
  slug: string;
  version: number;
  entry: string;
  fault: string | null;
  words: { from: string; text: string }[];
  live: boolean;
}
const fields = {
  headline: 'A wheel for the table',
  about: 'For {price WHEEL-1}.',
  benefits: ['Light'],
  language: 'en',
  category: 'Crafts and studio supplies',
};
const read = async () => (await owner.get<{ rows: Offer[] }>('/api/v1/offers')).body.rows[0]!;
it('offer pages: say what is paid now, to everybody once they are open', async () => {
  const made = (await owner.post<Offer & Fault>('/api/v1/offers', { ...fields, products: [wheel] })).body;
  expect(made).toMatchObject({ slug: 'a-wheel-for-the-table', live: false });
  const visitor = new Visitor(s.address);
  expect((await visitor.get(`/api/v1/offer/${made.slug}`)).status).toBe(404);
  expect((await owner.get<{ live: boolean }>(`/api/v1/offer/${made.slug}`)).body.live).toBe(false);
  await owner.post(`/api/v1/offers/${made.id}/live`, { on: true, version: made.version });
  expect((await visitor.get(`/api/v1/offer/${made.slug}`)).body).toMatchObject({
    about: 'For €100.00.',
    products: [{ code: 'WHEEL-1', reward: '12 %', epc: null }],
  });
  expect((await owner.post<Offer>('/api/v1/offers', { ...fields, products: [wheel] })).body.slug).toBe(
    'a-wheel-for-the-table-2',
  );
  const at = async (more: object) =>
    (await owner.post<Fault>('/api/v1/offers', { ...fields, products: [wheel], ...more })).body.errors.map(
      (e) => e.pointer,
    );
  expect([
    await at({ about: '{price X-9}' }),
    await at({ category: 'Nonsense' }),
    await at({ products: ['prd_nothere00'] }),
    await at({ headline: ' ' }),
  ]).toEqual([['/about'], ['/category'], ['/products'], ['/headline']]);
});
it('offer pages: go to the catalogue’s reviewer, who asks, is answered in place, and lists; each step is told', async () => {
  const { id } = await read();
  expect((await owner.post<Offer>(`/api/v1/offers/${id}/submit`)).body.entry).toBe('submitted');
  expect((await owner.post<Fault>(`/api/v1/offers/${id}/submit`)).body.code).toBe('conflict');
  takePartners(s.app, [partnerAt(0)]);
  s.app.sqlite.exec('UPDATE registry_sync SET done_at = 9e15');
  await outside(s.app, true);
  expect((await read()).fault).toBeNull();
  s.days(2);
  await outside(s.app, true);
  expect(await read()).toMatchObject({ entry: 'question', words: [{ from: 'reviewer' }] });
  await owner.post(`/api/v1/offers/${id}/answer`, { text: 'All of Europe, and we pay for returns.' });
  await outside(s.app, true);
  s.days(3);
  await outside(s.app, true);
  expect(await read()).toMatchObject({
    entry: 'listed',
    words: [{ from: 'reviewer' }, { from: 'merchant' }, { from: 'reviewer' }],
  });
  expect(
    s.app.sqlite
      .prepare(
        "SELECT subject FROM messages WHERE kind = 'entry' AND to_address = 'owner@quernstone.example' ORDER BY id",
      )
      .pluck()
      .all(),
  ).toEqual([
    'The catalogue asks about A wheel for the table',
    'Listed in the catalogue: A wheel for the table',
  ]);
  const others = (
    await owner.get<{ rows: { own: boolean; ratePpm: number }[]; rate: { place: number; of: number } }>(
      `/api/v1/offers/${id}/others`,
    )
  ).body;
  expect(others.rows.find((r) => r.own)!.ratePpm).toBe(120_000);
  expect(others.rate).toEqual({
    place: 1 + others.rows.filter((r) => !r.own && r.ratePpm > 120_000).length,
    of: others.rows.length,
  });
});
it('offer pages: and news are among what an affiliate works with, with its own link', async () => {
  const notice = (
    await owner.post<{ id: string }>('/api/v1/notices', {
      kind: 'news',
      title: 'Back',
      body: 'You earn {rate WHEEL-1}.',
      product: wheel,
    })
  ).body;
  const resources = async () =>
    (
      await bob.client.get<{
        notices: { body: string }[];
        offers: { products: { link: string | null }[] }[];
      }>('/api/v1/portal/resources')
    ).body;
  expect(await resources()).toMatchObject({
    notices: [{ body: 'You earn 12 %.' }],
    offers: [{ products: [{ link: await bob.link('WHEEL-1') }] }],
  });
  await owner.post(`/api/v1/notices/${notice.id}/remove`, { on: true });
  expect((await resources()).notices).toEqual([]);
  await owner.post(`/api/v1/notices/${notice.id}/remove`, { on: false });
  expect((await resources()).notices).toHaveLength(1);
});

describe('looking as an affiliate', () => {
  it('shows staff the portal of one, reading only', async () => {
    const as = { 'x-gravenel-as': bob.id };
    const viewer = await s.as('viewer');
    expect((await viewer.send('GET', '/api/v1/portal/home', undefined, as)).status).toBe(200);
    expect(
      (await viewer.send<{ person: { name: string } }>('GET', '/api/v1/portal/session', undefined, as)).body
        .person.name,
    ).toBe('Bob Bisque');
    // an account number stays hidden from staff
    expect(
      (await viewer.send<{ iban: string }>('GET', '/api/v1/portal/payout-details', undefined, as)).body.iban,
    ).toBe('GB33 … 5555');
    expect((await owner.send('PUT', '/api/v1/portal/letters', { on: false }, as)).status).toBe(403);
    expect(
      (await owner.send('GET', '/api/v1/portal/home', undefined, { 'x-gravenel-as': 'aff_nothere00' }))
        .status,
    ).toBe(404);
    // it is nothing to those who are not of the staff
    expect((await mara.client.send('GET', '/api/v1/portal/home', undefined, as)).status).toBe(401);
    expect((await new Visitor(s.address).send('GET', '/api/v1/portal/home', undefined, as)).status).toBe(401);
  });
});
it('offer pages and the join page: say what renewals pay, and that a closed product cannot be promoted', async () => {
  const visitor = new Visitor(s.address);
  const box = { kind: 'recurring', price: '24.00', renewalPrice: '24.00', renewals: '5', trialDays: 0 };
  const rates = { reward: '50', renewalRewardKind: 'percent', renewalReward: '10' };
  const product = await s.product('BOX-1', { ...box, ...rates });
  const page = { ...fields, headline: 'A box a month', about: 'Glazes.', products: [product] };
  const made = (await owner.post<Offer>('/api/v1/offers', page)).body;
  await owner.post(`/api/v1/offers/${made.id}/live`, { on: true, version: made.version });
  const earns = { reward: '50 %', renewals: '10 %' };
  const offer = async () => (await visitor.get(`/api/v1/offer/${made.slug}`)).body;
  expect(await offer()).toMatchObject({ products: [earns] });
  const joining = await visitor.get<ReplyOf<typeof readJoinPage>>('/api/v1/join');
  expect(joining.body.products.find((p) => p.code === 'BOX-1')).toMatchObject(earns);
  const mine = await mara.client.get<ReplyOf<typeof readResources>>('/api/v1/portal/resources');
  expect(mine.body.products.find((p) => p.code === 'BOX-1')).toMatchObject(earns);
  const form = formOf((await owner.get<ProductOut>(`/api/v1/products/${product}`)).body);
  expect((await owner.put(`/api/v1/products/${product}`, { ...form, recruiting: 'none' })).status).toBe(200);
  s.days(15);
  expect(await offer()).toMatchObject({ products: [{ reward: '', renewals: '' }] });
});
